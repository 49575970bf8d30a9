/**
 * How far apart two colours look: CIEDE2000 of CIELAB values under D65. Sources: CIE 142-2001 as G. Sharma, W. Wu and
 * E. N. Dalal wrote it out (2005), IEC 61966-2-1 for sRGB; from memory. One is about what an eye can tell.
 */
import { decodeSrgb } from './transfer.ts'

export type Lab = readonly [number, number, number]

/** @param r, g, b sRGB, 0 to 1. */
export function labOfSrgb(r: number, g: number, b: number): Lab {
  return labOfLight(decodeSrgb(r), decodeSrgb(g), decodeSrgb(b))
}

/** @param lr, lg, lb light of the primaries of sRGB, 0 to 1. */
export function labOfLight(lr: number, lg: number, lb: number): Lab {
  const x = (0.4124564 * lr + 0.3575761 * lg + 0.1804375 * lb) / 0.95047
  const y = 0.2126729 * lr + 0.7151522 * lg + 0.072175 * lb
  const z = (0.0193339 * lr + 0.119192 * lg + 0.9503041 * lb) / 1.08883
  const f = (t: number): number => (t > 216 / 24389 ? Math.cbrt(t) : (t * (24389 / 27) + 16) / 116)
  const [fx, fy, fz] = [f(x), f(y), f(z)]
  return [116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)]
}

const degrees = (radians: number): number => ((radians * 180) / Math.PI + 360) % 360
const cos = (angle: number): number => Math.cos((angle * Math.PI) / 180)
const sin = (angle: number): number => Math.sin((angle * Math.PI) / 180)

export function ciede2000([l1, a1, b1]: Lab, [l2, a2, b2]: Lab): number {
  const mean = (Math.hypot(a1, b1) + Math.hypot(a2, b2)) / 2
  const g = 0.5 * (1 - Math.sqrt(mean ** 7 / (mean ** 7 + 25 ** 7)))
  const [p1, p2] = [a1 * (1 + g), a2 * (1 + g)]
  const [c1, c2] = [Math.hypot(p1, b1), Math.hypot(p2, b2)]
  const h1 = c1 === 0 ? 0 : degrees(Math.atan2(b1, p1))
  const h2 = c2 === 0 ? 0 : degrees(Math.atan2(b2, p2))
  const isGrey = c1 * c2 === 0
  let turn = h2 - h1
  if (isGrey) turn = 0
  else if (turn > 180) turn -= 360
  else if (turn < -180) turn += 360
  const dL = l2 - l1
  const dC = c2 - c1
  const dH = 2 * Math.sqrt(c1 * c2) * sin(turn / 2)
  const l = (l1 + l2) / 2
  const c = (c1 + c2) / 2
  let h = h1 + h2
  if (!isGrey) {
    if (Math.abs(h1 - h2) <= 180) h /= 2
    else h = h < 360 ? (h + 360) / 2 : (h - 360) / 2
  }
  const t = 1 - 0.17 * cos(h - 30) + 0.24 * cos(2 * h) + 0.32 * cos(3 * h + 6) - 0.2 * cos(4 * h - 63)
  const sL = 1 + (0.015 * (l - 50) ** 2) / Math.sqrt(20 + (l - 50) ** 2)
  const sC = 1 + 0.045 * c
  const sH = 1 + 0.015 * c * t
  const around = 30 * Math.exp(-(((h - 275) / 25) ** 2))
  const rT = -2 * Math.sqrt(c ** 7 / (c ** 7 + 25 ** 7)) * sin(2 * around)
  return Math.sqrt((dL / sL) ** 2 + (dC / sC) ** 2 + (dH / sH) ** 2 + rT * (dC / sC) * (dH / sH))
}

/**
 * Two pictures of one size compared.
 * @param a, b red, green, blue and opacity as bytes; only pixels that are opaque in one of them count.
 */
export function pictureDifference(
  a: Uint8Array | Uint8ClampedArray,
  b: Uint8Array | Uint8ClampedArray,
): { mean: number; largest: number } {
  let sum = 0
  let largest = 0
  let counted = 0
  for (let at = 0; at + 3 < Math.min(a.length, b.length); at += 4) {
    if (a[at + 3] === 0 && b[at + 3] === 0) continue
    const lab = (from: Uint8Array | Uint8ClampedArray): Lab =>
      labOfSrgb(from[at]! / 255, from[at + 1]! / 255, from[at + 2]! / 255)
    const apart = ciede2000(lab(a), lab(b))
    sum += apart
    largest = Math.max(largest, apart)
    counted++
  }
  return { mean: counted ? sum / counted : 0, largest }
}
