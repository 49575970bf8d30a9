/**
 * Values of an image at any place of it: between its pixels along straight lines, and over as many of them as one pixel
 * of what is drawn covers, along its longer side as well (mip levels by halves and several looks along the longer axis,
 * common practice).
 */
import { fullScale, type Pixels } from './pixels.ts'
import { stepValues } from './transfer.ts'

export interface SampleOptions {
  /** sRGB: values are light. */
  readonly space: 'sRGB' | 'linear'
  readonly wrapU: 'repeat' | 'clamp'
  readonly wrapV: 'repeat' | 'clamp'
  /** Colours count by their opacity where they are mixed, and are given times it. */
  readonly isPremultiplied: boolean
}

/** How much of an image one look covers. */
export interface Footprint {
  /** 0 for the image as it is, 1 for half of it, and between. */
  readonly level: number
  readonly looks: number
  /** From one look to the next, in UVs. */
  readonly stepU: number
  readonly stepV: number
}

export interface Sampler {
  readonly width: number
  readonly height: number
  readonly channels: number
  /** @param u,v V up, 0 to 1 across the image. @param into `channels` numbers. */
  readonly sample: (u: number, v: number, footprint: Footprint, into: Float64Array) => void
}

const MOST_LOOKS = 8

/** @param along UVs from one drawn pixel to the next: u and v to the right, u and v down. */
export function footprintOf(
  along: readonly [number, number, number, number],
  width: number,
  height: number,
): Footprint {
  const [uRight, vRight, uDown, vDown] = along
  const right = Math.hypot(uRight * width, vRight * height)
  const down = Math.hypot(uDown * width, vDown * height)
  const longer = Math.max(right, down, 1e-12)
  const shorter = Math.min(right, down)
  const looks = Math.max(1, Math.min(MOST_LOOKS, Math.ceil(longer / Math.max(1, shorter) - 1e-6)))
  const [u, v] = right >= down ? [uRight, vRight] : [uDown, vDown]
  return {
    level: Math.max(0, Math.log2(Math.max(shorter, longer / looks))),
    looks,
    stepU: u / looks,
    stepV: v / looks,
  }
}

interface Level {
  readonly width: number
  readonly height: number
  /** Values as they are to be mixed; null for the image itself, which is read through its table. */
  readonly values: Float32Array | null
}

export function createSampler(pixels: Pixels, options: SampleOptions): Sampler {
  const { channels, width, height } = pixels
  const { wrapU, wrapV } = options
  const hasAlpha = channels === 2 || channels === 4
  const colors = hasAlpha ? channels - 1 : channels
  const isPremultiplied = options.isPremultiplied && hasAlpha
  const table = pixels.bits === 32 ? null : stepValues(pixels.bits === 8 ? 255 : 65535, options.space)
  const full = fullScale(pixels)
  const raw = pixels.values
  const valueAt = (at: number, channel: number): number => {
    const own = raw[at + channel]!
    if (!table) return Number.isFinite(own) ? own : 0
    return hasAlpha && channel === colors ? own / full : table[own]!
  }
  const levels: Level[] = [{ width, height, values: null }]
  const levelAt = (wanted: number): number => {
    while (levels.length <= wanted) {
      const last = levels[levels.length - 1]!
      if (last.width === 1 && last.height === 1) break
      levels.push(halved(last))
    }
    return Math.min(wanted, levels.length - 1)
  }
  /** Each pixel the mean of those that it covers; what it covers in part counts in part. */
  function halved(from: Level): Level {
    const [toWidth, toHeight] = [Math.max(1, from.width >> 1), Math.max(1, from.height >> 1)]
    const values = new Float32Array(toWidth * toHeight * channels)
    const sum = new Float64Array(4)
    const pixel = new Float64Array(4)
    const [perX, perY] = [from.width / toWidth, from.height / toHeight]
    for (let row = 0; row < toHeight; row++)
      for (let column = 0; column < toWidth; column++) {
        sum.fill(0)
        for (let y = Math.floor(row * perY); y < (row + 1) * perY; y++) {
          const weightY = Math.min(y + 1, (row + 1) * perY) - Math.max(y, row * perY)
          for (let x = Math.floor(column * perX); x < (column + 1) * perX; x++) {
            const weight = weightY * (Math.min(x + 1, (column + 1) * perX) - Math.max(x, column * perX))
            if (weight <= 0) continue
            fetch(from, x, y, pixel)
            for (let channel = 0; channel < channels; channel++) sum[channel]! += weight * pixel[channel]!
          }
        }
        const at = (row * toWidth + column) * channels
        for (let channel = 0; channel < channels; channel++)
          values[at + channel] = sum[channel]! / (perX * perY)
      }
    return { width: toWidth, height: toHeight, values }
  }
  function fetch(level: Level, x: number, y: number, into: Float64Array): void {
    const at = (y * level.width + x) * channels
    if (level.values) {
      for (let channel = 0; channel < channels; channel++) into[channel] = level.values[at + channel]!
      return
    }
    for (let channel = 0; channel < channels; channel++) into[channel] = valueAt(at, channel)
    if (isPremultiplied) for (let channel = 0; channel < colors; channel++) into[channel]! *= into[colors]!
  }
  const corner = new Float64Array(4)
  const onLevel = (index: number, u: number, v: number, weight: number, into: Float64Array): void => {
    const level = levels[index]!
    const x = (wrapU === 'repeat' ? u - Math.floor(u) : Math.min(1, Math.max(0, u))) * level.width - 0.5
    const y =
      (1 - (wrapV === 'repeat' ? v - Math.floor(v) : Math.min(1, Math.max(0, v)))) * level.height - 0.5
    const left = Math.floor(x)
    const top = Math.floor(y)
    const [shareX, shareY] = [x - left, y - top]
    const x0 = wrapped(left, level.width, wrapU)
    const y0 = wrapped(top, level.height, wrapV)
    const x1 = shareX === 0 ? x0 : wrapped(left + 1, level.width, wrapU)
    const y1 = shareY === 0 ? y0 : wrapped(top + 1, level.height, wrapV)
    const add = (cx: number, cy: number, share: number): void => {
      if (share === 0) return
      fetch(level, cx, cy, corner)
      for (let channel = 0; channel < channels; channel++) into[channel]! += share * corner[channel]!
    }
    add(x0, y0, weight * (1 - shareX) * (1 - shareY))
    add(x1, y0, weight * shareX * (1 - shareY))
    add(x0, y1, weight * (1 - shareX) * shareY)
    add(x1, y1, weight * shareX * shareY)
  }
  return {
    width,
    height,
    channels,
    sample(u, v, { level, looks, stepU, stepV }, into) {
      into.fill(0)
      const lower = levelAt(Math.floor(level))
      const upper = level > lower ? levelAt(lower + 1) : lower
      const share = upper > lower ? level - lower : 0
      for (let look = 0; look < looks; look++) {
        const away = look - (looks - 1) / 2
        const [ownU, ownV] = [u + away * stepU, v + away * stepV]
        onLevel(lower, ownU, ownV, (1 - share) / looks, into)
        if (share > 0) onLevel(upper, ownU, ownV, share / looks, into)
      }
    },
  }
}

const wrapped = (at: number, size: number, wrap: 'repeat' | 'clamp'): number =>
  wrap === 'repeat' ? ((at % size) + size) % size : at < 0 ? 0 : at >= size ? size - 1 : at
