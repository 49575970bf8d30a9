/** Packing and unpacking of zlib streams (RFC 1950), by a library in pure JavaScript or by what the host offers. */
import { unzlibSync, zlibSync } from 'fflate'

export interface ZlibCodec {
  /**
   * @param byteLength bytes that the stream must give; no more are ever made.
   * @returns `sound` false where the checksum at the stream's end is another (the bytes are given all the same).
   * @throws where the stream is damaged. The result may be shorter than asked for.
   */
  readonly inflate: (packed: Uint8Array, byteLength: number) => { bytes: Uint8Array; sound: boolean }
  /** Quick rather than small. */
  readonly deflate: (bytes: Uint8Array) => Uint8Array
  /**
   * Many at once, in their order, where the host can do it faster than one after the other.
   * @param runsOnly one an array: look for nothing but runs of a byte, in half the time and a little larger.
   */
  readonly deflateAll?: (arrays: readonly Uint8Array[], runsOnly: readonly boolean[]) => readonly Uint8Array[]
}

/** Most sums before one could leave 32 bits (RFC 1950, Adler-32). */
const ADLER_RUN = 5552

/** The sum that ends a zlib stream, unsigned. Source: RFC 1950, section 8.2. */
export function adler32(bytes: Uint8Array): number {
  let a = 1
  let b = 0
  for (let start = 0; start < bytes.length; start += ADLER_RUN) {
    const end = Math.min(start + ADLER_RUN, bytes.length)
    for (let at = start; at < end; at++) b += a += bytes[at]!
    a %= 65521
    b %= 65521
  }
  return ((b << 16) | a) >>> 0
}

/** fflate; it does not look at the checksum, so that is done here. */
export const PURE_CODEC: ZlibCodec = {
  inflate(packed, byteLength) {
    const bytes = unzlibSync(packed, { out: new Uint8Array(byteLength) })
    const end = packed.length
    if (end < 4) return { bytes, sound: false }
    const stored =
      ((packed[end - 4]! << 24) | (packed[end - 3]! << 16) | (packed[end - 2]! << 8) | packed[end - 1]!) >>> 0
    return { bytes, sound: bytes.length === byteLength && stored === adler32(bytes) }
  },
  deflate: (bytes) => zlibSync(bytes, { level: 1 }),
}
