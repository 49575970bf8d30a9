import { diagonalOf, boundsOf } from '../../../base/math/box.ts'
import type { Mesh } from '../../../scene/mesh.ts'
import { shellsOf, type Neighbours } from '../neighbours.ts'
import { createNearestPoints } from './nearest-points.ts'

/** Shells beyond which none is held against others. */
const MOST_SHELLS = 20_000
/** Points of a shell from which is looked at what lies beside it. */
const LOOKED_FROM = 12
/** How much moves may differ, in how far the points lie from each other: what is sculpted goes much the same way. */
const MOST_DIFFERENCE = 0.5
/** Share of the looks that have to agree: at what lies beside it, and at what is made like no other. */
const LEAST_AGREEING = 0.6
/** The first reach of a look beside the whole, and how often it is doubled. */
const [FIRST_REACH, DOUBLINGS] = [1 / 512, 10]

/**
 * Of shells that are made alike, hair cards or bolts, the nearest may be another's counterpart where all moved farther than
 * they lie apart: then each goes its own way, which nothing that is sculpted does, and their pairs are dropped. One that is
 * made like no other may go anywhere.
 *
 * @param pairs one a master point, -1 for none; changed in place. @param taken one a returned point; changed in place.
 */
export function keepCoherent(
  master: Mesh,
  returned: Mesh,
  pairs: Int32Array,
  taken: Uint8Array,
  near: Neighbours,
): void {
  const shells = shellsOf(near)
  const pointsOf = new Map<number, number[]>()
  for (let point = 0; point < pairs.length; point++) {
    if (near.offsets[point + 1] === near.offsets[point]) continue
    const root = shells.rootOf(point)
    const held = pointsOf.get(root)
    if (held) held.push(point)
    else pointsOf.set(root, [point])
  }
  // of so many nothing is looked at; loose polygons are such
  if (pointsOf.size < 2 || pointsOf.size > MOST_SHELLS) return
  const makes = new Map<string, number[]>()
  for (const [root, points] of pointsOf) {
    const make = makeOf(points, near)
    const held = makes.get(make)
    if (held) held.push(root)
    else makes.set(make, [root])
  }
  const alike = [...makes.values()].filter((roots) => roots.length > 1).flat()
  if (alike.length === 0) return
  const beside = createNearestPoints(master.points, (point) => pairs[point]! >= 0)
  const whole = diagonalOf(boundsOf(master.points))
  const apart = (a: number, b: number): readonly [number, number] => {
    let [moves, places] = [0, 0]
    for (let axis = 0; axis < 3; axis++) {
      const [x, y] = [master.points[3 * a + axis]!, master.points[3 * b + axis]!]
      moves +=
        (returned.points[3 * pairs[a]! + axis]! - x - (returned.points[3 * pairs[b]! + axis]! - y)) ** 2
      places += (x - y) ** 2
    }
    return [Math.sqrt(moves), Math.sqrt(places)]
  }
  const nearestTo = (point: number, fits: (other: number) => boolean): number => {
    const [x, y, z] = [
      master.points[3 * point]!,
      master.points[3 * point + 1]!,
      master.points[3 * point + 2]!,
    ]
    for (let round = 0, reach = whole * FIRST_REACH; round < DOUBLINGS; round++, reach *= 2) {
      const { best, isCrowded } = beside.nearest(x, y, z, reach, fits)
      if (best >= 0) return best
      if (isCrowded) break
    }
    return -1
  }
  const isAlike = new Set(alike)
  /** Of what is made like no other it is known where it went: where all are pushed on by one, they agree with each other. */
  const isUnique = (other: number): boolean => !isAlike.has(shells.rootOf(other))
  const hasUnique = pairs.some((other, point) => other >= 0 && isUnique(point))
  const looksAt = [(root: number) => (other: number) => shells.rootOf(other) !== root]
  if (hasUnique) looksAt.push(() => isUnique)
  const dropped: number[] = []
  for (const root of alike) {
    const points = pointsOf.get(root)!.filter((point) => pairs[point]! >= 0)
    const step = Math.max(1, Math.floor(points.length / LOOKED_FROM))
    let [looks, agreeing] = [0, 0]
    for (let at = 0; at < points.length; at += step) {
      const point = points[at]!
      for (const isBeside of looksAt) {
        const other = nearestTo(point, isBeside(root))
        if (other < 0) continue
        const [moves, places] = apart(point, other)
        looks++
        if (moves <= places * MOST_DIFFERENCE) agreeing++
      }
    }
    if (looks > 0 && agreeing < looks * LEAST_AGREEING) dropped.push(...points)
  }
  for (const point of dropped) {
    taken[pairs[point]!] = 0
    pairs[point] = -1
  }
}

/** What shells that are made alike share: how many points there are, and how many edges meet at how many of them. */
function makeOf(points: readonly number[], { offsets }: Neighbours): string {
  const counts = new Map<number, number>()
  for (const point of points) {
    const edges = offsets[point + 1]! - offsets[point]!
    counts.set(edges, (counts.get(edges) ?? 0) + 1)
  }
  return [...counts]
    .sort((a, b) => a[0] - b[0])
    .map((one) => one.join('x'))
    .join(' ')
}
