import { createUnion } from '../relations/adjacency.ts'
import { nextCorner, previousCorner, type MeshFacts } from '../relations/mesh-facts.ts'

/** True where walking round the point from one of its corners, over edges of two sides, meets all of them. */
export function isOneFan(facts: MeshFacts, first: number, size: number): boolean {
  const { mesh } = facts
  const { cornerEdges, edgeSides, edgeCorners } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const point = mesh.faceVertices[first]!
  let met = 1
  for (let direction = 0; direction < 2; direction++) {
    let corner = first
    let edge =
      direction === 0
        ? cornerEdges[corner]!
        : cornerEdges[previousCorner(mesh, cornerFaces[corner]!, corner)]!
    for (;;) {
      if (edgeSides[edge] !== 2) break
      const side = edgeCorners[2 * edge]!
      const other = cornerFaces[side] === cornerFaces[corner] ? edgeCorners[2 * edge + 1]! : side
      const face = cornerFaces[other]!
      corner = mesh.faceVertices[other] === point ? other : nextCorner(mesh, face, other)
      if (corner === first) return met === size
      if (++met > size) return false
      const before = cornerEdges[previousCorner(mesh, face, corner)]!
      edge = before === edge ? cornerEdges[corner]! : before
    }
  }
  return met === size
}

/** Points whose polygons hang together in more than one fan: two surfaces that touch in a point. */
export function findPinchedPoints(facts: MeshFacts): number[] {
  const { mesh } = facts
  const { offsets, corners } = facts.pointCorners()
  const { cornerEdges } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const found: number[] = []
  for (let point = 0; point < facts.pointCount; point++) {
    const start = offsets[point]!
    const size = offsets[point + 1]! - start
    if (size < 2 || isOneFan(facts, corners[start]!, size)) continue
    // most points have a closed fan: as many edges as corners, each met twice
    const union = createUnion(size)
    const edgeCorner = new Map<number, number>()
    let fans = size
    for (let at = 0; at < size; at++) {
      const corner = corners[start + at]!
      const face = cornerFaces[corner]!
      for (const edge of [cornerEdges[corner]!, cornerEdges[previousCorner(mesh, face, corner)]!]) {
        const other = edgeCorner.get(edge)
        if (other === undefined) edgeCorner.set(edge, at)
        else if (union.rootOf(other) !== union.rootOf(at)) {
          union.join(other, at)
          fans--
        }
      }
    }
    if (fans > 1) found.push(point)
  }
  return found
}
