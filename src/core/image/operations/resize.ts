import type { ImageForm } from '../image-reader.ts'
import { fullScale, type Pixels } from '../pixels.ts'
import { decodeSrgb, encodeSrgb } from '../transfer.ts'
import {
  colorChannels,
  emptyLike,
  HOW_MIXED,
  stepOf,
  type ImageOperation,
  type RowWork,
  type StreamedWork,
} from './operation.ts'
import { atOnce } from './row-work.ts'

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
 * Rows of an image at another size, as soon as the rows they come of are there. Colours are mixed as light and by their
 * opacity, normals become of unit length again, codes are never mixed.
 * @returns takes the next rows of the image, gives those that are ready.
 */
function resizer(form: ImageForm, width: number, height: number, kind: MixKind): (rows: Pixels) => Pixels {
  const { channels } = form
  return kind === 'id'
    ? picker(form, width, height)
    : mixer(form, width, height, kind, colorChannels({ channels }))
}

function picker(form: ImageForm, width: number, height: number): (rows: Pixels) => Pixels {
  const { channels } = form
  let [taken, given] = [0, 0]
  const rowOf = (row: number): number => Math.floor(((row + 0.5) * form.height) / height)
  return (rows) => {
    const begin = given
    while (given < height && rowOf(given) < taken + rows.height) given++
    const out = emptyLike(form, (given - begin) * width * channels)
    for (let row = begin; row < given; row++)
      for (let column = 0; column < width; column++) {
        const from =
          ((rowOf(row) - taken) * form.width + Math.floor(((column + 0.5) * form.width) / width)) * channels
        for (let channel = 0; channel < channels; channel++)
          out[((row - begin) * width + column) * channels + channel] = rows.values[from + channel]!
      }
    taken += rows.height
    return { ...form, width, height: given - begin, values: out }
  }
}

function mixer(
  form: ImageForm,
  width: number,
  height: number,
  kind: MixKind,
  colors: number,
): (rows: Pixels) => Pixels {
  const { channels } = form
  const full = fullScale(form)
  const hasOpacity = colors < channels
  const isLight = kind === 'color' && form.bits !== 32
  const along = looksAlong(form.width, width)
  const down = looksAlong(form.height, height)
  const line = new Float64Array(form.width * channels)
  /** Rows that are mixed along, and wait to be mixed across; the first is number `top` of the image. */
  let wide: Float32Array[] = []
  let [top, taken, given] = [0, 0, 0]
  const pixel = new Float64Array(4)

  function mixAlong(values: Pixels['values'], row: number): Float32Array {
    for (let at = 0; at < line.length; at++) {
      const own = values[row * line.length + at]! / full
      line[at] = Number.isFinite(own) ? (isLight && at % channels < colors ? decodeSrgb(own) : own) : 0
    }
    if (hasOpacity && kind === 'color')
      for (let at = 0; at < line.length; at++)
        if (at % channels < colors) line[at]! *= line[at - (at % channels) + colors]!
    const mixed = new Float32Array(width * channels)
    for (let column = 0; column < width; column++) {
      const { first, weights } = along[column]!
      for (let channel = 0; channel < channels; channel++) {
        let sum = 0
        for (let k = 0; k < weights.length; k++)
          sum += weights[k]! * line[clamp(first + k, form.width) * channels + channel]!
        mixed[column * channels + channel] = sum
      }
    }
    return mixed
  }

  function mixAcross(row: number, out: Pixels['values'], to: number): void {
    const { first, weights } = down[row]!
    for (let column = 0; column < width; column++) {
      for (let channel = 0; channel < channels; channel++) {
        let sum = 0
        for (let k = 0; k < weights.length; k++)
          sum += weights[k]! * wide[clamp(first + k, form.height) - top]![column * channels + channel]!
        pixel[channel] = sum
      }
      if (hasOpacity && kind === 'color' && pixel[colors]! > 1e-6)
        for (let channel = 0; channel < colors; channel++) pixel[channel]! /= pixel[colors]!
      if (kind === 'normals' && channels >= 3) {
        const [x, y, z] = [pixel[0]! * 2 - 1, pixel[1]! * 2 - 1, pixel[2]! * 2 - 1]
        const length = Math.hypot(x, y, z) || 1
        pixel.set([(x / length) * 0.5 + 0.5, (y / length) * 0.5 + 0.5, (z / length) * 0.5 + 0.5])
      }
      for (let channel = 0; channel < channels; channel++) {
        const own = pixel[channel]!
        out[to + column * channels + channel] = stepOf(
          isLight && channel < colors ? encodeSrgb(own) : own,
          form,
        )
      }
    }
  }

  return (rows) => {
    for (let row = 0; row < rows.height; row++) wide.push(mixAlong(rows.values, row))
    taken += rows.height
    const begin = given
    const lastOf = (row: number): number =>
      clamp(down[row]!.first + down[row]!.weights.length - 1, form.height)
    while (given < height && lastOf(given) < taken) given++
    const out = emptyLike(form, (given - begin) * width * channels)
    for (let row = begin; row < given; row++) mixAcross(row, out, (row - begin) * width * channels)
    // what no row looks at any more
    const needed = given < height ? clamp(down[given]!.first, form.height) : taken
    if (needed > top) {
      wide = wide.slice(needed - top)
      top = needed
    }
    return { ...form, width, height: given - begin, values: out }
  }
}

const streamed: StreamedWork = function* (given, { size, kind }, rowsAtOnce): RowWork {
  for (const [at, { name, form }] of given.entries()) {
    const share = (size as number) / Math.max(form.width, form.height)
    const [width, height] = [form.width, form.height].map((one) => Math.max(1, Math.round(one * share))) as [
      number,
      number,
    ]
    const isSame = width === form.width && height === form.height
    const work = isSame ? (rows: Pixels): Pixels => rows : resizer(form, width, height, kind as MixKind)
    for (let taken = 0; taken < form.height;) {
      const rows = yield { take: at, rows: rowsAtOnce(form) }
      taken += rows.height
      const ready = work(rows)
      if (ready.height) yield { give: name, form: { ...form, width, height }, rows: ready }
    }
  }
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
  streamed,
  run: atOnce(streamed),
}
