import type { MeshFacts } from '../relations/mesh-facts.ts'

/**
 * Points with two edges only, between two polygons (or one, inside a border), that could go without the
 * outline changing by more than rounding, or that bend the shading.
 */
export function findTwoEdgePoints(facts: MeshFacts): number[] {
  const counts = facts.pointEdgeCounts()
  const { offsets } = facts.pointCorners()
  const found: number[] = []
  // at a border's corner two edges are as it should be; with two polygons at it, the point lies between them
  for (let point = 0; point < counts.length; point++)
    if (counts[point] === 2 && offsets[point + 1]! - offsets[point]! === 2) found.push(point)
  return found
}
