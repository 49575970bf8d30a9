import { faceCountOf, type Mesh } from '../../../scene/mesh.ts'
import { countBorne, type Neighbours } from '../neighbours.ts'
import type { SupportOf } from './support.ts'

/** Rounds in which points are looked at: one that found its counterpart tells its neighbours' moves. */
const ROUNDS = 4
/**
 * How far from where its neighbours' moves would bring it a point has to lie, in its shortest edge, to be looked at; and to
 * be left open where what lies nearer is not joined to as much.
 */
const [FAR, VERY_FAR] = [0.2, 0.5]
/** Another has to lie nearer to there by this. */
const MUCH_NEARER = 0.5
/** Points up to which all moves are looked at where points are new. */
const MOST_LOOKED_AT = 200_000
/** It may lack so many of the edges that the one before had. */
const EDGES_LESS = 1

/** Mean corners of a polygon beside the master's from which on the returned ones were not cut. */
export const STILL_WHOLE = 0.9
export const meanCorners = (mesh: Mesh): number => mesh.faceVertices.length / Math.max(1, faceCountOf(mesh))

/**
 * A point that is not joined to all counterparts of its neighbours, and went another way than they did, while a point that
 * nobody is paired with lies about where they went: what was pulled out has the UVs of its base, and its base is still
 * there. It takes that one where it has as many edges; else it is left open.
 *
 * @param isByPlaces most pairs go by what lies near or moved alike, and not by exact places, UVs or an order.
 */
export function settleByMoves(
  master: Mesh,
  returned: Mesh,
  pairs: Int32Array,
  taken: Uint8Array,
  near: Neighbours,
  far: Neighbours,
  supportOf: SupportOf,
  isByPlaces: boolean,
): void {
  const borneBy = (point: number, candidate: number): number => countBorne(point, candidate, pairs, near, far)
  const knownAt = (point: number): number => {
    let known = 0
    for (let at = near.offsets[point]!; at < near.offsets[point + 1]!; at++)
      if (pairs[near.others[at]!]! >= 0) known++
    return known
  }
  /** Where a point is expected: moved by the middle of its neighbours' moves, axis by axis. */
  const expected = (point: number): readonly number[] =>
    [0, 1, 2].map((axis) => {
      const moves: number[] = []
      for (let at = near.offsets[point]!; at < near.offsets[point + 1]!; at++) {
        const next = near.others[at]!
        const other = pairs[next]!
        if (other >= 0) moves.push(returned.points[3 * other + axis]! - master.points[3 * next + axis]!)
      }
      moves.sort((a, b) => a - b)
      const middle = moves.length >> 1
      const move = moves.length % 2 ? moves[middle]! : (moves[middle - 1]! + moves[middle]!) / 2
      return master.points[3 * point + axis]! + move
    })
  const awayFrom = (place: readonly number[], other: number): number =>
    Math.hypot(...place.map((value, axis) => value - returned.points[3 * other + axis]!))
  const shortest = (point: number): number => {
    let least = Infinity
    for (let at = near.offsets[point]!; at < near.offsets[point + 1]!; at++)
      least = Math.min(
        least,
        Math.hypot(
          ...[0, 1, 2].map(
            (axis) => master.points[3 * near.others[at]! + axis]! - master.points[3 * point + axis]!,
          ),
        ),
      )
    return least
  }
  /** The point that a returned one is paired with; -1 for none. */
  let owners: Int32Array | null = null
  const ownerOf = (other: number): number => {
    if (!owners) {
      owners = new Int32Array(taken.length).fill(-1)
      for (let point = 0; point < pairs.length; point++) if (pairs[point]! >= 0) owners[pairs[point]!] = point
    }
    const owner = owners[other]!
    return owner >= 0 && pairs[owner] === other ? owner : -1
  }
  const pair = (point: number, other: number): void => {
    pairs[point] = other
    if (owners) owners[other] = point
    taken[other] = 1
  }
  const doubtful = new Set<number>()
  /** Points whose pair was taken from them. */
  const lost = new Set<number>()
  const isUsed = (point: number): boolean => far.offsets[point + 1]! > far.offsets[point]!
  // over polygons that were cut, diagonals bear out what is wrong as well
  const isCut = meanCorners(returned) <= meanCorners(master) * STILL_WHOLE
  // and where points are new, at a border, so does what was pulled out
  const looksAtMoves =
    isCut || (pairs.length <= MOST_LOOKED_AT && taken.some((one, point) => !one && isUsed(point)))
  const { known, borne } = supportOf(pairs)
  for (let point = 0; point < pairs.length; point++) {
    const own = pairs[point]!
    if (own < 0) continue
    if (
      borne[point]! < known[point]! ||
      (looksAtMoves &&
        awayFrom(expected(point), own) > shortest(point) * (isByPlaces && isCut ? FAR : VERY_FAR))
    )
      doubtful.add(point)
  }
  for (let round = 0; round < ROUNDS; round++) {
    let changed = false
    for (const point of doubtful) {
      const own = pairs[point]!
      // one that was never paired is for growing to find
      if ((own < 0 && !lost.has(point)) || knownAt(point) === 0) continue
      const place = expected(point)
      const off = own < 0 ? shortest(point) : awayFrom(place, own)
      if (own >= 0 && !(off > shortest(point) * FAR)) continue
      let [best, least] = [-1, off * MUCH_NEARER]
      for (let at = near.offsets[point]!; at < near.offsets[point + 1]!; at++) {
        const other = pairs[near.others[at]!]!
        if (other < 0) continue
        for (let beside = far.offsets[other]!; beside < far.offsets[other + 1]!; beside++) {
          const candidate = far.others[beside]!
          if (candidate === own) continue
          // two that changed places are both in doubt; what has UVs of its own doesn’t change places
          if (taken[candidate] && !(isByPlaces && doubtful.has(ownerOf(candidate)))) continue
          const away = awayFrom(place, candidate)
          if (away >= least) continue
          ;[best, least] = [candidate, away]
        }
      }
      if (best < 0) continue
      const isVeryFar = own < 0 || off > shortest(point) * VERY_FAR
      const isBorne =
        borneBy(point, best) + (isVeryFar ? EDGES_LESS : 0) >=
        (own < 0 ? knownAt(point) : borneBy(point, own))
      if (!isBorne && !isVeryFar) continue
      if (own >= 0) taken[own] = 0
      pairs[point] = -1
      lost.add(point)
      if (isBorne) {
        const owner = taken[best] ? ownerOf(best) : -1
        if (owner >= 0) {
          pairs[owner] = -1
          lost.add(owner)
        }
        pair(point, best)
      }
      changed = true
      // what was borne out by it is in doubt as well
      for (let at = near.offsets[point]!; at < near.offsets[point + 1]!; at++) doubtful.add(near.others[at]!)
    }
    if (!changed) return
  }
}
