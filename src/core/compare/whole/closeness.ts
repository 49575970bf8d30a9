/** How near two clouds lie to each other, one of them brought along. */
import type { Box } from '../../base/math/box.ts'
import { diagonalOf } from '../../base/math/box.ts'
import { invertAffine, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { nearestIn, type Nearest } from './nearest-points.ts'
import { fitSimilarity, similarityMatrix } from './similarity.ts'

/** Points that are looked for in each of the ways. */
const MOST_LOOKED_AT = 500
/** Every so many of these are looked at first. */
const FIRST_LOOK = 8
/** Points that lie this near, as a share of the diagonal, lie where they lay. */
export const IN_PLACE = 1e-6
/** Cells along each side of a box in which a point's neighbours are looked for. */
export const FINE = 64

/** Points of a cloud, and the box in which they lie. */
export interface Cloud {
  /** 3 x n. */
  readonly points: Float64Array
  readonly box: Box
}

export interface Closeness {
  /** Mean distance of a few points brought along, as a share of the diagonal. */
  readonly firstLook: (way: Matrix) => number
  /**
   * How far points lie off the other side's, brought along: of what left to what came back, and the other way round. What
   * was left out spoils the one alone, what is new the other.
   */
  readonly offBy: (way: Matrix) => number
  /** A way and how far points lie off along it, brought as near as it gets in so many rounds. */
  readonly brought: (way: Matrix, rounds: number, given?: number) => { way: Matrix; off: number }
}

/** @param cells along each side of the boxes: points that lie farther from each other than such a cell are not near. */
export function closenessOf(own: Cloud, other: Cloud, cells = FINE): Closeness {
  const [nearest, nearestHome] = [
    nearestIn(other.points, other.box, cells),
    nearestIn(own.points, own.box, cells),
  ]
  const every = (points: Float64Array, step: number): Float64Array =>
    Float64Array.from(
      { length: 3 * Math.ceil(points.length / 3 / step) },
      (_value, at) => points[3 * step * Math.floor(at / 3) + (at % 3)]!,
    )
  const [looked, lookedBack] = [own, other].map(({ points }) =>
    every(points, Math.max(1, Math.floor(points.length / 3 / MOST_LOOKED_AT))),
  ) as [Float64Array, Float64Array]
  const few = every(looked, FIRST_LOOK)
  const meanAway = (points: Float64Array, way: Matrix, near: Nearest, box: Box): number => {
    const there = transformPoints(points, way)
    let sum = 0
    for (let at = 0; at < there.length; at += 3)
      sum += near.of(there[at]!, there[at + 1]!, there[at + 2]!).away
    return sum / (there.length / 3) / diagonalOf(box)
  }
  const offBy = (way: Matrix): number => {
    const back = invertAffine(way)
    if (!back) return Infinity
    return Math.sqrt(
      Math.max(meanAway(looked, way, nearest, other.box), IN_PLACE / 100) *
        Math.max(meanAway(lookedBack, back, nearestHome, own.box), IN_PLACE / 100),
    )
  }
  return {
    firstLook: (way) => meanAway(few, way, nearest, other.box),
    offBy,
    brought(start, rounds, given = Infinity) {
      let way = start
      let off = offBy(way)
      for (let round = 0; round < rounds && off < given && off > IN_PLACE / 10; round++) {
        const nearer = bringNearer(looked, way, other.points, nearest)
        const nearerOff = nearer ? offBy(nearer) : Infinity
        if (!nearer || nearerOff >= off) break
        way = nearer
        off = nearerOff
      }
      return { way, off }
    },
  }
}

/** A way that fits the points next to which the last one has brought them. */
function bringNearer(
  looked: Float64Array,
  way: Matrix,
  other: Float64Array,
  nearest: Nearest,
): Matrix | null {
  const there = transformPoints(looked, way)
  const before: number[] = []
  const after: number[] = []
  for (let at = 0; at < there.length; at += 3) {
    const { point } = nearest.of(there[at]!, there[at + 1]!, there[at + 2]!)
    if (point < 0) continue
    for (let axis = 0; axis < 3; axis++) {
      before.push(looked[at + axis]!)
      after.push(other[3 * point + axis]!)
    }
  }
  const fit = fitSimilarity(Float64Array.from(before), Float64Array.from(after))
  return fit && fit.factor > 0 && fit.spread > 0 ? similarityMatrix(fit) : null
}
