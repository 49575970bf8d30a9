import { findBorderLoops } from '../relations/border-loops.ts'
import { findWelds } from './find-welds.ts'
import type { MeshFacts } from '../relations/mesh-facts.ts'

/**
 * Points of different open borders that lie within the distance, in pairs: never two points of the same
 * border, and of one border only the nearest point goes to a point of another.
 */
export function findBorderWelds(facts: MeshFacts, distance: number, chosen: Uint8Array | null): Uint32Array {
  const { pointLoops } = findBorderLoops(facts)
  const points = facts.points()
  const onBorder = Uint8Array.from(pointLoops, (loop, point) =>
    loop >= 0 && (!chosen || chosen[point]) ? 1 : 0,
  )
  const target = findWelds(
    points,
    distance,
    onBorder,
    (point, kept) => pointLoops[point] !== pointLoops[kept],
  )
  // two points of one border that would go to the same point would be welded to each other
  const nearest = new Map<string, { point: number; squared: number }>()
  for (let point = 0; point < target.length; point++) {
    const kept = target[point]!
    if (kept === point) continue
    const squared = [0, 1, 2].reduce(
      (sum, axis) => sum + (points[3 * point + axis]! - points[3 * kept + axis]!) ** 2,
      0,
    )
    const key = `${kept} ${pointLoops[point]}`
    const known = nearest.get(key)
    if (known && known.squared <= squared) target[point] = point
    else {
      if (known) target[known.point] = known.point
      nearest.set(key, { point, squared })
    }
  }
  return target
}
