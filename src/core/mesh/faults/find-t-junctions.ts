import { createHashGrid, farthestFrom0 } from '../../base/math/hash-grid.ts'
import { borderEdges } from '../relations/border-loops.ts'
import type { MeshFacts } from '../relations/mesh-facts.ts'

/** Cells an edge may cross in all; beyond, an edge is longer than a search is worth. */
const MOST_STEPS = 4000000

/** A point on an edge that it does not belong to. */
export interface EdgePoint {
  readonly point: number
  /** Its place from the edge's first point, 0, to its second, 1. */
  readonly share: number
}

/**
 * Border points that lie within `weldDistance` (in the points' unit) of the middle of a border edge of others.
 *
 * @returns by edge, in the order in which they were met.
 */
export function findTJunctions(
  facts: MeshFacts,
  weldDistance: number,
): ReadonlyMap<number, readonly EdgePoint[]> {
  const edges = borderEdges(facts)
  if (edges.length === 0) return new Map()
  const { edgePoints } = facts.edges()
  const points = facts.points()
  const distance = Math.max(weldDistance, facts.diagonal() * 1e-9)
  const borderPoints = [
    ...new Set(Array.from(edges, (edge) => [edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!]).flat()),
  ]
  const cell = Math.max(2 * distance, facts.diagonal() / Math.sqrt(borderPoints.length))
  const { heads, next, slotOf, cellOf, insert } = createHashGrid(
    borderPoints.length,
    cell,
    farthestFrom0(points),
  )
  borderPoints.forEach((point, at) =>
    insert(at, points[3 * point]!, points[3 * point + 1]!, points[3 * point + 2]!),
  )
  const found = new Map<number, EdgePoint[]>()
  let budget = MOST_STEPS
  for (const edge of edges) {
    const from = edgePoints[2 * edge]!
    const to = edgePoints[2 * edge + 1]!
    const a = [points[3 * from]!, points[3 * from + 1]!, points[3 * from + 2]!] as const
    const d = [points[3 * to]! - a[0], points[3 * to + 1]! - a[1], points[3 * to + 2]! - a[2]] as const
    const lengthSquared = d[0] * d[0] + d[1] * d[1] + d[2] * d[2]
    const length = Math.sqrt(lengthSquared)
    if (length <= 2 * distance) continue
    const judge = (point: number): void => {
      if (point === from || point === to) return
      const px = points[3 * point]! - a[0]
      const py = points[3 * point + 1]! - a[1]
      const pz = points[3 * point + 2]! - a[2]
      const share = (px * d[0] + py * d[1] + pz * d[2]) / lengthSquared
      // near its ends it is an unwelded point, not one in the middle
      if (share * length <= distance || (1 - share) * length <= distance) return
      const away = Math.hypot(px - share * d[0], py - share * d[1], pz - share * d[2])
      if (away > distance) return
      const held = found.get(edge)
      if (!held) found.set(edge, [{ point, share }])
      else if (!held.some((known) => known.point === point)) held.push({ point, share })
    }
    // half a cell a step: no cell near the edge is left out of the eight looked at around each step
    const steps = Math.ceil((2 * length) / cell)
    if ((budget -= steps * 8) < 0) break
    const seen = new Set<number>()
    for (let step = 0; step <= steps; step++)
      for (let side = 0; side < 8; side++) {
        const slot = slotOf(
          cellOf(a[0] + (d[0] * step) / steps + (side & 1 ? cell : -cell) / 2),
          cellOf(a[1] + (d[1] * step) / steps + (side & 2 ? cell : -cell) / 2),
          cellOf(a[2] + (d[2] * step) / steps + (side & 4 ? cell : -cell) / 2),
        )
        if (seen.has(slot)) continue
        seen.add(slot)
        for (let at = heads[slot]!; at >= 0; at = next[at]!) judge(borderPoints[at]!)
      }
  }
  return found
}
