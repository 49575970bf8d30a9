/** How many times as large a model came back, by points that correspond: a sculpted box says a little too much or less. */
import { transformPoints, type Matrix } from '../base/math/matrix.ts'
import { pointCountOf, type Mesh } from '../scene/mesh.ts'

export interface PlacedMesh {
  readonly mesh: Mesh
  /** From the mesh's own space to that of the master's scene. */
  readonly world: Matrix
}

/** Points of two sides that are the same ones, in the spaces of their scenes. */
export interface PointPairs {
  /** 3 x n each. */
  readonly master: Float64Array
  readonly returned: Float64Array
}

/** Points that are looked at of one part: more say nothing new of a size. */
const MOST_POINTS = 600
/** Pairs of points of which the distance is taken: from each to so many others. */
const DISTANCES_EACH = 5

/** A sample of paired points, spread over the part. @param pointToReturned one a master point, -1 for none. */
export function samplePairs(
  master: PlacedMesh,
  returned: PlacedMesh,
  pointToReturned: Int32Array,
): PointPairs {
  const known: number[] = []
  const step = Math.max(1, Math.floor(pointCountOf(master.mesh) / MOST_POINTS))
  for (let point = 0; point < pointToReturned.length; point += step)
    if (pointToReturned[point]! >= 0) known.push(point)
  const pick = (points: Float64Array, numbers: readonly number[]): Float64Array =>
    Float64Array.from(numbers.flatMap((number) => [...points.subarray(3 * number, 3 * number + 3)]))
  return {
    master: transformPoints(pick(master.mesh.points, known), master.world),
    returned: transformPoints(
      pick(
        returned.mesh.points,
        known.map((point) => pointToReturned[point]!),
      ),
      returned.world,
    ),
  }
}

/** Distances between the same points on both sides, whatever turn or mirror lies between them. */
function distancesOf(pairs: PointPairs): { master: number[]; returned: number[] } {
  const count = pairs.master.length / 3
  const between = (points: Float64Array, a: number, b: number): number =>
    Math.hypot(
      points[3 * a]! - points[3 * b]!,
      points[3 * a + 1]! - points[3 * b + 1]!,
      points[3 * a + 2]! - points[3 * b + 2]!,
    )
  const found = { master: [] as number[], returned: [] as number[] }
  for (let point = 0; point < count; point++)
    for (let step = 1; step <= DISTANCES_EACH; step++) {
      const other = (point + Math.floor((step * count) / (DISTANCES_EACH + 1))) % count
      const at = between(pairs.master, point, other)
      if (other === point || !(at > 0)) continue
      found.master.push(at)
      found.returned.push(between(pairs.returned, point, other))
    }
  return found
}

/** What tools multiply by: units to each other, and round numbers (common practice). */
const MEANT = [
  100,
  0.01,
  1000,
  0.001,
  10,
  0.1,
  2.54,
  1 / 2.54,
  25.4,
  1 / 25.4,
  39.37007874015748,
  0.0254,
  30.48,
  1 / 30.48,
  0.3048,
  1 / 0.3048,
  12,
  1 / 12,
  3,
  1 / 3,
  2,
  0.5,
  4,
  0.25,
  5,
  0.2,
]
/**
 * A meant factor lies no farther than this from the best one, and is off by no more than so many times as much, and by
 * a fiftieth of the lengths at most: a sculpted surface is stretched a little as a whole too, an untouched one is not.
 */
const NEAR_MEANT = 0.03
const HARDLY_WORSE = 3
const MOST_OFF = 0.02

/**
 * The factor that fits distances between paired points best (least squares over the middle half of their ratios, so that
 * what was pulled out does not count), or what is meant by it, where that fits as well.
 *
 * @returns null where there are too few pairs, or their distances share no factor.
 */
export function factorOf(pairs: readonly PointPairs[]): number | null {
  const all = pairs.map(distancesOf)
  const before = all.flatMap(({ master }) => master)
  const after = all.flatMap(({ returned }) => returned)
  if (before.length < 12) return null
  const order = before
    .map((at, index) => ({ at, to: after[index]!, ratio: after[index]! / at }))
    .sort((a, b) => a.ratio - b.ratio)
  const middle = order.slice(Math.floor(order.length / 4), Math.ceil((order.length * 3) / 4))
  const best =
    middle.reduce((sum, { at, to }) => sum + at * to, 0) / middle.reduce((sum, { at }) => sum + at * at, 0)
  if (!(best > 0) || !Number.isFinite(best)) return null
  const off = (factor: number): number =>
    Math.sqrt(middle.reduce((sum, { at, to }) => sum + (to / factor - at) ** 2, 0) / middle.length)
  const least = off(best)
  const scale = Math.sqrt(middle.reduce((sum, { at }) => sum + at * at, 0) / middle.length)
  const meant = MEANT.filter(
    (factor) =>
      Math.abs(factor / best - 1) < NEAR_MEANT &&
      off(factor) <= Math.min(least * HARDLY_WORSE, scale * MOST_OFF) + scale * 1e-6,
  ).sort((a, b) => Math.abs(a / best - 1) - Math.abs(b / best - 1))
  return meant[0] ?? best
}
