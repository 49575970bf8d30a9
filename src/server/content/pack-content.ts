/** Content made ready for the store before any connection is held: hashed, cut into chunks, compressed. */
import { createHash, webcrypto } from 'node:crypto'
import { CHUNK_BYTES, packChunk, type PackedChunk } from './packing.ts'

/** Chunks compressed side by side; each holds its memory meanwhile. */
const CHUNKS_AT_ONCE = 4

export interface PackedContent {
  /** SHA-256 of the plain bytes, in hexadecimal digits. */
  readonly hash: string
  readonly byteLength: number
  readonly chunks: readonly PackedChunk[]
}

export const hashOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex')

/** Below this a call to another thread takes longer than hashing. */
const HASHED_HERE_BYTES = 2 ** 18
/** Contents hashed side by side; each is held twice meanwhile. */
const HASHED_AT_ONCE = 4

/** The hash of each; large ones without standing in the way of what else this process does. */
export async function hashesOf(contents: readonly Uint8Array[]): Promise<string[]> {
  const hashes: string[] = []
  let next = 0
  const hashSome = async (): Promise<void> => {
    while (next < contents.length) {
      const at = next++
      const bytes = contents[at]!
      hashes[at] =
        bytes.length < HASHED_HERE_BYTES
          ? hashOf(bytes)
          : Buffer.from(await webcrypto.subtle.digest('SHA-256', bytes)).toString('hex')
    }
  }
  await Promise.all(Array.from({ length: HASHED_AT_ONCE }, hashSome))
  return hashes
}

export const bytesOf = (array: ArrayBufferView): Uint8Array =>
  new Uint8Array(array.buffer, array.byteOffset, array.byteLength)

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

/** Packs content as it comes in. */
export interface ContentPacker {
  /** Takes the next bytes; who gives them waits for the promise, so that memory holds a few chunks. */
  readonly add: (bytes: Uint8Array) => Promise<void>
  readonly end: () => Promise<PackedContent>
}

/** A packer without content yet; its bytes are hashed as they pass. */
export function createPacker(): ContentPacker {
  const hash = createHash('sha256')
  const chunks: Promise<PackedChunk>[] = []
  let byteLength = 0
  let open: Buffer | null = null
  let filled = 0
  const pack = (plain: Buffer): void => {
    const packed = packChunk(plain)
    // a fault is told at the end; until then it is not unhandled
    packed.catch(() => undefined)
    chunks.push(packed)
    open = null
    filled = 0
  }
  return {
    async add(bytes) {
      hash.update(bytes)
      byteLength += bytes.length
      for (let at = 0; at < bytes.length;) {
        const taken = Math.min(bytes.length - at, CHUNK_BYTES - filled)
        open ??= Buffer.allocUnsafe(CHUNK_BYTES)
        open.set(bytes.subarray(at, at + taken), filled)
        filled += taken
        at += taken
        if (filled === CHUNK_BYTES) pack(open)
      }
      await chunks.at(-CHUNKS_AT_ONCE)
    },
    async end() {
      // of its own size: many small files don't hold a chunk's room each
      if (open) pack(Buffer.from(open.subarray(0, filled)))
      return { hash: hash.digest('hex'), byteLength, chunks: await Promise.all(chunks) }
    },
  }
}
