/** Points of a model before and after a hop, as what happened to all of it is found from. */
import { transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { pointCountOf, type Mesh } from '../../scene/mesh.ts'

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

/** Points that are looked at of one part, and of all parts together: more say nothing new of a size. */
const MOST_POINTS = 300
const MOST_OF_ALL = 20_000
const LEAST_OF_ONE = 12

/** Points that are looked at of each of so many parts. */
export const pointsEach = (parts: number): number =>
  Math.max(LEAST_OF_ONE, Math.min(MOST_POINTS, Math.floor(MOST_OF_ALL / Math.max(1, parts))))

/** A sample of paired points, spread over the part. @param pointToReturned one a master point, -1 for none. @param most about so many of them. */
export function samplePairs(
  master: PlacedMesh,
  returned: PlacedMesh,
  pointToReturned: Int32Array,
  most: number,
): PointPairs {
  const known: number[] = []
  const step = Math.max(1, Math.floor(pointCountOf(master.mesh) / most))
  for (let point = 0; point < pointToReturned.length; point += step)
    if (pointToReturned[point]! >= 0) known.push(point)
  const pick = (points: Float64Array, numbers: readonly number[]): Float64Array => {
    const picked = new Float64Array(3 * numbers.length)
    numbers.forEach((number, at) => {
      for (let axis = 0; axis < 3; axis++) picked[3 * at + axis] = points[3 * number + axis]!
    })
    return picked
  }
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

/** What tools multiply by: units to each other, and round numbers (common practice). */
export const MEANT_FACTORS: readonly number[] = [
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
