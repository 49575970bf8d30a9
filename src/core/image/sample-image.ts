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
  /**
   * Many looks at once, which is twice as quick as one by one: what is looked up for each is looked up for all.
   * @param us,vs `count` places each, as above.
   * @param which of the footprints each has.
   * @param into `count` x `channels` numbers.
   */
  readonly sampleMany: (
    us: Float64Array,
    vs: Float64Array,
    which: Uint32Array,
    footprints: readonly (Footprint | undefined)[],
    count: number,
    into: Float64Array,
  ) => void
}

const MOST_LOOKS = 8
/** What lies this near to a level is taken from it alone, in half the time: a difference of a fourteenth in size. */
const NEAR_LEVEL = 0.1

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
  const level = Math.max(0, Math.log2(Math.max(shorter, longer / looks)))
  const whole = Math.round(level)
  return {
    level: Math.abs(level - whole) < NEAR_LEVEL ? whole : level,
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
  const repeatsU = options.wrapU === 'repeat'
  const repeatsV = options.wrapV === 'repeat'
  const hasAlpha = channels === 2 || channels === 4
  const colors = hasAlpha ? channels - 1 : channels
  const isPremultiplied = options.isPremultiplied && hasAlpha
  const table = pixels.bits === 32 ? null : stepValues(pixels.bits === 8 ? 255 : 65535, options.space)
  const full = fullScale(pixels)
  const raw = pixels.values
  /** Values of the image itself that are read through the table alone. */
  const isPlain = table !== null && !hasAlpha
  const levels: Level[] = [{ width, height, values: null }]
  const levelAt = (wanted: number): number => {
    while (levels.length <= wanted) {
      const last = levels[levels.length - 1]!
      if (last.width === 1 && last.height === 1) break
      levels.push(halved(last))
    }
    return wanted < levels.length ? wanted : levels.length - 1
  }

  function fetch(level: Level, x: number, y: number, into: Float64Array): void {
    const at = (y * level.width + x) * channels
    for (let channel = 0; channel < channels; channel++) {
      if (level.values) into[channel] = level.values[at + channel]!
      else {
        const own = raw[at + channel]!
        if (!table) into[channel] = Number.isFinite(own) ? own : 0
        else into[channel] = hasAlpha && channel === colors ? own / full : table[own]!
      }
    }
    if (!level.values && isPremultiplied)
      for (let channel = 0; channel < colors; channel++) into[channel]! *= into[colors]!
  }

  /** Each pixel the mean of those that it covers; what it covers in part counts in part. */
  function halved(from: Level): Level {
    const [toWidth, toHeight] = [Math.max(1, from.width >> 1), Math.max(1, from.height >> 1)]
    const values = new Float32Array(toWidth * toHeight * channels)
    if (from.width === 2 * toWidth && from.height === 2 * toHeight && (from.values || isPlain)) {
      const source = from.values ?? raw
      const steps = from.values ? null : table!
      const line = from.width * channels
      for (let row = 0, to = 0; row < toHeight; row++)
        for (let column = 0, at = 2 * row * line; column < toWidth; column++, at += 2 * channels)
          for (let channel = 0; channel < channels; channel++, to++) {
            const a = at + channel
            const b = a + channels
            values[to] = steps
              ? (steps[source[a]!]! +
                  steps[source[b]!]! +
                  steps[source[a + line]!]! +
                  steps[source[b + line]!]!) /
                4
              : (source[a]! + source[b]! + source[a + line]! + source[b + line]!) / 4
          }
      return { width: toWidth, height: toHeight, values }
    }
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

  const pixel = new Float64Array(4)
  function onLevel(level: Level, u: number, v: number, weight: number, into: Float64Array): void {
    const wide = level.width
    const high = level.height
    const x = (repeatsU ? u - Math.floor(u) : u < 0 ? 0 : u > 1 ? 1 : u) * wide - 0.5
    const y = (1 - (repeatsV ? v - Math.floor(v) : v < 0 ? 0 : v > 1 ? 1 : v)) * high - 0.5
    const left = Math.floor(x)
    const top = Math.floor(y)
    const shareX = x - left
    const shareY = y - top
    const x0 = left < 0 ? (repeatsU ? wide - 1 : 0) : left
    const y0 = top < 0 ? (repeatsV ? high - 1 : 0) : top
    const x1 = left + 1 < wide ? left + 1 : repeatsU ? 0 : wide - 1
    const y1 = top + 1 < high ? top + 1 : repeatsV ? 0 : high - 1
    const w00 = weight * (1 - shareX) * (1 - shareY)
    const w10 = weight * shareX * (1 - shareY)
    const w01 = weight * (1 - shareX) * shareY
    const w11 = weight * shareX * shareY
    if (level.values || isPlain) {
      const a = (y0 * wide + x0) * channels
      const b = (y0 * wide + x1) * channels
      const c = (y1 * wide + x0) * channels
      const d = (y1 * wide + x1) * channels
      const values = level.values
      if (values)
        for (let channel = 0; channel < channels; channel++)
          into[channel]! +=
            w00 * values[a + channel]! +
            w10 * values[b + channel]! +
            w01 * values[c + channel]! +
            w11 * values[d + channel]!
      else
        for (let channel = 0; channel < channels; channel++)
          into[channel]! +=
            w00 * table![raw[a + channel]!]! +
            w10 * table![raw[b + channel]!]! +
            w01 * table![raw[c + channel]!]! +
            w11 * table![raw[d + channel]!]!
      return
    }
    const add = (cx: number, cy: number, share: number): void => {
      if (share === 0) return
      fetch(level, cx, cy, pixel)
      for (let channel = 0; channel < channels; channel++) into[channel]! += share * pixel[channel]!
    }
    add(x0, y0, w00)
    add(x1, y0, w10)
    add(x0, y1, w01)
    add(x1, y1, w11)
  }

  const sample: Sampler['sample'] = (u, v, { level, looks, stepU, stepV }, into) => {
    for (let channel = 0; channel < channels; channel++) into[channel] = 0
    const whole = Math.floor(level)
    const lower = whole < levels.length ? whole : levelAt(whole)
    const share = level - whole
    const upper = share > 1e-3 ? levelAt(lower + 1) : lower
    for (let look = 0; look < looks; look++) {
      const away = look - (looks - 1) / 2
      const ownU = u + away * stepU
      const ownV = v + away * stepV
      if (upper === lower) onLevel(levels[lower]!, ownU, ownV, 1 / looks, into)
      else {
        onLevel(levels[lower]!, ownU, ownV, (1 - share) / looks, into)
        onLevel(levels[upper]!, ownU, ownV, share / looks, into)
      }
    }
  }

  const one = new Float64Array(4)
  return {
    width,
    height,
    channels,
    sample,
    sampleMany(us, vs, which, footprints, count, into) {
      let before = -1
      let footprint: Footprint | undefined
      /** The one level that is looked at, by its values; null: several, or not plainly. */
      let values: Float32Array | null = null
      let [wide, high] = [0, 0]
      for (let at = 0; at < count; at++) {
        if (which[at] !== before) {
          before = which[at]!
          footprint = footprints[before]
          values = null
          if (footprint?.looks === 1 && footprint.level === Math.floor(footprint.level)) {
            const level = levels[levelAt(footprint.level)]!
            values = level.values
            wide = level.width
            high = level.height
          }
        }
        const to = at * channels
        if (values === null) {
          if (!footprint) continue
          sample(us[at]!, vs[at]!, footprint, one)
          for (let channel = 0; channel < channels; channel++) into[to + channel] = one[channel]!
          continue
        }
        const u = us[at]!
        const v = vs[at]!
        const x = (repeatsU ? u - Math.floor(u) : u < 0 ? 0 : u > 1 ? 1 : u) * wide - 0.5
        const y = (1 - (repeatsV ? v - Math.floor(v) : v < 0 ? 0 : v > 1 ? 1 : v)) * high - 0.5
        const left = Math.floor(x)
        const top = Math.floor(y)
        const shareX = x - left
        const shareY = y - top
        const x0 = left < 0 ? (repeatsU ? wide - 1 : 0) : left
        const y0 = (top < 0 ? (repeatsV ? high - 1 : 0) : top) * wide
        const x1 = left + 1 < wide ? left + 1 : repeatsU ? 0 : wide - 1
        const y1 = (top + 1 < high ? top + 1 : repeatsV ? 0 : high - 1) * wide
        let a = (y0 + x0) * channels
        let b = (y0 + x1) * channels
        let c = (y1 + x0) * channels
        let d = (y1 + x1) * channels
        for (let channel = 0; channel < channels; channel++) {
          const above = values[a]! + (values[b]! - values[a]!) * shareX
          const below = values[c]! + (values[d]! - values[c]!) * shareX
          into[to + channel] = above + (below - above) * shareY
          a++
          b++
          c++
          d++
        }
      }
    },
  }
}
