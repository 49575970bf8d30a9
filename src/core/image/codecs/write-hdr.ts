import { encodeUtf8 } from '../../base/bytes/text.ts'
import type { Pixels } from '../pixels.ts'

/** The largest that four bytes with one exponent can say. */
const MOST = 255 * 2 ** (255 - 136)

/**
 * Writes a Radiance HDR image: four bytes a pixel with one exponent, plain, rows from the top. Grey fills all three,
 * opacity has no place. Values below nothing and such that are no numbers become 0. Source as in read-hdr.ts.
 */
export function writeHdr({ width, height, channels, values }: Pixels): Uint8Array {
  const head = encodeUtf8(`#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y ${height} +X ${width}\n`)
  const bytes = new Uint8Array(head.length + 4 * width * height)
  bytes.set(head)
  const isGrey = channels < 3
  for (let pixel = 0, to = head.length; pixel < width * height; pixel++, to += 4) {
    const from = pixel * channels
    const own = [0, 1, 2].map((at) => {
      const value = values[isGrey ? from : from + at]!
      return value > 0 ? Math.min(MOST, value) : 0
    })
    const largest = Math.max(...own)
    if (largest < 2 ** -127) continue
    // the mantissa of the largest lies between 128 and 256
    let exponent = Math.ceil(Math.log2(largest / 255.5) + 1e-12)
    if (largest / 2 ** exponent >= 255.5) exponent++
    for (let at = 0; at < 3; at++) bytes[to + at] = Math.min(255, Math.round(own[at]! / 2 ** exponent))
    bytes[to + 3] = Math.min(255, Math.max(1, exponent + 136))
  }
  return bytes
}
