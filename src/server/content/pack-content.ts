/** Content made ready for the store before any connection is held: hashed, cut into chunks, compressed. */
import { createHash } from 'node:crypto'
import { open } from 'node:fs/promises'
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

/** Packs a file on disk whose hash is known, a few chunks side by side, so that memory holds no more of it. */
export async function packFile(hash: string, path: string): Promise<PackedContent> {
  const file = await open(path)
  try {
    const { size } = await file.stat()
    const chunks: PackedChunk[] = new Array<PackedChunk>(Math.ceil(size / CHUNK_BYTES))
    let next = 0
    const packSome = async (): Promise<void> => {
      while (next < chunks.length) {
        const place = next++
        const plain = Buffer.allocUnsafe(Math.min(CHUNK_BYTES, size - place * CHUNK_BYTES))
        let filled = 0
        while (filled < plain.length) {
          const { bytesRead } = await file.read(
            plain,
            filled,
            plain.length - filled,
            place * CHUNK_BYTES + filled,
          )
          if (bytesRead === 0) throw new Error(`${path} became shorter while it was read`)
          filled += bytesRead
        }
        chunks[place] = await packChunk(plain)
      }
    }
    await Promise.all(Array.from({ length: CHUNKS_AT_ONCE }, packSome))
    return { hash, byteLength: size, chunks }
  } finally {
    await file.close()
  }
}
