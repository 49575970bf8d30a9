/** Writes 8-bit PNG images. Source of the chunks that say what the values are: PNG (Third Edition), W3C, 11.3.2. */
import { encode } from 'fast-png'

export interface Image8 {
  readonly width: number
  readonly height: number
  /** 1 grey, 3 colours, 4 colours with opacity. */
  readonly channels: 1 | 3 | 4
  /** width x height x channels, top row first. */
  readonly pixels: Uint8Array
  /** What the file says its values are; absent: nothing. */
  readonly colorSpace?: 'sRGB' | 'linear'
}

/** Signature and header, behind which the chunks about colour have to stand. */
const HEADER_LENGTH = 8 + 25

/** Whole chunks, with their sums: sRGB of perceptual intent; a gamma of 1, times 100 000. */
export const COLOR_CHUNKS = {
  sRGB: Uint8Array.of(0x00, 0x00, 0x00, 0x01, 0x73, 0x52, 0x47, 0x42, 0x00, 0xae, 0xce, 0x1c, 0xe9),
  linear: Uint8Array.of(
    0x00,
    0x00,
    0x00,
    0x04,
    0x67,
    0x41,
    0x4d,
    0x41,
    0x00,
    0x01,
    0x86,
    0xa0,
    0x31,
    0xe8,
    0x96,
    0x5f,
  ),
} as const

/** The bytes of a PNG file of 8 bits a channel. */
export function writePng({ width, height, channels, pixels, colorSpace }: Image8): Uint8Array {
  const encoded = encode({ width, height, channels, depth: 8, data: pixels })
  if (!colorSpace) return encoded
  const said = COLOR_CHUNKS[colorSpace]
  const file = new Uint8Array(encoded.length + said.length)
  file.set(encoded.subarray(0, HEADER_LENGTH))
  file.set(said, HEADER_LENGTH)
  file.set(encoded.subarray(HEADER_LENGTH), HEADER_LENGTH + said.length)
  return file
}
