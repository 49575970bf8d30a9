/** Whether UVs that are others, corner by corner, are so by one way alone. */
import { LAYOUT_TURNS, meantFactor, turnedU, turnedV, type LayoutWay } from './layout-way.ts'

/** Shifts are rounded to what is told apart of a tile. */
const SHIFT_STEPS = 1e6
/** UVs on a line turn in several ways alike. */
const STRAIGHT = 1e-8

/**
 * @param own and `other` 2 x corner count, in tiles: the UVs of corners on both sides.
 * @param tolerance how far one may lie off, for its own coordinates, in tiles; times the factor where that is larger.
 * @returns null where no way takes all of them there.
 */
export function wayOfCorners(
  own: Float64Array,
  other: Float64Array,
  tolerance: (u: number, v: number) => number,
): LayoutWay | null {
  const count = own.length / 2
  const middleOf = (values: Float64Array): [number, number] => {
    let [u, v] = [0, 0]
    for (let at = 0; at < values.length; at += 2) {
      u += values[at]!
      v += values[at + 1]!
    }
    return [u / count, v / count]
  }
  const [mu, mv] = middleOf(own)
  const [nu, nv] = middleOf(other)
  let [uu, uv, vv] = [0, 0, 0]
  for (let at = 0; at < own.length; at += 2) {
    const [u, v] = [own[at]! - mu, own[at + 1]! - mv]
    uu += u * u
    uv += u * v
    vv += v * v
  }
  const spread = uu + vv
  if (!(uu * vv - uv * uv > STRAIGHT * spread * spread) || !Number.isFinite(nu + nv)) return null
  for (const turn of LAYOUT_TURNS) {
    let product = 0
    for (let at = 0; at < own.length; at += 2) {
      const [u, v] = [own[at]! - mu, own[at + 1]! - mv]
      product += turnedU(turn, u, v) * (other[at]! - nu) + turnedV(turn, u, v) * (other[at + 1]! - nv)
    }
    const measured = product / spread
    if (!(measured > 0)) continue
    const factor = meantFactor(measured)
    const steps = SHIFT_STEPS / Math.max(1, factor)
    const rounded = (value: number): number => Math.round(value * steps) / steps
    const shift = [rounded(nu - factor * turnedU(turn, mu, mv)), rounded(nv - factor * turnedV(turn, mu, mv))] as const // prettier-ignore
    const wide = Math.max(1, factor)
    let isAll = true
    for (let at = 0; at < own.length && isAll; at += 2) {
      const [u, v] = [own[at]!, own[at + 1]!]
      const within = wide * tolerance(other[at]!, other[at + 1]!)
      isAll =
        Math.abs(factor * turnedU(turn, u, v) + shift[0] - other[at]!) <= within &&
        Math.abs(factor * turnedV(turn, u, v) + shift[1] - other[at + 1]!) <= within
    }
    if (isAll) return { turn, factor, shift }
  }
  return null
}
