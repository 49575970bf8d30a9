import { createHashGrid, farthestFrom0 } from '../../../base/math/hash-grid.ts'
import { pointCountOf, type Mesh } from '../../../scene/mesh.ts'
import type { Neighbours } from '../neighbours.ts'
import { pointsApart } from '../points-apart.ts'

/** Share of the shortest edge at a point within which the nearest returned point may be it, moved. */
const NEAR = 0.35
/** Points that are looked at for one: in a heap nothing is near in particular. */
const MOST_NEAR = 256

/** Points that are each other's nearest, and nearer than any neighbour: moved a little. */
export function byNearness(master: Mesh, returned: Mesh, { offsets, others }: Neighbours): Int32Array {
  const pairs = new Int32Array(pointCountOf(master)).fill(-1)
  const reach = new Float64Array(pairs.length)
  let longest = 0
  for (let point = 0; point < pairs.length; point++) {
    let shortest = Infinity
    for (let at = offsets[point]!; at < offsets[point + 1]!; at++) {
      const other = others[at]!
      shortest = Math.min(shortest, pointsApart(master, point, master, other))
    }
    reach[point] = Number.isFinite(shortest) ? shortest * NEAR : 0
    longest = Math.max(longest, reach[point]!)
  }
  if (!(longest > 0)) return pairs
  const { heads, next, slotOf, cellOf, insert } = createHashGrid(
    pointCountOf(returned),
    longest * 2,
    farthestFrom0(returned.points),
  )
  for (let point = 0; point < pointCountOf(returned); point++)
    insert(
      point,
      returned.points[3 * point]!,
      returned.points[3 * point + 1]!,
      returned.points[3 * point + 2]!,
    )
  /** Returned points: the master point that is the nearest to each so far, and how far it is. */
  const nearestTo = new Int32Array(pointCountOf(returned)).fill(-1)
  const nearestAway = new Float64Array(nearestTo.length)
  for (let point = 0; point < pairs.length; point++) {
    if (reach[point] === 0) continue
    let best = -1
    let least = reach[point]!
    const x = master.points[3 * point]!
    const y = master.points[3 * point + 1]!
    const z = master.points[3 * point + 2]!
    const [x1, y1, z1] = [cellOf(x + least), cellOf(y + least), cellOf(z + least)]
    const [x0, y0, z0] = [cellOf(x - least), cellOf(y - least), cellOf(z - least)]
    let looked = 0
    for (let cx = x0; cx <= x1; cx++)
      for (let cy = y0; cy <= y1; cy++)
        for (let cz = z0; cz <= z1; cz++)
          for (let other = heads[slotOf(cx, cy, cz)]!; other >= 0; other = next[other]!) {
            if (++looked > MOST_NEAR) break
            const away = pointsApart(master, point, returned, other)
            if (away >= least) continue
            least = away
            best = other
          }
    if (best < 0) continue
    pairs[point] = best
    if (nearestTo[best]! >= 0 && nearestAway[best]! <= least) continue
    nearestTo[best] = point
    nearestAway[best] = least
  }
  return pairs.map((other, point) => (other >= 0 && nearestTo[other] === point ? other : -1))
}
