/** Whether two pieces in other polygons are one surface: how far points of each lie from the other. */
import { diagonalOf, type Box } from '../../base/math/box.ts'
import { buildBvh, type Bvh } from '../../base/math/bvh.ts'

/** Corners of two boxes may lie so far apart, in diagonals of the larger, for the surfaces to be asked. */
const BOXES_NEAR = 0.3
/** Points of either side that are looked at. */
const LOOKED_AT = 96
/** How far these lie from the other surface in the mean, in diagonals of the piece: sculpted, and in other polygons. */
const SAME_SURFACE = 0.025
/** Another has to lie off by so many times as much, or it might as well be that one. */
const CLEARLY = 2
/** What lies nearer than this lies on it. */
const ON_IT = 1e-3
/** More pairs than this are not looked at, and of those whose boxes are near no more than this. */
const MOST_PAIRS = 1_000_000
const MOST_NEAR = 4000

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

function boxesNear(a: Box, b: Box): boolean {
  const size = Math.max(diagonalOf(a), diagonalOf(b))
  return (
    size > 0 &&
    [0, 1, 2].every(
      (axis) =>
        Math.abs(a.min[axis]! - b.min[axis]!) <= BOXES_NEAR * size &&
        Math.abs(a.max[axis]! - b.max[axis]!) <= BOXES_NEAR * size,
    )
  )
}

/** How far each lies off the other in the mean, in diagonals of the larger: the greater of the two. */
function surfacesApart(a: Standing, b: Standing): number {
  const size = Math.max(diagonalOf(a.box), diagonalOf(b.box))
  const off = meanOff(a, b) / size
  return off > SAME_SURFACE * CLEARLY ? off : Math.max(off, meanOff(b, a) / size)
}

export interface OnSurface {
  /** Places in the two lists. */
  readonly own: number
  readonly other: number
}

/** The least of what is put under each key, and the least of any other group than that one's. */
function createLeast(): {
  readonly put: (key: number, group: number, value: number) => void
  /** The least under a key that is not of a group. */
  readonly beside: (key: number, group: number) => number
} {
  const held = new Map<number, { group: number; least: number; next: number }>()
  return {
    put(key, group, value) {
      const entry = held.get(key)
      if (!entry) held.set(key, { group, least: value, next: Infinity })
      else if (group === entry.group) entry.least = Math.min(entry.least, value)
      else if (value < entry.least) held.set(key, { group, least: value, next: entry.least })
      else entry.next = Math.min(entry.next, value)
    },
    beside(key, group) {
      const entry = held.get(key)
      return !entry ? Infinity : entry.group === group ? entry.next : entry.least
    },
  }
}

/**
 * Pieces of two sides that are one surface, where neither lies nearly as well on any other. Each of the second side is in one
 * pair at most.
 *
 * @param groupOf what a piece of the first side stands for: of pieces of one group either will do.
 * @returns none where so many lie near each other that asking them all would take too long.
 */
export function findOnSurface(
  ours: readonly Standing[],
  theirs: readonly Standing[],
  groupOf: (own: number) => number = (own) => own,
): OnSurface[] {
  if (ours.length * theirs.length > MOST_PAIRS) return []
  const near: OnSurface[] = []
  for (let own = 0; own < ours.length; own++)
    for (let other = 0; other < theirs.length; other++)
      if (boxesNear(ours[own]!.box, theirs[other]!.box) && near.push({ own, other }) > MOST_NEAR) return []
  const byOwn = createLeast()
  const byOther = createLeast()
  const found = near.flatMap((pair) => {
    const off = surfacesApart(ours[pair.own]!, theirs[pair.other]!)
    if (!Number.isFinite(off)) return []
    byOwn.put(pair.own, pair.other, off)
    byOther.put(pair.other, groupOf(pair.own), off)
    return [{ ...pair, off }]
  })
  const taken = new Set<number>()
  return found
    .filter(({ own, other, off }) => {
      const beside = Math.min(byOwn.beside(own, other), byOther.beside(other, groupOf(own)))
      return off <= SAME_SURFACE && beside > CLEARLY * Math.max(off, ON_IT)
    })
    .sort((a, b) => a.off - b.off)
    .flatMap(({ own, other }) => {
      if (taken.has(other)) return []
      taken.add(other)
      return [{ own, other }]
    })
}
