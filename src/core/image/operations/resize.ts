import { fullScale, type Pixels } from '../pixels.ts'
import { decodeSrgb, encodeSrgb } from '../transfer.ts'
import { colorChannels, eachImage, emptyLike, HOW_MIXED, stepOf, type ImageOperation } from './operation.ts'

export type MixKind = 'color' | 'data' | 'normals' | 'id'

/** Neighbours on each side that count, in pixels of the coarser of the two images (Lanczos with three lobes). */
const LOBES = 3
const sinc = (x: number): number => (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x))
const kernel = (x: number): number => (Math.abs(x) >= LOBES ? 0 : sinc(x) * sinc(x / LOBES))

/** For each pixel of a line of another length: where it begins to look, and how much each counts. */
function looksAlong(from: number, to: number): { first: number; weights: Float64Array }[] {
  const scale = from / to
  const reach = LOBES * Math.max(1, scale)
  return Array.from({ length: to }, (_, at) => {
    const middle = (at + 0.5) * scale - 0.5
    const first = Math.ceil(middle - reach)
    const last = Math.floor(middle + reach)
    const weights = Float64Array.from({ length: last - first + 1 }, (_one, k) =>
      kernel((first + k - middle) / Math.max(1, scale)),
    )
    const sum = weights.reduce((all, one) => all + one, 0)
    return { first, weights: weights.map((one) => one / sum) }
  })
}

const clamp = (at: number, size: number): number => (at < 0 ? 0 : at >= size ? size - 1 : at)

/**
 * An image at another size. Colours are mixed as light and by their opacity, normals become of unit length again, codes
 * are never mixed.
 */
export function resizePixels(pixels: Pixels, width: number, height: number, kind: MixKind): Pixels {
  if (pixels.width === width && pixels.height === height) return pixels
  const { channels, values } = pixels
  const out = emptyLike(pixels, width * height * channels)
  if (kind === 'id') {
    for (let row = 0; row < height; row++)
      for (let column = 0; column < width; column++) {
        const from =
          (Math.floor(((row + 0.5) * pixels.height) / height) * pixels.width +
            Math.floor(((column + 0.5) * pixels.width) / width)) *
          channels
        for (let channel = 0; channel < channels; channel++)
          out[(row * width + column) * channels + channel] = values[from + channel]!
      }
    return { ...pixels, width, height, values: out }
  }
  const full = fullScale(pixels)
  const colors = colorChannels(pixels)
  const hasOpacity = colors < channels
  const isLight = kind === 'color' && pixels.bits !== 32
  // lines first: what was mixed along one is mixed across them
  const wide = new Float32Array(width * pixels.height * channels)
  const along = looksAlong(pixels.width, width)
  const line = new Float64Array(pixels.width * channels)
  for (let row = 0; row < pixels.height; row++) {
    for (let at = 0; at < line.length; at++) {
      const own = values[row * line.length + at]! / full
      line[at] = Number.isFinite(own) ? (isLight && at % channels < colors ? decodeSrgb(own) : own) : 0
    }
    if (hasOpacity && kind === 'color')
      for (let at = 0; at < line.length; at++)
        if (at % channels < colors) line[at]! *= line[at - (at % channels) + colors]!
    for (let column = 0; column < width; column++) {
      const { first, weights } = along[column]!
      for (let channel = 0; channel < channels; channel++) {
        let sum = 0
        for (let k = 0; k < weights.length; k++)
          sum += weights[k]! * line[clamp(first + k, pixels.width) * channels + channel]!
        wide[(row * width + column) * channels + channel] = sum
      }
    }
  }
  const down = looksAlong(pixels.height, height)
  const pixel = new Float64Array(4)
  for (let row = 0; row < height; row++) {
    const { first, weights } = down[row]!
    for (let column = 0; column < width; column++) {
      for (let channel = 0; channel < channels; channel++) {
        let sum = 0
        for (let k = 0; k < weights.length; k++)
          sum += weights[k]! * wide[(clamp(first + k, pixels.height) * width + column) * channels + channel]!
        pixel[channel] = sum
      }
      const to = (row * width + column) * channels
      if (hasOpacity && kind === 'color' && pixel[colors]! > 1e-6)
        for (let channel = 0; channel < colors; channel++) pixel[channel]! /= pixel[colors]!
      if (kind === 'normals' && channels >= 3) {
        const [x, y, z] = [pixel[0]! * 2 - 1, pixel[1]! * 2 - 1, pixel[2]! * 2 - 1]
        const length = Math.hypot(x, y, z) || 1
        pixel.set([(x / length) * 0.5 + 0.5, (y / length) * 0.5 + 0.5, (z / length) * 0.5 + 0.5])
      }
      for (let channel = 0; channel < channels; channel++) {
        const own = pixel[channel]!
        out[to + channel] = stepOf(isLight && channel < colors ? encodeSrgb(own) : own, pixels)
      }
    }
  }
  return { ...pixels, width, height, values: out }
}

export const resize: ImageOperation = {
  id: 'resize',
  title: 'Another size',
  description:
    'As many pixels along the longer side; the form stays. Colours are mixed as light, normals stay of unit length, codes are never mixed.',
  keepsSpace: true,
  takes: 'each',
  options: [
    {
      id: 'size',
      title: 'Longer side',
      unit: 'pixels',
      kind: 'number',
      default: 2048,
      min: 1,
      max: 16384,
      whole: true,
    },
    HOW_MIXED,
  ],
  run: eachImage((pixels, { size, kind }) => {
    const share = (size as number) / Math.max(pixels.width, pixels.height)
    return resizePixels(
      pixels,
      Math.max(1, Math.round(pixels.width * share)),
      Math.max(1, Math.round(pixels.height * share)),
      kind as MixKind,
    )
  }),
}
