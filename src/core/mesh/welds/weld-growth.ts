import { countWelds, findWelds } from './find-welds.ts'

/** How many points a weld takes away at rising distances: where the count jumps, features begin to close. */
export function weldGrowth(
  points: Float64Array,
  distances: readonly number[],
): { distance: number; welded: number }[] {
  return distances.map((distance) => ({ distance, welded: countWelds(findWelds(points, distance)) }))
}

/** Distances from a hundred-thousandth to a tenth of a length, evenly on a scale of powers. */
export const growthDistances = (length: number, steps = 17): number[] =>
  Array.from({ length: steps }, (_value, at) => length * 10 ** (-5 + (4 * at) / (steps - 1)))
