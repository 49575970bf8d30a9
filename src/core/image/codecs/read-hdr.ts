import { decodeLatin1 } from '../../base/bytes/text.ts'
import type { Pixels } from '../pixels.ts'

/**
 * Reads a Radiance HDR image: four bytes a pixel with one exponent, plain, in old or in new runs; rows from the top.
 * Source: G. Ward, "Real Pixels", Graphics Gems II (1991), and the file format of Radiance. A value is mantissa x
 * 2^(exponent - 136): dividing by 255 instead of 256 makes it 0.39 % too bright.
 * @returns null for other orders of rows, and where the file ends early.
 */
export function readHdr(bytes: Uint8Array): Pixels | null {
  let at = 0
  const line = (): string | null => {
    const end = bytes.indexOf(10, at)
    if (end < 0 || end - at > 4096) return null
    const text = decodeLatin1(bytes, at, end)
    at = end + 1
    return text
  }
  if (!line()?.startsWith('#?')) return null
  for (let text = line(); text !== ''; text = line()) if (text === null) return null
  const size = /^-Y (\d{1,5}) \+X (\d{1,5})\s*$/.exec(line() ?? '')
  if (!size) return null
  const [height, width] = [Number(size[1]), Number(size[2])]
  // a run of 127 pixels takes two bytes for each of the four
  if (width === 0 || height === 0 || bytes.length - at < Math.floor((width * height * 8) / 127 / 4))
    return null
  const values = new Float32Array(width * height * 3)
  const row = new Uint8Array(width * 4)
  for (let y = 0; y < height; y++) {
    if (!readRow(row)) return null
    for (let x = 0; x < width; x++) {
      const scale = row[4 * x + 3] ? 2 ** (row[4 * x + 3]! - 136) : 0
      for (let channel = 0; channel < 3; channel++)
        values[(y * width + x) * 3 + channel] = row[4 * x + channel]! * scale
    }
  }
  return { width, height, channels: 3, bits: 32, values }

  function readRow(target: Uint8Array): boolean {
    if (at + 4 > bytes.length) return false
    const isNew =
      width >= 8 &&
      width < 32768 &&
      bytes[at] === 2 &&
      bytes[at + 1] === 2 &&
      bytes[at + 2]! * 256 + bytes[at + 3]! === width
    return isNew ? readNewRow(target) : readOldRow(target)
  }
  function readNewRow(target: Uint8Array): boolean {
    at += 4
    for (let channel = 0; channel < 4; channel++)
      for (let x = 0; x < width;) {
        if (at >= bytes.length) return false
        const head = bytes[at++]!
        const isRun = head > 128
        const count = isRun ? head - 128 : head
        if (count === 0 || x + count > width || at + (isRun ? 1 : count) > bytes.length) return false
        for (let index = 0; index < count; index++)
          target[4 * x++ + channel] = isRun ? bytes[at]! : bytes[at++]!
        if (isRun) at++
      }
    return true
  }
  function readOldRow(target: Uint8Array): boolean {
    let shift = 0
    for (let x = 0; x < width;) {
      if (at + 4 > bytes.length) return false
      const isRun = bytes[at] === 1 && bytes[at + 1] === 1 && bytes[at + 2] === 1
      if (!isRun) {
        target.set(bytes.subarray(at, at + 4), 4 * x++)
        shift = 0
      } else {
        const count = bytes[at + 3]! << shift
        if (x === 0 || x + count > width) return false
        for (let index = 0; index < count; index++, x++) target.copyWithin(4 * x, 4 * (x - 1), 4 * x)
        shift += 8
      }
      at += 4
    }
    return true
  }
}
