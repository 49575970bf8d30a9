import { buildCornerFaces, edgesOf, createUnion, findHardEdges, type Edges } from '../relations/adjacency.ts'
import { computeFaceNormals } from '../relations/face-normals.ts'
import { cornerCountOf, type CornerNormals, type Mesh } from '../../scene/mesh.ts'

/** edgeCount flags of the edges over which two faces bend by more than `bend` radians. */
export function hardByAngle(
  edges: Edges,
  cornerFaces: Uint32Array,
  normals: Float64Array,
  bend: number,
): Uint8Array {
  const hard = new Uint8Array(edges.edgeCount)
  const limit = Math.cos(bend)
  for (let edge = 0; edge < edges.edgeCount; edge++) {
    if (edges.edgeSides[edge] !== 2) continue
    const a = 3 * cornerFaces[edges.edgeCorners[2 * edge]!]!
    const b = 3 * cornerFaces[edges.edgeCorners[2 * edge + 1]!]!
    const dot =
      normals[a]! * normals[b]! + normals[a + 1]! * normals[b + 1]! + normals[a + 2]! * normals[b + 2]!
    const lengths =
      Math.hypot(normals[a]!, normals[a + 1]!, normals[a + 2]!) *
      Math.hypot(normals[b]!, normals[b + 1]!, normals[b + 2]!)
    if (lengths > 0 && dot / lengths < limit) hard[edge] = 1
  }
  return hard
}

/**
 * Corner normals: faces round a point are averaged by area across soft edges and parted at hard ones.
 *
 * @param bendAngle radians; edges that bend more are hard. Null: hard edges follow from the mesh's smoothing.
 * Corners of faces without area get the normal 0 0 0.
 */
export function computeNormals(mesh: Mesh, bendAngle: number | null): CornerNormals {
  const edges = edgesOf(mesh)
  const cornerFaces = buildCornerFaces(mesh)
  const faceNormals = computeFaceNormals(mesh)
  const hard =
    bendAngle === null
      ? findHardEdges(mesh, edges, cornerFaces)
      : hardByAngle(edges, cornerFaces, faceNormals, bendAngle)
  const cornerCount = cornerCountOf(mesh)
  const union = createUnion(cornerCount)
  const nextCorner = (corner: number): number => {
    const face = cornerFaces[corner]!
    return corner + 1 < mesh.faceOffsets[face + 1]! ? corner + 1 : mesh.faceOffsets[face]!
  }
  for (let edge = 0; edge < edges.edgeCount; edge++) {
    if (hard[edge] || edges.edgeSides[edge] !== 2) continue
    const first = edges.edgeCorners[2 * edge]!
    const second = edges.edgeCorners[2 * edge + 1]!
    const firstNext = nextCorner(first)
    const secondNext = nextCorner(second)
    if (mesh.faceVertices[first] === mesh.faceVertices[second]) {
      // two faces that wind against each other
      union.join(first, second)
      union.join(firstNext, secondNext)
    } else {
      union.join(first, secondNext)
      union.join(firstNext, second)
    }
  }
  const slotOf = new Int32Array(cornerCount).fill(-1)
  const indices = new Int32Array(cornerCount)
  let slots = 0
  for (let corner = 0; corner < cornerCount; corner++) {
    const root = union.rootOf(corner)
    if (slotOf[root]! < 0) slotOf[root] = slots++
    indices[corner] = slotOf[root]!
  }
  const values = new Float64Array(3 * slots)
  for (let corner = 0; corner < cornerCount; corner++) {
    const into = 3 * indices[corner]!
    const from = 3 * cornerFaces[corner]!
    values[into]! += faceNormals[from]!
    values[into + 1]! += faceNormals[from + 1]!
    values[into + 2]! += faceNormals[from + 2]!
  }
  for (let at = 0; at < values.length; at += 3) {
    const length = Math.hypot(values[at]!, values[at + 1]!, values[at + 2]!)
    if (length === 0) continue
    values[at]! /= length
    values[at + 1]! /= length
    values[at + 2]! /= length
  }
  return { values, indices }
}
