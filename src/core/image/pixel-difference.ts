/** How far pixels of two images are apart. */
import { ciede2000, labOfLight, type Lab } from './color-difference.ts'
import { fullScale, type Pixels } from './pixels.ts'
import { decodeSrgb, stepValues } from './transfer.ts'

/** How far two pixels are apart, each of its own image. */
export type Off = (a: Pixels, atA: number, b: Pixels, atB: number) => number

/** As colours look; light by step is worked out once for both. */
export function colorsOff(): Off {
  const tables = new Map<number, Float32Array>()
  const lightOf = (pixels: Pixels): Float32Array | null => {
    if (pixels.bits === 32) return null
    const known = tables.get(pixels.bits) ?? stepValues(pixels.bits === 8 ? 255 : 65535, 'sRGB')
    tables.set(pixels.bits, known)
    return known
  }
  const lab = (pixels: Pixels, pixel: number): Lab => {
    const { channels, values } = pixels
    const light = lightOf(pixels)
    const base = pixel * channels
    const of = (channel: number): number => {
      const own = values[base + (channel < channels ? channel : channels - 1)]!
      return light ? light[own]! : decodeSrgb(own)
    }
    return labOfLight(of(0), of(1), of(2))
  }
  return (a, atA, b, atB) => {
    if (a.bits === b.bits && a.channels === b.channels) {
      let isSame = true
      for (let channel = 0; channel < a.channels && isSame; channel++)
        isSame = a.values[atA * a.channels + channel] === b.values[atB * b.channels + channel]
      if (isSame) return 0
    }
    return ciede2000(lab(a, atA), lab(b, atB))
  }
}

/** The largest difference of a channel, as a share of the full scale. */
export const valuesOff: Off = (a, atA, b, atB) => {
  let most = 0
  for (let channel = 0; channel < Math.min(a.channels, b.channels); channel++)
    most = Math.max(
      most,
      Math.abs(
        a.values[atA * a.channels + channel]! / fullScale(a) -
          b.values[atB * b.channels + channel]! / fullScale(b),
      ),
    )
  return most
}
