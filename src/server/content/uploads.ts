import { randomUUID } from 'node:crypto'
import { createWriteStream } from 'node:fs'
import { mkdir, readdir, rm, stat } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Transform } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import type { FastifyRequest } from 'fastify'
import { KelboError } from '../../core/base/messages/collector.ts'
import type { SpooledFile } from './file-store.ts'
import { createPacker } from './pack-content.ts'

/** Bytes of one uploaded file, unless KELBO_FILE_LIMIT says otherwise. */
export const FILE_LIMIT_DEFAULT = 4 * 2 ** 30
export const fileLimit = (): number => Number(process.env.KELBO_FILE_LIMIT ?? FILE_LIMIT_DEFAULT)

export interface Upload {
  readonly files: readonly SpooledFile[]
  readonly fields: Readonly<Record<string, string>>
}

/** A name without folders or control characters; the bytes never touch a path that a user names. */
const safeName = (name: string): string =>
  (name.replace(/\\/g, '/').split('/').pop() ?? '').replace(/[\u0000-\u001f\u007f]/g, '').slice(0, 200) ||
  'file'

/** How folders of uploads are called, before the number of the process that they belong to. */
const FOLDERS = 'kelbo-upload-'

/** Removes folders of uploads whose process was ended so that it could not. @returns how many. */
export async function sweepUploads(): Promise<number> {
  let swept = 0
  for (const name of await readdir(tmpdir())) {
    const match = name.startsWith(FOLDERS) && /^(\d+)-/.exec(name.slice(FOLDERS.length))
    if (!match || Number(match[1]) === process.pid || isAlive(Number(match[1]))) continue
    const path = join(tmpdir(), name)
    if ((await stat(path).catch(() => null))?.uid !== process.getuid?.()) continue
    await rm(path, { recursive: true, force: true })
    swept++
  }
  return swept
}

function isAlive(processId: number): boolean {
  try {
    process.kill(processId, 0)
    return true
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM'
  }
}

/**
 * Streams a request's files to a folder of their own, hashing and packing them as they pass, hands them to `use`, and
 * removes the folder whatever happens.
 */
export async function withUpload<Result>(
  request: FastifyRequest,
  use: (upload: Upload) => Promise<Result>,
): Promise<Result> {
  const folder = join(tmpdir(), `${FOLDERS}${process.pid}-${randomUUID()}`)
  await mkdir(folder, { mode: 0o700 })
  try {
    const files: SpooledFile[] = []
    const fields: Record<string, string> = {}
    for await (const part of request.parts()) {
      if (part.type === 'field') {
        if (typeof part.value === 'string') fields[part.fieldname] = part.value
        continue
      }
      const path = join(folder, String(files.length))
      const packer = createPacker()
      await pipeline(
        part.file,
        new Transform({
          transform(chunk: Buffer, _encoding, done) {
            packer.add(chunk).then(() => done(null, chunk), done)
          },
        }),
        createWriteStream(path, { mode: 0o600 }),
      )
      if (part.file.truncated)
        throw new KelboError(
          'file.too-large',
          { limit: `${Math.round(fileLimit() / 2 ** 20)} MB` },
          safeName(part.filename),
        )
      files.push({ name: safeName(part.filename), path, content: await packer.end() })
    }
    return await use({ files, fields })
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}
