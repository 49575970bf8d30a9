/** Whether a mesh was refined without moving a point, told by where the middles of its cage's edges lie. */
import { boundsOf } from '../../base/math/box.ts'
import { nearestIn } from '../whole/nearest-points.ts'
import { fitSimilarity, similarityMatrix } from '../whole/similarity.ts'

/** Edges, and points, that are looked at, about. */
const MOST_LOOKED_AT = 1500
/** Cells along the box in which points are looked for, at most, and by how many of a surface's points each is wide. */
const [MOST_CELLS, POINTS_WIDE] = [32, 8]

/** How far points that were put on edges lie off the middles of these. */
export interface OffMiddles {
  /** Sum of squares of how far a smooth way would have brought them off. */
  readonly meant: number
  /** The same of those that it did bring off: `meant` where all lie there, 0 where all are in the middle. */
  readonly came: number
  /** Sum of squares of the edges' lengths. */
  readonly lengths: number
}

/** A mesh as a smooth way refines it. */
export interface ExpectedEdges {
  /** 3 x n, its own points first. */
  readonly points: Float64Array
  /** 2 x edge count of its own points. */
  readonly edgePoints: Uint32Array
  readonly edgeCount: number
  /** The point that was put on the first edge; one an edge, in their order. */
  readonly firstMiddle: number
}

/**
 * Refined without moving a point, the middle of an edge stays there however all of it was turned, sized or stretched after
 * that, and near it where points were moved a little any way.
 *
 * @param cage 3 x n, where points lie that descend from the mesh's own; `ofPoint` says which of these each of its points is,
 * -1 for none. @param refined 3 x n, all points of what came back, in the cage's space.
 */
export function offMiddles(
  { points, edgePoints, edgeCount, firstMiddle }: ExpectedEdges,
  cage: Float64Array,
  ofPoint: Int32Array,
  refined: Float64Array,
): OffMiddles {
  const found = { meant: 0, came: 0, lengths: 0 }
  const every = Math.max(1, Math.floor(ofPoint.length / MOST_LOOKED_AT))
  const known = [...ofPoint.keys()].filter((point) => point % every === 0 && ofPoint[point]! >= 0)
  const placesOf = (of: Float64Array, some: readonly number[]): Float64Array =>
    Float64Array.from(some.flatMap((point) => [...of.subarray(3 * point, 3 * point + 3)]))
  const fit = fitSimilarity(placesOf(points, known), placesOf(cage, known.map((point) => ofPoint[point]!))) // prettier-ignore
  const box = boundsOf(refined)
  if (!fit || !box) return found
  const cells = Math.floor(Math.sqrt(refined.length / 3) / POINTS_WIDE)
  const near = nearestIn(refined, box, Math.max(1, Math.min(MOST_CELLS, cells)))
  const matrix = similarityMatrix(fit)
  const step = Math.max(1, Math.floor(edgeCount / MOST_LOOKED_AT))
  for (let edge = 0; edge < edgeCount; edge += step) {
    const [p, q] = [edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!]
    const [a, b] = [3 * ofPoint[p]!, 3 * ofPoint[q]!]
    if (a < 0 || b < 0) continue
    // by how much its point lies off the middle of its ends, as all of it was turned and sized
    const off = [0, 1, 2].map(
      (row) =>
      [0, 1, 2].reduce((sum, axis) => sum + matrix[4 * axis + row]! * (points[3 * (firstMiddle + edge) + axis]! - (points[3 * p + axis]! + points[3 * q + axis]!) / 2), 0), // prettier-ignore
    )
    const middle = [0, 1, 2].map((axis) => (cage[a + axis]! + cage[b + axis]!) / 2)
    const [x, y, z] = middle as [number, number, number]
    const fromMiddle = near.of(x, y, z).away ** 2
    const fromMeant = near.of(x + off[0]!, y + off[1]!, z + off[2]!).away ** 2
    const squared = off.reduce((sum, value) => sum + value * value, 0)
    found.meant += squared
    found.came += fromMiddle + fromMeant > 0 ? (squared * fromMiddle) / (fromMiddle + fromMeant) : squared / 2
    for (let axis = 0; axis < 3; axis++) found.lengths += (cage[a + axis]! - cage[b + axis]!) ** 2
  }
  return found
}
