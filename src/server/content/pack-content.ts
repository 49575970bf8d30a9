/** Content made ready for the store before any connection is held: hashed, cut into chunks, compressed. */
import { createHash } from 'node:crypto'
import { createReadStream } from 'node:fs'
import { promisify } from 'node:util'
import { deflateRaw, deflateRawSync } from 'node:zlib'

const deflate = promisify(deflateRaw)

export const CHUNK_BYTES = 4 * 2 ** 20
/** Chunks compressed side by side; each holds its memory meanwhile. */
const CHUNKS_AT_ONCE = 4
/** Below this a call to another thread takes longer than compressing. */
const AT_ONCE_BYTES = 2 ** 14
/** Nothing to be saved below this. */
const LEAST_BYTES = 64

export interface PackedChunk {
  readonly deflated: boolean
  readonly bytes: Buffer
}

export interface PackedContent {
  /** SHA-256 of the plain bytes, in hexadecimal digits. */
  readonly hash: string
  readonly byteLength: number
  readonly chunks: readonly PackedChunk[]
}

export const hashOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex')

export const bytesOf = (array: ArrayBufferView): Uint8Array =>
  new Uint8Array(array.buffer, array.byteOffset, array.byteLength)

/** What is hardly smaller is kept as it is. */
const smaller = (plain: Uint8Array, packed: Buffer): PackedChunk =>
  packed.length < plain.length * 0.95
    ? { deflated: true, bytes: packed }
    : { deflated: false, bytes: Buffer.from(plain.buffer, plain.byteOffset, plain.byteLength) }

async function packChunk(plain: Uint8Array): Promise<PackedChunk> {
  if (plain.length < LEAST_BYTES) return { deflated: false, bytes: Buffer.from(plain) }
  if (plain.length <= AT_ONCE_BYTES) return smaller(plain, deflateRawSync(plain, { level: 1 }))
  return smaller(plain, await deflate(plain, { level: 1 }))
}

/** Packs content whose hash is known. */
export async function packContent(hash: string, bytes: Uint8Array): Promise<PackedContent> {
  const chunks: PackedChunk[] = []
  for (let at = 0; at < bytes.length; at += CHUNK_BYTES * CHUNKS_AT_ONCE)
    chunks.push(
      ...(await Promise.all(
        Array.from(
          { length: Math.min(CHUNKS_AT_ONCE, Math.ceil((bytes.length - at) / CHUNK_BYTES)) },
          (_chunk, index) => {
            const start = at + index * CHUNK_BYTES
            return packChunk(bytes.subarray(start, Math.min(start + CHUNK_BYTES, bytes.length)))
          },
        ),
      )),
    )
  return { hash, byteLength: bytes.length, chunks }
}

/** Packs a file on disk whose hash is known, chunk by chunk. */
export async function packFile(hash: string, path: string): Promise<PackedContent> {
  const chunks: PackedChunk[] = []
  let byteLength = 0
  let held: Buffer[] = []
  let heldBytes = 0
  const flush = async (): Promise<void> => {
    if (heldBytes === 0) return
    const plain = Buffer.concat(held)
    held = []
    heldBytes = 0
    chunks.push(await packChunk(plain))
  }
  for await (const piece of createReadStream(path, { highWaterMark: CHUNK_BYTES }) as AsyncIterable<Buffer>) {
    byteLength += piece.length
    let rest = piece
    while (heldBytes + rest.length >= CHUNK_BYTES) {
      const take = CHUNK_BYTES - heldBytes
      held.push(rest.subarray(0, take))
      heldBytes += take
      rest = rest.subarray(take)
      await flush()
    }
    if (rest.length) held.push(rest)
    heldBytes += rest.length
  }
  await flush()
  return { hash, byteLength, chunks }
}
