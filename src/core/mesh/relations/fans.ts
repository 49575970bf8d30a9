import { createUnion } from './adjacency.ts'
import { previousCorner, type MeshFacts } from './mesh-facts.ts'

/**
 * Which polygons round a point hang together over its edges.
 *
 * @param corners of one point.
 * @param mostSides edges with more sides than this hold nothing together.
 * @returns one number a corner, the same for all corners of a fan.
 */
export function fansAround(facts: MeshFacts, corners: ArrayLike<number>, mostSides = Infinity): number[] {
  const { mesh } = facts
  const { cornerEdges, edgeSides } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const union = createUnion(corners.length)
  const met = new Map<number, number>()
  for (let at = 0; at < corners.length; at++) {
    const corner = corners[at]!
    for (const edge of [
      cornerEdges[corner]!,
      cornerEdges[previousCorner(mesh, cornerFaces[corner]!, corner)]!,
    ]) {
      if (edgeSides[edge]! > mostSides) continue
      const other = met.get(edge)
      if (other === undefined) met.set(edge, at)
      else union.join(other, at)
    }
  }
  return Array.from(corners, (_corner, at) => union.rootOf(at))
}
