/** Whether two pieces in other polygons are one surface: how far points of each lie from the other. */
import { diagonalOf, type Box } from '../../base/math/box.ts'
import { buildBvh, type Bvh } from '../../base/math/bvh.ts'

/** Corners of two boxes may lie so far apart, in diagonals of the larger, for the surfaces to be asked. */
const BOXES_NEAR = 0.3
/** Points of either side that are looked at. */
const LOOKED_AT = 96
/** How far these lie from the other surface in the mean, in diagonals of the piece: sculpted, and in other polygons. */
export const SAME_SURFACE = 0.025
/** Another has to lie off by so many times as much, or it might as well be that one. */
const CLEARLY = 2
/** What lies nearer than this lies on it. */
const ON_IT = 1e-3

/** Polygons where they stand. */
export interface Standing {
  readonly points: Float64Array
  readonly faceOffsets: Uint32Array
  readonly faceVertices: Uint32Array
  readonly box: Box
}

/** The box of the points that polygons have; null where none of them is anywhere. */
export function boxOfFaces({ points, faceVertices }: Omit<Standing, 'box'>): Box | null {
  const [min, max] = [
    [Infinity, Infinity, Infinity],
    [-Infinity, -Infinity, -Infinity],
  ]
  for (const point of faceVertices)
    for (let axis = 0; axis < 3; axis++) {
      const value = points[3 * point + axis]!
      if (value < min[axis]!) min[axis] = value
      if (value > max[axis]!) max[axis] = value
    }
  return min.every(
    (value, axis) => value <= max[axis]! && Number.isFinite(value) && Number.isFinite(max[axis]!),
  )
    ? ({ min, max } as unknown as Box)
    : null
}

const trees = new WeakMap<Standing, Bvh>()
function treeOf(piece: Standing): Bvh {
  const tree = trees.get(piece) ?? buildBvh(piece)
  trees.set(piece, tree)
  return tree
}

/** The mean distance of some of a piece’s points from the surface of another. */
function meanOff({ points, faceVertices }: Standing, other: Standing): number {
  const tree = treeOf(other)
  const step = Math.max(1, Math.floor(faceVertices.length / LOOKED_AT))
  let [sum, count] = [0, 0]
  for (let corner = 0; corner < faceVertices.length; corner += step) {
    const at = 3 * faceVertices[corner]!
    const place = [points[at]!, points[at + 1]!, points[at + 2]!] as const
    if (!place.every(Number.isFinite)) continue
    sum += tree.nearest(...place)?.distance ?? Infinity
    count++
  }
  return count ? sum / count : Infinity
}

/** How far each lies off the other in the mean, in diagonals of the larger: the greater of the two; infinite where boxes are apart. */
export function surfacesApart(a: Standing, b: Standing): number {
  const size = Math.max(diagonalOf(a.box), diagonalOf(b.box))
  const apart = Math.max(...[0, 1, 2].flatMap((axis) => [Math.abs(a.box.min[axis]! - b.box.min[axis]!), Math.abs(a.box.max[axis]! - b.box.max[axis]!)])) // prettier-ignore
  if (!(size > 0) || apart > BOXES_NEAR * size) return Infinity
  const off = meanOff(a, b) / size
  return off > SAME_SURFACE * CLEARLY ? off : Math.max(off, meanOff(b, a) / size)
}

export interface OnSurface {
  readonly own: number
  readonly other: number
  readonly off: number
}

/**
 * Of all pairs those that are one surface, neither of which lies nearly as well on any other.
 *
 * @param sameOwn whether two of the first kind stand for one and the same thing, so that either will do.
 */
export function clearlyOne(
  pairs: readonly OnSurface[],
  sameOwn: (a: number, b: number) => boolean = (a, b) => a === b,
): OnSurface[] {
  const clear = pairs.filter(
    (one) =>
      one.off <= SAME_SURFACE &&
      pairs.every((other) => {
        const touches = (other.own === one.own) !== (other.other === one.other)
        if (!touches || (other.other === one.other && sameOwn(other.own, one.own))) return true
        return other.off > CLEARLY * Math.max(one.off, ON_IT)
      }),
  )
  const taken = new Set<number>()
  return clear
    .sort((a, b) => a.off - b.off)
    .filter(({ other }) => {
      if (taken.has(other)) return false
      taken.add(other)
      return true
    })
}
