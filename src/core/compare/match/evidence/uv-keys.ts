/** UVs as numbers, for finding the same one on both sides of a hop. */
import { remember } from '../../../base/remembering/remember.ts'
import type { UvSet } from '../../../scene/mesh.ts'

/** A UV is told from another by so much of the tile: six digits of text survive. */
const PER_UNIT = 1e6
/** Digits behind the point to which some tools round what they write (common practice). */
const [FEWEST_DIGITS, MOST_DIGITS] = [3, 5]
/** How far a rounded value may lie from its digits, in units of the last: single precision has no more. */
const ROUNDED = 2e-3
/** Values that are looked at, and how few say nothing. */
const [MOST_LOOKED_AT, FEWEST_VALUES] = [4000, 16]

/** Units of V, of which 2 ** 27 millionths stand between two values of U. */
const FARTHEST_V = 60

/**
 * A UV as one number; null where it lies so far out that two could give one.
 *
 * @param perUnit what is told apart: as many steps to the tile's side, see `stepsOf`.
 */
export function uvKey({ values }: UvSet, uv: number, perUnit = PER_UNIT): number | null {
  const v = values[2 * uv + 1]!
  const key = Math.round(values[2 * uv]! * perUnit) * 2 ** 27 + Math.round(v * perUnit)
  return Number.isSafeInteger(key) && Math.abs(v) <= FARTHEST_V ? key : null
}

/** To how many digits behind the point all values of a set are rounded; more than `MOST_DIGITS` where they are not. */
const digitsOf = remember((values: Float64Array): number => {
  if (values.length < FEWEST_VALUES) return MOST_DIGITS + 1
  const step = Math.max(1, Math.floor(values.length / MOST_LOOKED_AT))
  let digits = FEWEST_DIGITS
  for (let at = 0; at < values.length && digits <= MOST_DIGITS; at += step)
    while (digits <= MOST_DIGITS) {
      const one = values[at]! * 10 ** digits
      if (Math.abs(one - Math.round(one)) <= ROUNDED) break
      digits++
    }
  return digits
})

/** Steps to the tile's side by which UVs of a layout and of what came back are told apart: fewer where that was rounded. */
export function stepsOf(own: UvSet, other: UvSet): number {
  const digits = digitsOf(other.values)
  return digits > MOST_DIGITS || digitsOf(own.values) <= digits ? PER_UNIT : 10 ** digits
}
