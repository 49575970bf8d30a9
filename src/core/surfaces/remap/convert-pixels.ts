/** Images of one way of describing a surface as those of another, pixel by pixel. */
import { fullScale, type Pixels } from '../../image/pixels.ts'
import { createSampler, type Footprint } from '../../image/sample-image.ts'
import { encodeSrgb, stepValues } from '../../image/transfer.ts'
import { convertValues } from '../convert/convert-surface.ts'
import type { SurfaceValue } from '../model.ts'
import type { ReflectanceInput, ReflectanceMaps, ReflectanceOutput } from './reflectance-maps.ts'

/** Different pixels that are remembered at once: each is some hundred bytes. */
const REMEMBERED = 400000

/**
 * @param images one for each of the inputs; smaller ones are spread over the largest.
 * @returns one for each of the outputs. 16 bits where an input has more than 8, and where a value goes beyond 1.
 */
export function convertPixels(maps: ReflectanceMaps, images: readonly Pixels[]): Pixels[] {
  const { inputs, outputs } = maps
  const width = Math.max(...images.map((image) => image.width))
  const height = Math.max(...images.map((image) => image.height))
  const readers = inputs.map((input, at) => readerOf(input, images[at]!, width, height))
  const isDeep = images.some(({ bits }) => bits !== 8)
  const writers = outputs.map((output) => writerOf(output, width, height, isDeep || output.scale > 1))
  const known = new Map<string, Float64Array>()
  const given = new Float64Array(inputs.reduce((sum, { parameter }) => sum + parameter.width, 0))
  const convert = createPixelConverter(maps)
  let before = ''
  let values: Float64Array = new Float64Array(0)
  for (let at = 0; at < width * height; at++) {
    let key = ''
    for (const reader of readers) key += reader.read(at)
    // a run of one colour is looked up once
    if (key !== before) {
      before = key
      let found = known.get(key)
      if (!found) {
        let place = 0
        for (const { own } of readers) for (const value of own) given[place++] = value
        found = convert(given).slice()
        if (known.size >= REMEMBERED) known.clear()
        known.set(key, found)
      }
      values = found
    }
    let place = 0
    for (const writer of writers) place = writer.write(at, values, place)
  }
  return writers.map(({ pixels }) => pixels)
}

interface Reader {
  /** Of the pixel that was read last. */
  readonly own: Float64Array
  /** @returns what the pixel is known by. */
  readonly read: (at: number) => string
}

/** Level and place of one look per pixel: between the pixels of a smaller image. */
const AS_IT_IS: Footprint = { level: 0, looks: 1, stepU: 0, stepV: 0 }

function readerOf(
  { use, parameter, factor }: ReflectanceInput,
  image: Pixels,
  width: number,
  height: number,
): Reader {
  const own = new Float64Array(parameter.width)
  const isColor = parameter.width === 3
  const colors = image.channels === 2 || image.channels === 4 ? image.channels - 1 : image.channels
  const places = Array.from({ length: parameter.width }, (_, at) =>
    use.channel === 'rgb'
      ? colors === 1
        ? 0
        : at
      : use.channel === 'a'
        ? image.channels - 1
        : colors === 1
          ? 0
          : 'rgb'.indexOf(use.channel),
  )
  const space = isColor && use.colorSpace === 'sRGB' ? 'sRGB' : 'linear'
  const take = (values: ArrayLike<number>, from: number): void => {
    for (let at = 0; at < own.length; at++) {
      const value = values[from + places[at]!]!
      own[at] = (use.inverted ? 1 - value : value) * factor[at]!
    }
  }
  if (image.width !== width || image.height !== height || image.bits === 32) {
    const sampler = createSampler(image, { space, wrapU: 'repeat', wrapV: 'repeat', isPremultiplied: false })
    const pixel = new Float64Array(4)
    return {
      own,
      read(at) {
        const [row, column] = [Math.floor(at / width), at % width]
        sampler.sample((column + 0.5) / width, 1 - (row + 0.5) / height, AS_IT_IS, pixel)
        take(pixel, 0)
        return `${own.join()} `
      },
    }
  }
  const table = stepValues(image.bits === 8 ? 255 : 65535, space)
  const pixel = new Float64Array(4)
  const full = fullScale(image)
  return {
    own,
    read(at) {
      let key = ''
      for (let channel = 0; channel < image.channels; channel++) {
        const step = image.values[at * image.channels + channel]!
        pixel[channel] = channel < colors ? table[step]! : step / full
        if (places.includes(channel)) key += String.fromCharCode(step)
      }
      take(pixel, 0)
      return key
    },
  }
}

interface Writer {
  readonly pixels: Pixels
  /** @returns the place behind its numbers. */
  readonly write: (at: number, values: Float64Array, place: number) => number
}

function writerOf(
  { channels, colorSpace }: ReflectanceOutput,
  width: number,
  height: number,
  isDeep: boolean,
): Writer {
  const full = isDeep ? 65535 : 255
  const values = isDeep
    ? new Uint16Array(width * height * channels)
    : new Uint8Array(width * height * channels)
  return {
    pixels: { width, height, channels, bits: isDeep ? 16 : 8, values },
    write(at, own, place) {
      for (let channel = 0; channel < channels; channel++) {
        const value = own[place + channel]!
        const stored = colorSpace === 'sRGB' ? encodeSrgb(value) : value
        values[at * channels + channel] = Math.round(full * Math.min(1, Math.max(0, stored)))
      }
      return place + channels
    },
  }
}

/**
 * One pixel's values of the target for those of its inputs.
 *
 * @returns a function of the inputs' numbers one behind another (light where they are colours), which gives the outputs'
 * likewise, divided by their scale. What it returns is valid until it is called again.
 */
export function createPixelConverter({
  from,
  to,
  values,
  inputs,
  outputs,
}: ReflectanceMaps): (given: Float64Array) => Float64Array {
  const result = new Float64Array(outputs.reduce((sum, { channels }) => sum + channels, 0))
  return (given) => {
    const own: Record<string, SurfaceValue> = { ...values }
    let at = 0
    for (const { parameter } of inputs) {
      own[parameter.name!] = parameter.width === 3 ? [given[at]!, given[at + 1]!, given[at + 2]!] : given[at]!
      at += parameter.width
    }
    const out = convertValues(own, from, to)
    let place = 0
    for (const { parameter, channels, scale } of outputs) {
      const value = out[parameter.name!]
      for (let channel = 0; channel < channels; channel++)
        result[place++] = (typeof value === 'number' ? value : (value as readonly number[])[channel]!) / scale
    }
    return result
  }
}
