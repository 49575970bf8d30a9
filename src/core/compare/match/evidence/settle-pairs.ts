import type { Mesh } from '../../../scene/mesh.ts'
import { countBorne, type Neighbours } from '../neighbours.ts'
import { pointsApart } from '../points-apart.ts'
import type { SupportOf } from './support.ts'
import { meanCorners, STILL_WHOLE } from './settle-by-moves.ts'

/** Rounds in which points look for a better counterpart than they have. */
const SETTLING_ROUNDS = 3

/**
 * A point that is not joined to all counterparts of its neighbours looks among the points round those for one that is
 * joined to all of them: the top of something that was pulled out has the UVs of its base, and fewer of its edges.
 */
export function settlePairs(
  master: Mesh,
  returned: Mesh,
  pairs: Int32Array,
  taken: Uint8Array,
  near: Neighbours,
  far: Neighbours,
  supportOf: SupportOf,
): void {
  // over polygons that were cut, diagonals are edges more and prove nothing
  if (meanCorners(returned) <= meanCorners(master) * STILL_WHOLE) return
  const edgesBorne = (point: number, candidate: number): number =>
    countBorne(point, candidate, pairs, near, far)
  for (let round = 0; round < SETTLING_ROUNDS; round++) {
    const support = supportOf(pairs)
    let changed = false
    for (let point = 0; point < pairs.length; point++) {
      const own = pairs[point]!
      if (own < 0) continue
      // as long as nothing is another than when it was counted
      if (!changed && support.borne[point] === support.known[point]) continue
      let known = 0
      for (let at = near.offsets[point]!; at < near.offsets[point + 1]!; at++)
        if (pairs[near.others[at]!]! >= 0) known++
      let best = own
      let most = edgesBorne(point, own)
      if (most === known) continue
      for (let at = near.offsets[point]!; at < near.offsets[point + 1]!; at++) {
        const other = pairs[near.others[at]!]!
        if (other < 0) continue
        for (let beside = far.offsets[other]!; beside < far.offsets[other + 1]!; beside++) {
          const candidate = far.others[beside]!
          if (taken[candidate]) continue
          const borne = edgesBorne(point, candidate)
          // it has to lie nearer too
          if (
            borne <= most ||
            pointsApart(master, point, returned, candidate) >= pointsApart(master, point, returned, own)
          )
            continue
          most = borne
          best = candidate
        }
      }
      if (best === own || most < known) continue
      taken[own] = 0
      taken[best] = 1
      pairs[point] = best
      changed = true
    }
    if (!changed) return
  }
}
