/**
 * Whether an image is a map of normals, and which way its green points. A map of normals is known by the length of what
 * its pixels mean; its direction by whether the field is that of a surface: the slopes of a height field have no curl,
 * and they have one where green is turned round. Where the surface bends along the two directions apart (h = f(u) +
 * g(v)) both fit, and nothing is claimed.
 */
import { fullScale, type Pixels } from '../pixels.ts'

export interface NormalFacts {
  /** Nearly all pixels mean a vector of length 1 that points out of the surface, and not all the same one. */
  readonly looksLikeNormals: boolean
  /** Mean curl of the pixels that say something, where green points up, and where it points down; of slopes per pixel. */
  readonly curlUp: number
  readonly curlDown: number
  readonly direction: 'up' | 'down' | 'undecided'
}

/** Share of pixels that have to be of length 1 within `LENGTH_WITHIN`. */
const MOST = 0.9
const LENGTH_WITHIN = 0.12
/** How much larger the wrong way's curl has to be; the undecidable case of the reference has 1.05, the others 20 and more. */
const CLEARLY = 1.6
/**
 * How much curl the right way may have, as a share of how much the slopes change: a surface's has 0.02 to 0.04 in the
 * reference. What is none of either way (a weave that was painted thread by thread, patterns between pixels) can have far
 * less one way than the other by chance.
 */
const MOST_CURL = 0.4
/** Pixels that say something at least. */
const LEAST_PIXELS = 24
/** Slopes beyond this are edges of islands and not of a surface. */
const STEEPEST = 4

/** @param pixels at least 3 channels; read as they are, without a transfer. */
export function normalFacts(pixels: Pixels): NormalFacts {
  const { width, height, channels, values } = pixels
  const none: NormalFacts = { looksLikeNormals: false, curlUp: 0, curlDown: 0, direction: 'undecided' }
  if (channels < 3 || width < 3 || height < 3) return none
  const full = fullScale(pixels)
  const count = width * height
  const alongX = new Float32Array(count)
  const alongY = new Float32Array(count)
  const counts = new Uint8Array(count)
  let unit = 0
  let outward = 0
  let leastX = Infinity
  let mostX = -Infinity
  let leastY = Infinity
  let mostY = -Infinity
  for (let at = 0; at < count; at++) {
    const x = (values[at * channels]! / full) * 2 - 1
    const y = (values[at * channels + 1]! / full) * 2 - 1
    const z = (values[at * channels + 2]! / full) * 2 - 1
    const length = Math.hypot(x, y, z)
    if (Math.abs(length - 1) > LENGTH_WITHIN) continue
    unit++
    if (z <= 0) continue
    outward++
    leastX = Math.min(leastX, x)
    mostX = Math.max(mostX, x)
    leastY = Math.min(leastY, y)
    mostY = Math.max(mostY, y)
    alongX[at] = x / z
    alongY[at] = y / z
    counts[at] = Math.abs(alongX[at]!) < STEEPEST && Math.abs(alongY[at]!) < STEEPEST ? 1 : 0
  }
  // a flat colour is of length 1 by chance
  const varies = mostX - leastX > 0.02 || mostY - leastY > 0.02
  const looksLikeNormals = unit >= MOST * count && outward >= 0.98 * unit && varies
  // four numbers make a curl, each off by up to half a step of two thirds or so more in the slope
  const noise = 6 / full
  let up = 0
  let down = 0
  let used = 0
  let change = 0
  for (let row = 1; row + 1 < height; row++)
    for (let column = 1; column + 1 < width; column++) {
      const at = row * width + column
      if (!counts[at - 1] || !counts[at + 1] || !counts[at - width] || !counts[at + width]) continue
      // v runs up, rows run down
      const xAlongV = alongX[at - width]! - alongX[at + width]!
      const yAlongU = alongY[at + 1]! - alongY[at - 1]!
      const asUp = Math.abs(xAlongV - yAlongU)
      const asDown = Math.abs(xAlongV + yAlongU)
      // flat ground says nothing but the noise of its steps
      if (Math.max(asUp, asDown) <= noise) continue
      change += Math.abs(xAlongV) + Math.abs(yAlongU)
      up += asUp
      down += asDown
      used++
    }
  const curlUp = used ? up / used : 0
  const curlDown = used ? down / used : 0
  const direction =
    used < LEAST_PIXELS || Math.min(up, down) > MOST_CURL * change
      ? 'undecided'
      : curlDown > curlUp * CLEARLY
        ? 'up'
        : curlUp > curlDown * CLEARLY
          ? 'down'
          : 'undecided'
  return { looksLikeNormals, curlUp, curlDown, direction: looksLikeNormals ? direction : 'undecided' }
}
