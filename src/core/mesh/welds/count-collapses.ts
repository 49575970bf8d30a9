import type { MeshFacts } from '../relations/mesh-facts.ts'

/** Faces and edges that a weld takes away: what the guard warns of. */
export function countCollapses(facts: MeshFacts, target: Uint32Array): { faces: number; edges: number } {
  const { mesh } = facts
  let faces = 0
  for (let face = 0; face < facts.faceCount; face++) {
    const seen = new Set<number>()
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
      seen.add(target[mesh.faceVertices[corner]!]!)
    if (seen.size < 3) faces++
  }
  const { edgeCount, edgePoints } = facts.edges()
  const points = facts.points()
  let edges = 0
  for (let edge = 0; edge < edgeCount; edge++) {
    const a = edgePoints[2 * edge]!
    const b = edgePoints[2 * edge + 1]!
    if (target[a] !== target[b]) continue
    // an edge without length is no feature
    if ([0, 1, 2].some((axis) => points[3 * a + axis] !== points[3 * b + axis])) edges++
  }
  return { faces, edges }
}
