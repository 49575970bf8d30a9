import type { Pixels } from '../pixels.ts'

const HEADER = 18

/**
 * Writes a TGA image of 8 bits a channel, plain, rows from the top: grey, colours, or colours with opacity (grey with
 * opacity becomes that); 65535 pixels a side at most. Source: Truevision TGA file format specification 2.0.
 */
export function writeTga({ width, height, channels, values }: Pixels): Uint8Array {
  const isGrey = channels === 1
  const hasOpacity = channels === 2 || channels === 4
  const size = isGrey ? 1 : hasOpacity ? 4 : 3
  const bytes = new Uint8Array(HEADER + width * height * size)
  const view = new DataView(bytes.buffer)
  bytes[2] = isGrey ? 3 : 2
  view.setUint16(12, width, true)
  view.setUint16(14, height, true)
  bytes[16] = 8 * size
  // from the top, and how many of the bits are opacity
  bytes[17] = 0x20 | (hasOpacity ? 8 : 0)
  for (let pixel = 0, to = HEADER; pixel < width * height; pixel++, to += size) {
    const from = pixel * channels
    if (isGrey) bytes[to] = values[from]!
    else {
      const isSplit = channels >= 3
      bytes[to] = values[isSplit ? from + 2 : from]!
      bytes[to + 1] = values[isSplit ? from + 1 : from]!
      bytes[to + 2] = values[from]!
      if (hasOpacity) bytes[to + 3] = values[from + channels - 1]!
    }
  }
  return bytes
}
