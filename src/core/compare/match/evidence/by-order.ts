import { boundsOf, diagonalOf } from '../../../base/math/box.ts'
import { pointCountOf, type Mesh } from '../../../scene/mesh.ts'

/** Numbers that are off by so many are looked at beside the same numbers, in runs of so many points. */
const MOST_SHIFT = 8
const RUN = 16
/** A run that moved so many times as far as the middle one was pushed on by more than that. */
const MUCH_FARTHER = 6
/** What unevenness counts beside distance. */
const UNEVENNESS = 4
/** Share of such runs up to which the order is believed. */
const MOST_STRAYS = 0.02

/**
 * The same numbers, unless there are runs of them where the numbers beside lie nearer: where a point was added or
 * removed, all behind it have moved on, and on a regular lattice the edges bear that out too.
 */
export function byOrder(master: Mesh, returned: Mesh): Int32Array | null {
  const count = pointCountOf(returned)
  const [before, after] = [boundsOf(master.points), boundsOf(returned.points)]
  if (!before || !after) return null
  const scale = (diagonalOf(before) || 1) / (diagonalOf(after) || 1)
  /**
   * How far a run of points moved to those whose numbers are higher by `shift`, and how unevenly: true moves are much
   * alike from one point to the next, however far they go.
   */
  const apart = (start: number, shift: number): number => {
    let sum = 0
    let uneven = 0
    let compared = 0
    let last: readonly number[] | null = null
    for (let point = start; point < Math.min(start + RUN, pointCountOf(master)); point++) {
      const other = point + shift
      if (other < 0 || other >= count) continue
      const move = [0, 1, 2].map(
        (axis) =>
          master.points[3 * point + axis]! -
          before.min[axis]! -
          (returned.points[3 * other + axis]! - after.min[axis]!) * scale,
      )
      sum += Math.hypot(move[0]!, move[1]!, move[2]!)
      if (last) uneven += Math.hypot(move[0]! - last[0]!, move[1]! - last[1]!, move[2]! - last[2]!)
      last = move
      compared++
    }
    return compared ? (sum + UNEVENNESS * uneven) / compared : Infinity
  }
  const starts = Array.from({ length: Math.ceil(pointCountOf(master) / RUN) }, (_run, at) => at * RUN)
  const own = starts.map((start) => apart(start, 0))
  const middle = own.slice().sort((a, b) => a - b)[own.length >> 1] ?? 0
  const least = (diagonalOf(before) || 1) * 1e-6
  const strays = starts.filter((start, run) => {
    if (own[run]! > middle * MUCH_FARTHER + least) return true
    for (let shift = 1; shift <= MOST_SHIFT; shift++)
      if (apart(start, shift) < own[run]! || apart(start, -shift) < own[run]!) return true
    return false
  })
  // one that is cut or pushed on anywhere is not the master's order
  if (strays.length > starts.length * MOST_STRAYS) return null
  return Int32Array.from({ length: pointCountOf(master) }, (_point, at) => (at < count ? at : -1))
}
