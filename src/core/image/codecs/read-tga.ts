import type { Pixels } from '../pixels.ts'

/**
 * Reads a TGA image: true colour of 24 and 32 bits and grey of 8, plain or in runs. Source: Truevision TGA file format
 * specification 2.0.
 * @returns null for other kinds (colour maps, 16 bits), and where the file ends early.
 */
export function readTga(bytes: Uint8Array): Pixels | null {
  if (bytes.length < 18) return null
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const kind = bytes[2]!
  const width = view.getUint16(12, true)
  const height = view.getUint16(14, true)
  const depth = bytes[16]!
  const isGrey = kind === 3 || kind === 11
  const isColor = kind === 2 || kind === 10
  if (width === 0 || height === 0 || bytes[1] !== 0) return null
  if (!(isGrey && depth === 8) && !(isColor && (depth === 24 || depth === 32))) return null
  const channels = isGrey ? 1 : ((depth / 8) as 3 | 4)
  const runs = kind >= 9
  const fromTop = (bytes[17]! & 0x20) !== 0
  const fromRight = (bytes[17]! & 0x10) !== 0
  // nothing is allocated for what the file can't hold: a run of 128 pixels takes at least one pixel and a byte
  const least = runs ? Math.ceil((width * height) / 128) * (channels + 1) : width * height * channels
  let at = 18 + bytes[0]!
  if (bytes.length - at < least) return null
  const values = new Uint8Array(width * height * channels)
  const put = (pixel: number, from: number): void => {
    const row = Math.floor(pixel / width)
    const column = pixel % width
    const to =
      ((fromTop ? row : height - 1 - row) * width + (fromRight ? width - 1 - column : column)) * channels
    if (channels === 1) values[to] = bytes[from]!
    else {
      values[to] = bytes[from + 2]!
      values[to + 1] = bytes[from + 1]!
      values[to + 2] = bytes[from]!
      if (channels === 4) values[to + 3] = bytes[from + 3]!
    }
  }
  for (let pixel = 0; pixel < width * height;) {
    if (!runs) {
      put(pixel++, at)
      at += channels
      continue
    }
    if (at >= bytes.length) return null
    const head = bytes[at++]!
    const count = (head & 0x7f) + 1
    const isRun = head >= 128
    if (at + (isRun ? 1 : count) * channels > bytes.length || pixel + count > width * height) return null
    for (let index = 0; index < count; index++) {
      put(pixel++, at)
      if (!isRun) at += channels
    }
    if (isRun) at += channels
  }
  return { width, height, channels, bits: 8, values }
}
