import { findTwoEdgePoints } from '../faults/find-two-edge-points.ts'
import { nextCorner, previousCorner, type MeshFacts } from '../relations/mesh-facts.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { invert, plainSources, rebuildMesh } from './rebuild-mesh.ts'

/** Points of two edges that can go: of a triangle no corner can be spared. */
export function dissolvablePoints(facts: MeshFacts, chosen: Uint8Array | null = null): number[] {
  const { mesh } = facts
  const cornerFaces = facts.cornerFaces()
  const { offsets, corners } = facts.pointCorners()
  const left = new Int32Array(facts.faceCount)
  for (let face = 0; face < left.length; face++)
    left[face] = mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]!
  return findTwoEdgePoints(facts).filter((point) => {
    if (chosen && !chosen[point]) return false
    const faces = [...corners.subarray(offsets[point]!, offsets[point + 1]!)].map(
      (corner) => cornerFaces[corner]!,
    )
    if (faces.some((face) => left[face]! <= 3)) return false
    for (const face of faces) left[face]!--
    return true
  })
}

/**
 * The mesh without points of two edges that lie between two polygons; creases along them stay. A triangle keeps
 * all its corners.
 *
 * @param chosen pointCount flags of the points that may go; null: all.
 * @returns the mesh and the points that went, by their old numbers; null where there are none.
 */
export function dissolveTwoEdgePoints(
  facts: MeshFacts,
  chosen: Uint8Array | null,
): { mesh: Mesh; dissolved: number[] } | null {
  const { mesh } = facts
  const gone = new Uint8Array(facts.pointCount)
  const cornerFaces = facts.cornerFaces()
  const { offsets, corners } = facts.pointCorners()
  const points = dissolvablePoints(facts, chosen)
  for (const point of points) gone[point] = 1
  if (points.length === 0) return null
  const keptCorners: number[] = []
  const faceOffsets = [0]
  for (let face = 0; face < facts.faceCount; face++) {
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
      if (!gone[mesh.faceVertices[corner]!]) keptCorners.push(corner)
    faceOffsets.push(keptCorners.length)
  }
  const pointSources = Int32Array.from({ length: facts.pointCount }, (_value, point) => point).filter(
    (point) => !gone[point],
  )
  const newOf = invert(pointSources, facts.pointCount)
  // the two halves of an edge become one: what lay on either lies on it
  const splitEdges = points.flatMap((point) => {
    const corner = corners[offsets[point]!]!
    const face = cornerFaces[corner]!
    const walk = (step: typeof nextCorner): number => {
      let at = step(mesh, face, corner)
      while (gone[mesh.faceVertices[at]!] && at !== corner) at = step(mesh, face, at)
      return mesh.faceVertices[at]!
    }
    const from = newOf[walk(previousCorner)]!
    const to = newOf[walk(nextCorner)]!
    return [previousCorner, nextCorner].map((step) => ({
      from,
      to,
      a: point,
      b: mesh.faceVertices[step(mesh, face, corner)]!,
    }))
  })
  return {
    mesh: rebuildMesh(mesh, {
      pointSources: plainSources(pointSources),
      faceOffsets: Uint32Array.from(faceOffsets),
      faceVertices: Uint32Array.from(keptCorners, (corner) => newOf[mesh.faceVertices[corner]!]!),
      cornerSources: plainSources(Int32Array.from(keptCorners)),
      faceSources: Int32Array.from({ length: facts.faceCount }, (_value, face) => face),
      splitEdges,
    }),
    dissolved: points,
  }
}
