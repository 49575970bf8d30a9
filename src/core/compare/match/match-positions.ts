import { createHashGrid, farthestFrom0 } from '../../base/math/hash-grid.ts'

/** How many points of one cell are looked at for one match. */
const LONGEST_SEARCH = 512

/**
 * Pairs points of two clouds that lie within a distance of each other, by a hashed grid.
 *
 * @param master 3 x n, @param returned 3 x m, both in the same space.
 * @param reach absolute distance in that space; more than it is no match.
 * @returns one a master point: the nearest returned point not taken yet, -1 for none. Of coincident points
 * the first goes with the first, so that unwelded doubles keep their order.
 */
export function matchPositions(master: Float64Array, returned: Float64Array, reach: number): Int32Array {
  const masterCount = master.length / 3
  const returnedCount = returned.length / 3
  const matched = new Int32Array(masterCount).fill(-1)
  if (!(reach > 0) || returnedCount === 0) return matched
  const cell = reach * 2
  const { heads, next, slotOf, cellOf, insert } = createHashGrid(returnedCount, cell, farthestFrom0(returned))
  // a chain starts with its lowest point, so that of coincident points the lowest is met first
  for (let point = returnedCount - 1; point >= 0; point--)
    insert(point, returned[3 * point]!, returned[3 * point + 1]!, returned[3 * point + 2]!)
  const taken = new Uint8Array(returnedCount)
  const reachSquared = reach * reach
  for (let point = 0; point < masterCount; point++) {
    const x = master[3 * point]!
    const y = master[3 * point + 1]!
    const z = master[3 * point + 2]!
    const x0 = cellOf(x - reach)
    const x1 = cellOf(x + reach)
    const y0 = cellOf(y - reach)
    const y1 = cellOf(y + reach)
    const z0 = cellOf(z - reach)
    const z1 = cellOf(z + reach)
    let best = -1
    let bestSquared = reachSquared
    for (let cx = x0; cx <= x1; cx++)
      for (let cy = y0; cy <= y1; cy++)
        for (let cz = z0; cz <= z1; cz++) {
          const slot = slotOf(cx, cy, cz)
          let steps = 0
          let before = -1
          for (let other = heads[slot]!; other >= 0 && bestSquared > 0; other = next[other]!) {
            if (taken[other]) {
              // taken points leave their chain, so that a heap of coincident points stays linear
              if (before < 0) heads[slot] = next[other]!
              else next[before] = next[other]!
              continue
            }
            before = other
            // a heap of points that lie closer than the reach is not searched to its end
            if (++steps > LONGEST_SEARCH) break
            const dx = returned[3 * other]! - x
            const dy = returned[3 * other + 1]! - y
            const dz = returned[3 * other + 2]! - z
            const squared = dx * dx + dy * dy + dz * dz
            if (squared < bestSquared || (squared === bestSquared && (best < 0 || other < best))) {
              best = other
              bestSquared = squared
            }
          }
        }
    if (best >= 0) {
      matched[point] = best
      taken[best] = 1
    }
  }
  return matched
}
