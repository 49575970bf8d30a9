/** Which point that no polygon uses is which, once those of the polygons are known. */
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { matchPositions } from './match-positions.ts'
import { pointsApart } from './points-apart.ts'

/** How far apart one place may lie on both sides, as a share of the part's diagonal: what numbers lose on their way. */
const ONE_PLACE = 1e-5
/** So many that moved are held against each other at most. */
const MOST_MOVED = 1000
/**
 * A point that moved is the nearest one where every other lies so many times as far off, seen from either side, and so many
 * times as far as points of polygons moved in the mean.
 */
const BY_FAR = 3
/** It moved no farther than so many times as far as those did. */
const MOST_MOVE = 10

/**
 * Goes by their order where that of the polygons' points was kept and none came or went, else by their places: one on the
 * same spot first, then the nearest, if it is that by far. The rest stays open: nothing tells which is which.
 *
 * @param forward one a master point, the returned one or -1; what is found is put in.
 * @param backward the other way round.
 */
export function pairLoosePoints(
  master: Mesh,
  returned: Mesh,
  forward: Int32Array,
  backward: Int32Array,
): Int32Array {
  const own = openOf(forward)
  const others = openOf(backward)
  if (own.length === 0 || others.length === 0) return forward
  const pair = (point: number, other: number): void => {
    forward[point] = other
    backward[other] = point
  }
  if (own.length === others.length && isRising(forward)) {
    own.forEach((point, at) => pair(point, others[at]!))
    return forward
  }
  const reach = diagonalOf(boundsOf(master.points)) * ONE_PLACE
  matchPositions(placesOf(master, own), placesOf(returned, others), reach).forEach((other, at) => {
    if (other >= 0) pair(own[at]!, others[other]!)
  })
  pairMoved(master, returned, forward, backward, pair)
  return forward
}

/** Points without a pair; of a million that have one nothing is made. */
function openOf(pairs: Int32Array): number[] {
  const open: number[] = []
  for (let point = 0; point < pairs.length; point++) if (pairs[point]! < 0) open.push(point)
  return open
}

const placesOf = (mesh: Mesh, points: readonly number[]): Float64Array =>
  Float64Array.from(points.flatMap((point) => [...mesh.points.subarray(3 * point, 3 * point + 3)]))

function isRising(pairs: Int32Array): boolean {
  let last = -1
  for (const other of pairs) {
    if (other < 0) continue
    if (other < last) return false
    last = other
  }
  return true
}

type Pair = (point: number, other: number) => void

const isPlace = (points: Float64Array, point: number): boolean =>
  Number.isFinite(points[3 * point]! + points[3 * point + 1]! + points[3 * point + 2]!)

function pairMoved(
  master: Mesh,
  returned: Mesh,
  forward: Int32Array,
  backward: Int32Array,
  pair: Pair,
): void {
  const [own, others] = [openOf(forward), openOf(backward)]
  if (own.length === 0 || others.length === 0 || Math.max(own.length, others.length) > MOST_MOVED) return
  const moved = meanMove(master, returned, forward)
  const far = (at: number, other: number): number => pointsApart(master, own[at]!, returned, others[other]!)
  const nearestOf = (count: number, apart: (at: number) => number): number => {
    let [best, least, next] = [-1, Infinity, Infinity]
    for (let at = 0; at < count; at++) {
      const away = apart(at)
      if (away < least) [best, next, least] = [at, least, away]
      else if (away < next) next = away
    }
    return Math.max(least, moved) * BY_FAR <= next && least <= moved * MOST_MOVE ? best : -1
  }
  const chosen = own.map((_point, at) => nearestOf(others.length, (other) => far(at, other)))
  const back = others.map((_other, other) => nearestOf(own.length, (at) => far(at, other)))
  chosen.forEach((other, at) => {
    if (other >= 0 && back[other] === at) pair(own[at]!, others[other]!)
  })
}

/** How far paired points moved, as the root of the mean square; 0 for none. */
function meanMove(master: Mesh, returned: Mesh, pairs: Int32Array): number {
  let [sum, count] = [0, 0]
  pairs.forEach((other, point) => {
    if (other < 0 || !isPlace(master.points, point) || !isPlace(returned.points, other)) return
    sum += pointsApart(master, point, returned, other) ** 2
    count++
  })
  return count ? Math.sqrt(sum / count) : 0
}
