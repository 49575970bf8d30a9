/** What is drawn into: whole steps of 16 bits, colours as they are stored and not as light, so that the dark keeps its steps. */
import type { Pixels } from '../../image/pixels.ts'
import { encodeSrgb, stepValues } from '../../image/transfer.ts'
import type { TexelPadding } from '../../uv/texels/pad-texels.ts'

export interface Canvas {
  readonly width: number
  readonly height: number
  readonly channels: 1 | 3
  readonly values: Uint16Array
  /** A value between 0 and 1 (of light, where it is a colour) as a step. */
  readonly encode: (value: number) => number
  /** Steps by a value's share of the full scale, for colours; null where steps are values. */
  readonly curve: Float32Array | null
  /** Step to value. */
  readonly table: Float32Array
}

export const FULL = 65535

/** Steps of the curve that are looked up; between them it is straight to a hundredth of a step. */
const CURVE = new Float32Array(FULL + 2).map((_, at) => encodeSrgb(at / FULL) * FULL)

export function createCanvas(
  width: number,
  height: number,
  channels: 1 | 3,
  space: 'sRGB' | 'linear',
): Canvas {
  const encode =
    space === 'sRGB'
      ? (value: number): number => {
          if (!(value > 0)) return 0
          if (value >= 1) return FULL
          const at = value * FULL
          const low = Math.floor(at)
          return Math.round(CURVE[low]! + (at - low) * (CURVE[low + 1]! - CURVE[low]!))
        }
      : (value: number): number => (value > 0 ? (value >= 1 ? FULL : Math.round(value * FULL)) : 0)
  return {
    width,
    height,
    channels,
    values: new Uint16Array(width * height * channels),
    encode,
    curve: space === 'sRGB' ? CURVE : null,
    table: stepValues(FULL, space),
  }
}

/** One value everywhere. */
export function fillCanvas({ values, channels, encode }: Canvas, value: readonly number[]): void {
  const steps = value.map(encode)
  if (channels === 1) {
    values.fill(steps[0]!)
    return
  }
  for (let at = 0; at < values.length; at += 3) {
    values[at] = steps[0]!
    values[at + 1] = steps[1]!
    values[at + 2] = steps[2]!
  }
}

/** What lies past the borders of islands. */
export function padCanvas({ values, channels }: Canvas, { texels, from }: TexelPadding): void {
  for (let at = 0; at < texels.length; at++)
    for (let channel = 0; channel < channels; channel++)
      values[texels[at]! * channels + channel] = values[from[at]! * channels + channel]!
}

export function canvasPixels({ width, height, channels, values }: Canvas, bits: 8 | 16): Pixels {
  const whole = { width, height, channels } as const
  if (bits === 16) return { ...whole, bits, values }
  const small = new Uint8Array(values.length)
  // the nearest of 255 steps, without a division
  for (let at = 0; at < values.length; at++) small[at] = (values[at]! * 255 + 32895) >> 16
  return { ...whole, bits, values: small }
}
