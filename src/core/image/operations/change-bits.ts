import { fullScale, type Pixels } from '../pixels.ts'
import { eachImage, type ImageOperation } from './operation.ts'

/** A number from 0 to 1 that follows from a place, without a pattern that the eye finds. */
function grain(at: number, salt: number): number {
  let hash = Math.imul(at + 1, 374761393) ^ Math.imul(salt + 1, 668265263)
  hash = Math.imul(hash ^ (hash >>> 13), 1274126177)
  hash = Math.imul(hash ^ (hash >>> 16), 0x9e3779b1)
  return ((hash ^ (hash >>> 15)) >>> 0) / 4294967296
}

/** @param isDithered noise of two steps, highest in the middle, goes below: what lies between steps stays in the mean.
 * @param first which value of the image the first one is: where the noise goes on. */
export function changePixelBits(pixels: Pixels, bits: 8 | 16, isDithered: boolean, first = 0): Pixels {
  if (pixels.bits === bits) return pixels
  const { values } = pixels
  const from = fullScale(pixels)
  const to = bits === 8 ? 255 : 65535
  const out = bits === 8 ? new Uint8Array(values.length) : new Uint16Array(values.length)
  // from fewer to more nothing lies between steps
  const noise = isDithered && (from === 1 || from > to)
  for (let at = 0; at < values.length; at++) {
    const own = Math.max(0, Math.min(1, values[at]! / from || 0)) * to
    // black and white stay so: noise would leave neither
    const isEnd = own === 0 || own === to
    const added = noise && !isEnd ? grain(first + at, 1) - grain(first + at, 2) : 0
    out[at] = Math.max(0, Math.min(to, Math.round(own + added)))
  }
  return { ...pixels, bits, values: out }
}

export const changeBits: ImageOperation = {
  id: 'change-bits',
  title: 'Bits a channel',
  description:
    '8 or 16 bits. With noise what lies between two steps of 8 bits stays in the mean, and smooth ground shows no bands.',
  keepsSpace: true,
  takes: 'each',
  options: [
    {
      id: 'bits',
      title: 'Bits',
      kind: 'choice',
      default: 8,
      choices: [
        { value: 8, title: '8' },
        { value: 16, title: '16' },
      ],
    },
    { id: 'dither', title: 'With noise', kind: 'boolean', default: true },
  ],
  byRows: { border: 0 },
  run: eachImage((pixels, { bits, dither }, first) =>
    changePixelBits(pixels, bits as 8 | 16, dither === true, first),
  ),
}
