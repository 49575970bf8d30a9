import { randomUUID } from 'node:crypto'
import { createWriteStream } from 'node:fs'
import { mkdir, readdir, rm, stat } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Transform } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import type { MultipartFile } from '@fastify/multipart'
import type { FastifyRequest } from 'fastify'
import { KelboError } from '../../core/base/messages/collector.ts'
import type { SpooledFile } from './file-store.ts'
import { storableText } from '../db/storable-text.ts'
import { soundFileName } from '../plugins/sound-text.ts'
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
export const requestLimit = (): number => Number(process.env.KELBO_REQUEST_LIMIT ?? REQUEST_LIMIT_DEFAULT)
export const MOST_FILES = 500

/** Milliseconds without a byte after which an upload is given up, unless KELBO_UPLOAD_PATIENCE says otherwise. */
const patience = (): number => Number(process.env.KELBO_UPLOAD_PATIENCE ?? 120) * 1000

const megabytes = (bytes: number): string => `${Math.round(bytes / 2 ** 20)} MB`
/** The limit of one request, as it is told. */
export const requestLimitWords = (): string => megabytes(requestLimit())

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

/** Rejects where nothing came for too long; `seen` says that something did. */
function createPatience(): { seen: () => void; runsOut: Promise<never>; end: () => void } {
  let timer: NodeJS.Timeout
  const runsOut = new Promise<never>((_resolve, reject) => {
    timer = setTimeout(
      () => reject(new KelboError('upload.stalled', { seconds: patience() / 1000 })),
      patience(),
    )
  })
  // nobody may be waiting for it at the moment
  runsOut.catch(() => undefined)
  return { seen: () => timer.refresh(), runsOut, end: () => clearTimeout(timer) }
}

/** What becomes of a file's bytes beside being put on the disk. */
interface Sink<Content> {
  readonly add: (bytes: Uint8Array) => Promise<void>
  readonly end: () => Promise<Content>
}

/** Streams a request's files to a folder of their own, hands them to `use`, and removes the folder whatever happens. */
async function withSpooled<Content, Result>(
  request: FastifyRequest,
  createSink: () => Sink<Content>,
  use: (upload: {
    files: { name: string; path: string; content: Content }[]
    fields: Record<string, string>
  }) => Promise<Result>,
): Promise<Result> {
  const folder = join(tmpdir(), `${FOLDERS}${process.pid}-${randomUUID()}`)
  await mkdir(folder, { mode: 0o700 })
  let received = 0
  const waiting = createPatience()
  const takeIn = async (part: MultipartFile, path: string): Promise<Content> => {
    const sink = createSink()
    await pipeline(
      part.file,
      new Transform({
        transform(chunk: Buffer, _encoding, done) {
          received += chunk.length
          waiting.seen()
          if (received > requestLimit())
            return done(new KelboError('upload.too-large', { limit: requestLimitWords(), files: MOST_FILES }))
          sink.add(chunk).then(() => done(null, chunk), done)
        },
      }),
      createWriteStream(path, { mode: 0o600 }),
    )
    return sink.end()
  }
  const takeAll = async () => {
    const files: { name: string; path: string; content: Content }[] = []
    const fields: Record<string, string> = {}
    for await (const part of request.parts()) {
      waiting.seen()
      if (part.type === 'field') {
        if (typeof part.value === 'string') fields[part.fieldname] = storableText(part.value)
        continue
      }
      const name = soundFileName(part.filename)
      const path = join(folder, String(files.length))
      const content = await takeIn(part, path)
      if (part.file.truncated) throw new KelboError('file.too-large', { limit: megabytes(fileLimit()) }, name)
      files.push({ name, path, content })
    }
    return { files, fields }
  }
  try {
    const taken = takeAll()
    const upload = await Promise.race([taken, waiting.runsOut]).catch((error: unknown) => {
      // what is left of the request is not waited for
      taken.catch(() => undefined)
      throw error
    })
    waiting.end()
    return await use(upload)
  } finally {
    waiting.end()
    await rm(folder, { recursive: true, force: true })
  }
}

/** Files of a request, hashed and packed as they pass. */
export const withUpload = <Result>(
  request: FastifyRequest,
  use: (upload: Upload) => Promise<Result>,
): Promise<Result> => withSpooled(request, createPacker, use)

/** Files of a request as they are, on the disk alone. */
export const withPlainUpload = <Result>(
  request: FastifyRequest,
  use: (files: readonly { readonly name: string; readonly path: string }[]) => Promise<Result>,
): Promise<Result> =>
  withSpooled(
    request,
    () => ({ add: () => Promise.resolve(), end: () => Promise.resolve(null) }),
    ({ files }) => use(files),
  )
