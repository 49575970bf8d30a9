/**
 * How a chunk of content is packed: as it is, or by Zstandard (RFC 8878), which takes a fifth of the processor's time
 * that deflate takes for a model's arrays and leaves less. What was deflated (RFC 1951) before is read as well.
 */
import { promisify } from 'node:util'
import { inflateRaw, inflateRawSync } from 'node:zlib'
import { Decoder, Encoder } from '@toondepauw/node-zstd'
import type { Packing } from '../db/schema.ts'

export interface PackedChunk {
  readonly packing: Packing
  readonly bytes: Buffer
}

/** Plain bytes of every chunk of a content but its last. */
export const CHUNK_BYTES = 4 * 2 ** 20
/** Up to this size a call to another thread takes longer than packing or unpacking. */
const HERE_BYTES = 2 ** 14
const UNPACKED_HERE_BYTES = 2 ** 16
/** Nothing to be saved below this. */
const LEAST_BYTES = 64
/** Bytes that inflating gives back at a time: each of them costs a turn here. */
const INFLATED_AT_ONCE = 2 ** 20

const encoder = new Encoder(1)
const decoder = new Decoder()
const inflate = promisify(inflateRaw)

const asBuffer = (bytes: Uint8Array): Buffer => Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength)

/** What is hardly smaller is kept as it is. */
const smaller = (plain: Uint8Array, packed: Buffer): PackedChunk =>
  packed.length < plain.length * 0.95
    ? { packing: 'zstd', bytes: packed }
    : { packing: 'plain', bytes: asBuffer(plain) }

/** @param plain at most CHUNK_BYTES; not to be changed until the promise is kept. */
export async function packChunk(plain: Uint8Array): Promise<PackedChunk> {
  if (plain.length < LEAST_BYTES) return { packing: 'plain', bytes: Buffer.from(plain) }
  if (plain.length <= HERE_BYTES) return smaller(plain, encoder.encodeSync(asBuffer(plain)))
  return smaller(plain, await encoder.encode(asBuffer(plain)))
}

/** The plain bytes of a chunk of the store's own. @throws Error where it is damaged. */
export async function unpackChunk({ packing, bytes }: PackedChunk): Promise<Buffer> {
  if (packing === 'plain') return bytes
  if (packing === 'deflate')
    return bytes.length <= UNPACKED_HERE_BYTES
      ? inflateRawSync(bytes)
      : inflate(bytes, { chunkSize: INFLATED_AT_ONCE })
  return bytes.length <= UNPACKED_HERE_BYTES ? decoder.decodeSync(bytes) : decoder.decode(bytes)
}

const FRAME_MAGIC = 0xfd2fb528
/** What one block of a frame unpacks to at most (RFC 8878, 3.1.1.2.4). */
const BLOCK_BYTES = 2 ** 17

/**
 * How many bytes a frame unpacks to at most, from the number of its blocks, before any of it is unpacked.
 * Source: RFC 8878, 3.1.1. @returns infinity for what isn't one whole frame and nothing beside it.
 */
function mostUnpacked(bytes: Buffer): number {
  if (bytes.length < 6 || bytes.readUInt32LE(0) !== FRAME_MAGIC) return Infinity
  const descriptor = bytes[4]!
  const single = (descriptor >> 5) & 1
  const sizeFlag = descriptor >> 6
  const dictionaryBytes = [0, 1, 2, 4][descriptor & 3]!
  const sizeBytes = sizeFlag === 0 ? single : 2 ** sizeFlag
  const checksumBytes = descriptor & 4 ? 4 : 0
  let at = 5 + (single ? 0 : 1) + dictionaryBytes + sizeBytes
  for (let blocks = 1; at + 3 <= bytes.length; blocks++) {
    const header = bytes.readUIntLE(at, 3)
    const repeated = ((header >> 1) & 3) === 1
    at += 3 + (repeated ? 1 : header >> 3)
    if (header & 1) return at + checksumBytes === bytes.length ? blocks * BLOCK_BYTES : Infinity
  }
  return Infinity
}

/**
 * The plain bytes of a chunk from a file of unknown origin: never more memory than two chunks.
 * @throws Error where it is damaged, or would be larger than a chunk.
 */
export function unpackForeign({ packing, bytes }: PackedChunk): Buffer {
  if (packing === 'deflate') return inflateRawSync(bytes, { maxOutputLength: CHUNK_BYTES })
  if (packing === 'zstd' && mostUnpacked(bytes) > 2 * CHUNK_BYTES) throw new Error('larger than a chunk')
  const plain = packing === 'zstd' ? decoder.decodeSync(bytes) : bytes
  if (plain.length > CHUNK_BYTES) throw new Error('larger than a chunk')
  return plain
}
