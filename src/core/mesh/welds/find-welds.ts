import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { createHashGrid } from '../../base/math/hash-grid.ts'

/**
 * Which points become one when all within `distance` (absolute, in the points' unit) are welded.
 *
 * Points are taken in order: one that lies within the distance of an earlier point that stayed goes to the
 * nearest such, others stay. So no two points that stay are within the distance of each other, and none moves
 * by more than the distance, which merging whole chains would not promise. Exact by distance: a hashed grid
 * only finds candidates. Cells hold points that stayed, and those keep apart, so that a million points on one
 * spot take no longer than a million points in order.
 *
 * @param points 3 x n, finite.
 * @param chosen n flags; points that are not chosen neither move nor take others. Null: all.
 * @param mayJoin refuses pairs (the later point, the one that stayed); such a pair is passed over.
 * @returns n; the point each goes to, itself where it stays.
 */
export function findWelds(
  points: Float64Array,
  distance: number,
  chosen: Uint8Array | null = null,
  mayJoin: ((point: number, kept: number) => boolean) | null = null,
): Uint32Array {
  return search(points, distance, chosen, mayJoin, false)
}

/** Candidates that are looked at for each point, on the mean, before smaller cells are taken. */
const MOST_LOOKS = 40

function search(
  points: Float64Array,
  distance: number,
  chosen: Uint8Array | null,
  mayJoin: ((point: number, kept: number) => boolean) | null,
  isCrowded: boolean,
): Uint32Array {
  const pointCount = points.length / 3
  const target = new Uint32Array(pointCount)
  for (let point = 0; point < pointCount; point++) target[point] = point
  if (!(distance >= 0) || pointCount === 0) return target
  const bounds = boundsOf(points)!
  const [ox, oy, oz] = bounds.min
  const diagonal = diagonalOf(bounds)
  // as small as the distance allows, and never so small that cells can't be told apart
  const least = Math.max(4 * distance, diagonal * 1e-9, 1e-150)
  // on a surface about one point a cell, which is quicker; points along a line would crowd into few of these
  const cell = isCrowded ? least : Math.max(2 * distance, diagonal / Math.sqrt(pointCount), least / 4)
  const { heads, next, slotOf, cellOf, insert } = createHashGrid(pointCount, cell, diagonal)
  const distanceSquared = distance * distance
  let looks = 0
  for (let point = 0; point < pointCount; point++) {
    if (chosen && !chosen[point]) continue
    // counted from the lowest corner, cell numbers stay small however far off the points lie
    const x = points[3 * point]! - ox
    const y = points[3 * point + 1]! - oy
    const z = points[3 * point + 2]! - oz
    const x0 = cellOf(x - distance)
    const x1 = cellOf(x + distance)
    const y0 = cellOf(y - distance)
    const y1 = cellOf(y + distance)
    const z0 = cellOf(z - distance)
    const z1 = cellOf(z + distance)
    let best = -1
    let bestSquared = Infinity
    for (let cx = x0; cx <= x1; cx++)
      for (let cy = y0; cy <= y1; cy++)
        for (let cz = z0; cz <= z1; cz++) {
          for (let other = heads[slotOf(cx, cy, cz)]!; other >= 0; other = next[other]!) {
            looks++
            const dx = points[3 * other]! - points[3 * point]!
            const dy = points[3 * other + 1]! - points[3 * point + 1]!
            const dz = points[3 * other + 2]! - points[3 * point + 2]!
            const squared = dx * dx + dy * dy + dz * dz
            if (squared > distanceSquared || squared >= bestSquared) continue
            if (mayJoin && !mayJoin(point, other)) continue
            best = other
            bestSquared = squared
          }
        }
    if (looks > MOST_LOOKS * pointCount && cell > least)
      return search(points, distance, chosen, mayJoin, true)
    if (best >= 0) {
      target[point] = best
      continue
    }
    insert(point, x, y, z)
  }
  return target
}

/** How many points a weld takes away. */
export function countWelds(target: Uint32Array): number {
  let welded = 0
  for (let point = 0; point < target.length; point++) if (target[point] !== point) welded++
  return welded
}

/** The points that a weld takes away, in rising order. */
export const weldedPoints = (target: Uint32Array): Uint32Array =>
  Uint32Array.from(target.keys()).filter((point) => target[point] !== point)

/** Points that become one, each group with the one that stays first. */
export function weldGroups(target: Uint32Array): number[][] {
  const groups = new Map<number, number[]>()
  for (let point = 0; point < target.length; point++) {
    const kept = target[point]!
    if (kept === point) continue
    const group = groups.get(kept)
    if (group) group.push(point)
    else groups.set(kept, [kept, point])
  }
  return [...groups.values()]
}

/** The share of a part's diagonal within which points are taken for one where no distance is given. */
export const WELD_SHARE = 1e-5
