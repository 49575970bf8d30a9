import { fansAround } from '../relations/fans.ts'
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
  const { offsets, corners } = facts.pointCorners()
  const found: number[] = []
  for (let point = 0; point < facts.pointCount; point++) {
    const own = corners.subarray(offsets[point]!, offsets[point + 1]!)
    // most points have a closed fan
    if (own.length < 2 || isOneFan(facts, own[0]!, own.length)) continue
    if (new Set(fansAround(facts, own)).size > 1) found.push(point)
  }
  return found
}
