/**
 * Shells that are made alike and stand one behind the other in a file: quads that share no points, cards of hair, twins that
 * were merged. In any order of them the file has the same numbers, so that numbers alone don't say which is which.
 */
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Correspondence } from './correspondence.ts'
import { nearCorners } from './near-corners.ts'

/** How many times as far in square shells have to have moved by their order as by their places. */
const MUCH_FARTHER = 16
/** Pairs of points whose distances are looked at for whether all of it moved as one, and how far their ratios may differ. */
const LOOKED_AT = 200
const AS_ONE = 1e-4

/** Shells of contiguous points and faces. */
interface Run {
  readonly point: number
  readonly pointEnd: number
  readonly face: number
  readonly faceEnd: number
}

/** @returns null where the mesh isn't made of such, or of one alone. */
function runsOf({ faceOffsets, faceVertices }: Mesh, pointCount: number): Run[] | null {
  const runs: Run[] = []
  let [point, pointEnd, face] = [0, 0, 0]
  const faceCount = faceOffsets.length - 1
  for (let at = 0; at < faceCount; at++) {
    let [low, high] = [Infinity, -1]
    for (let corner = faceOffsets[at]!; corner < faceOffsets[at + 1]!; corner++) {
      low = Math.min(low, faceVertices[corner]!)
      high = Math.max(high, faceVertices[corner]!)
    }
    if (low < point) return null
    if (low === pointEnd && at > 0) {
      runs.push({ point, pointEnd, face, faceEnd: at })
      point = pointEnd
      face = at
    }
    pointEnd = Math.max(pointEnd, high + 1)
  }
  if (faceCount > 0) runs.push({ point, pointEnd, face, faceEnd: faceCount })
  return runs.length > 1 && pointEnd === pointCount ? runs : null
}

/** The same for shells with the same polygons over the same numbers, counted from their first. */
function shapeOf({ faceOffsets, faceVertices }: Mesh, { point, pointEnd, face, faceEnd }: Run): string {
  let hash = 0
  for (let at = face; at < faceEnd; at++) {
    hash = Math.imul(hash ^ (faceOffsets[at + 1]! - faceOffsets[at]!), 0x9e3779b1)
    hash ^= hash >>> 15
    for (let corner = faceOffsets[at]!; corner < faceOffsets[at + 1]!; corner++) {
      hash = Math.imul(hash ^ (faceVertices[corner]! - point), 0x85ebca6b)
      hash ^= hash >>> 13
    }
  }
  return `${pointEnd - point} ${faceEnd - face} ${hash}`
}

function middlesOf({ points }: Mesh, runs: readonly Run[]): Float64Array {
  const middles = new Float64Array(3 * runs.length)
  runs.forEach(({ point, pointEnd }, run) => {
    for (let at = point; at < pointEnd; at++)
      for (let axis = 0; axis < 3; axis++)
        middles[3 * run + axis]! += points[3 * at + axis]! / (pointEnd - point)
  })
  return middles
}

/** Boxes that differ in size by more than this, or lie apart by more than this share of them, are laid on each other. */
const OTHER_SIZE = 1.25
const ELSEWHERE = 0.2

/** Changes middles as if all of it were as large as it was, and stood there, where it is not. */
function asLargeAndThere(middles: Float64Array, master: Mesh, returned: Mesh): void {
  const [from, to] = [boundsOf(returned.points), boundsOf(master.points)]
  const [own, wanted] = [diagonalOf(from), diagonalOf(to)]
  if (!from || !to || !(own > 0) || !(wanted > 0)) return
  const [middle, there] = [from, to].map(({ min, max }) => min.map((value, axis) => (value + max[axis]!) / 2)) as [number[], number[]] // prettier-ignore
  const isOtherSize = own > wanted * OTHER_SIZE || wanted > own * OTHER_SIZE
  const apart = Math.hypot(...middle.map((value, axis) => value - there[axis]!))
  if (!isOtherSize && apart <= wanted * ELSEWHERE) return
  const factor = isOtherSize ? wanted / own : 1
  for (let at = 0; at < middles.length; at++)
    middles[at] = there[at % 3]! + factor * (middles[at]! - middle[at % 3]!)
}

/** Whether points of the same numbers lie as far from each other as they did, all larger or smaller alike. */
export function movedAsOne(master: Mesh, returned: Mesh): boolean {
  const count = pointCountOf(master)
  if (count < 2) return true
  const apart = ({ points }: Mesh, a: number, b: number): number =>
    Math.hypot(...[0, 1, 2].map((axis) => points[3 * a + axis]! - points[3 * b + axis]!))
  let [least, most] = [Infinity, 0]
  for (let look = 0; look < LOOKED_AT; look++) {
    const a = (look * 7919) % count
    const b = (a + 1 + ((look * 104729) % (count - 1))) % count
    const before = apart(master, a, b)
    if (!(before > 0)) continue
    const ratio = apart(returned, a, b) / before
    least = Math.min(least, ratio)
    most = Math.max(most, ratio)
  }
  return most - least <= most * AS_ONE
}

/**
 * @param master and the returned one have the same numbers.
 * @param reach within which points count as one. @param uvShare see `agreeingUvs`.
 * @returns which shell is which by their places, where these say much more than their order; else null.
 */
export function permutedShells(
  master: Mesh,
  returned: Mesh,
  reach: number,
  uvShare: (cornerToReturned: Int32Array) => number | null,
): Correspondence | null {
  const pointCount = pointCountOf(master)
  let farthest = 0
  for (let at = 0; at < master.points.length; at++) {
    const away = Math.abs(master.points[at]! - returned.points[at]!)
    // where something is no number places say nothing
    if (!(away < Infinity)) return null
    if (away > farthest) farthest = away
  }
  if (farthest <= reach) return null
  const runs = runsOf(master, pointCount)
  if (!runs || movedAsOne(master, returned)) return null
  const alike = new Map<string, number[]>()
  runs.forEach((run, at) => {
    const shape = shapeOf(master, run)
    const held = alike.get(shape)
    if (held) held.push(at)
    else alike.set(shape, [at])
  })
  const [before, after] = [middlesOf(master, runs), middlesOf(returned, runs)]
  asLargeAndThere(after, master, returned)
  const partner = Int32Array.from(runs, (_run, at) => at)
  let [byOrder, byPlace] = [0, 0]
  const away = (a: number, b: number): number =>
    [0, 1, 2].reduce((sum, axis) => sum + (before[3 * a + axis]! - after[3 * b + axis]!) ** 2, 0)
  for (const held of alike.values()) {
    const find = nearCorners({ ...returned, points: after, faceVertices: Uint32Array.from(partner) }, held)
    const taken = new Set<number>()
    for (const run of held) {
      const nearest = find(before.subarray(3 * run, 3 * run + 3), 1, () => true)[0]!
      // where two come nearest to one, places say nothing
      if (taken.has(nearest)) return null
      taken.add(nearest)
      partner[run] = nearest
      byOrder += away(run, run)
      byPlace += away(run, nearest)
    }
  }
  if (partner.every((other, run) => other === run) || byOrder <= byPlace * MUCH_FARTHER) return null
  return takenBy(master, returned, runs, partner, reach, uvShare)
}

function takenBy(
  master: Mesh,
  returned: Mesh,
  runs: readonly Run[],
  partner: Int32Array,
  reach: number,
  uvShare: (cornerToReturned: Int32Array) => number | null,
): Correspondence | null {
  const { faceOffsets } = master
  const pointToReturned = new Int32Array(pointCountOf(master))
  const faceToReturned = new Int32Array(faceCountOf(master))
  const cornerToReturned = new Int32Array(master.faceVertices.length)
  const inOrder = Int32Array.from(cornerToReturned, (_corner, at) => at)
  runs.forEach((run, at) => {
    const other = runs[partner[at]!]!
    const put = (into: Int32Array, from: number, to: number, first: number): void => {
      for (let k = from; k < to; k++) into[k] = first + k - from
    }
    put(pointToReturned, run.point, run.pointEnd, other.point)
    put(faceToReturned, run.face, run.faceEnd, other.face)
    put(cornerToReturned, faceOffsets[run.face]!, faceOffsets[run.faceEnd]!, faceOffsets[other.face]!)
  })
  // UVs that say it is the order are believed
  if ((uvShare(inOrder) ?? 0) > (uvShare(cornerToReturned) ?? 0)) return null
  let isInPlace = true
  for (let point = 0; point < pointToReturned.length && isInPlace; point++)
    for (let axis = 0; axis < 3; axis++)
      if (
        Math.abs(master.points[3 * point + axis]! - returned.points[3 * pointToReturned[point]! + axis]!) >
        reach
      )
        isInPlace = false
  return {
    kind: isInPlace ? 'position' : 'connectivity',
    pointToReturned,
    faceToReturned,
    cornerToReturned,
    matchedFaceCount: faceToReturned.length,
    turnedFaceCount: 0,
    pieceToMaster: null,
    pieceCorners: null,
    cutFaceCount: 0,
    joinedPoints: null,
  }
}
