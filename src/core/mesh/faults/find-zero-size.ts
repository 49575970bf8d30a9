import type { MeshFacts } from '../relations/mesh-facts.ts'

/** Faces with no area (less than a 1e-12th of the part's diagonal squared) and edges with no length. */
export function findZeroSize(facts: MeshFacts): { faces: number[]; edges: number[] } {
  const areas = facts.faceAreas()
  const least = facts.diagonal() ** 2 * 1e-14
  const faces: number[] = []
  for (let face = 0; face < areas.length; face++) if (!(areas[face]! > least)) faces.push(face)
  const { edgeCount, edgePoints } = facts.edges()
  const points = facts.points()
  const short = facts.diagonal() * 1e-9
  const edges: number[] = []
  for (let edge = 0; edge < edgeCount; edge++) {
    const a = 3 * edgePoints[2 * edge]!
    const b = 3 * edgePoints[2 * edge + 1]!
    const dx = points[a]! - points[b]!
    const dy = points[a + 1]! - points[b + 1]!
    const dz = points[a + 2]! - points[b + 2]!
    if (!(dx * dx + dy * dy + dz * dz > short * short))
      edges.push(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!)
  }
  return { faces, edges }
}
