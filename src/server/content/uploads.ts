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
import { soundFileName, soundText } from '../plugins/sound-text.ts'
import { createPacker } from './pack-content.ts'

/** Bytes of one uploaded file, unless KELBO_FILE_LIMIT says otherwise. */
export const FILE_LIMIT_DEFAULT = 4 * 2 ** 30
export const fileLimit = (): number => Number(process.env.KELBO_FILE_LIMIT ?? FILE_LIMIT_DEFAULT)

export interface Upload {
  readonly files: readonly SpooledFile[]
  readonly fields: Readonly<Record<string, string>>
}

/** Bytes of all files of one request, unless KELBO_REQUEST_LIMIT says otherwise. */
const REQUEST_LIMIT_DEFAULT = 6 * 2 ** 30
const requestLimit = (): number => Number(process.env.KELBO_REQUEST_LIMIT ?? REQUEST_LIMIT_DEFAULT)
export const MOST_FILES = 500

/** Milliseconds without a byte after which an upload is given up, unless KELBO_UPLOAD_PATIENCE says otherwise. */
const patience = (): number => Number(process.env.KELBO_UPLOAD_PATIENCE ?? 120) * 1000

const megabytes = (bytes: number): string => `${Math.round(bytes / 2 ** 20)} MB`

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
  let received = 0
  const stalled = setTimeout(
    () => request.raw.destroy(new KelboError('upload.stalled', { seconds: patience() / 1000 })),
    patience(),
  )
  try {
    const files: SpooledFile[] = []
    const fields: Record<string, string> = {}
    for await (const part of request.parts()) {
      if (part.type === 'field') {
        if (typeof part.value === 'string') fields[part.fieldname] = soundText(part.value)
        continue
      }
      const path = join(folder, String(files.length))
      const packer = createPacker()
      await pipeline(
        part.file,
        new Transform({
          transform(chunk: Buffer, _encoding, done) {
            received += chunk.length
            stalled.refresh()
            if (received > requestLimit())
              return done(
                new KelboError('upload.too-large', { limit: megabytes(requestLimit()), files: MOST_FILES }),
              )
            packer.add(chunk).then(() => done(null, chunk), done)
          },
        }),
        createWriteStream(path, { mode: 0o600 }),
      )
      if (part.file.truncated)
        throw new KelboError(
          'file.too-large',
          { limit: megabytes(fileLimit()) },
          soundFileName(part.filename),
        )
      files.push({ name: soundFileName(part.filename), path, content: await packer.end() })
    }
    clearTimeout(stalled)
    return await use({ files, fields })
  } finally {
    clearTimeout(stalled)
    await rm(folder, { recursive: true, force: true })
  }
}
