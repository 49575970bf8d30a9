/** Tangents of a mesh's corners, by the MikkTSpace algorithm on one UV set. */
import { createMeshFacts, type MeshFacts } from '../relations/mesh-facts.ts'
import type { KeptLayer, Mesh, UvSet } from '../../scene/mesh.ts'
import { triangulateFace } from '../triangles/triangulate-face.ts'
import type { CornerNormals } from '../../scene/mesh.ts'
import { computeNormals } from './compute-normals.ts'
import { computeTangents } from './compute-tangents.ts'

/**
 * Tangents and binormals of every corner. Polygons are cut into triangles for it; a corner in several of them
 * takes what its first triangle gives. Corners without a UV or a normal count as having a zero one.
 *
 * @param facts,normals of the mesh, where they are known already.
 * @returns two layers over corners, 3 values each of unit length; null where the mesh has no UV set.
 */
export function meshTangents(
  mesh: Mesh,
  set: UvSet | undefined = mesh.uvSets[0],
  facts: MeshFacts = createMeshFacts(mesh),
  normals: CornerNormals = mesh.normals ?? computeNormals(mesh, null),
): KeptLayer[] | null {
  if (!set) return null
  const corners: number[] = []
  const cut: number[] = []
  for (let face = 0; face < facts.faceCount; face++) {
    cut.length = 0
    triangulateFace(mesh, face, facts.faceNormals(), cut)
    for (const corner of cut) corners.push(mesh.faceOffsets[face]! + corner)
  }
  const count = corners.length
  const positions = new Float64Array(3 * count)
  const directions = new Float64Array(3 * count)
  const uvs = new Float64Array(2 * count)
  for (let at = 0; at < count; at++) {
    const corner = corners[at]!
    const point = 3 * mesh.faceVertices[corner]!
    const normal = normals.indices[corner]!
    const uv = set.indices[corner]!
    for (let axis = 0; axis < 3; axis++) {
      positions[3 * at + axis] = mesh.points[point + axis]!
      if (normal >= 0) directions[3 * at + axis] = normals.values[3 * normal + axis]!
    }
    if (uv < 0) continue
    uvs[2 * at] = set.values[2 * uv]!
    uvs[2 * at + 1] = set.values[2 * uv + 1]!
  }
  const found = computeTangents({ positions, normals: directions, uvs })
  const cornerCount = mesh.faceVertices.length
  const tangents = new Float64Array(3 * cornerCount)
  const binormals = new Float64Array(3 * cornerCount)
  const done = new Uint8Array(cornerCount)
  for (let at = 0; at < count; at++) {
    const corner = corners[at]!
    if (done[corner]) continue
    done[corner] = 1
    const x = found[4 * at]!
    const y = found[4 * at + 1]!
    const z = found[4 * at + 2]!
    const sign = found[4 * at + 3]!
    const nx = directions[3 * at]!
    const ny = directions[3 * at + 1]!
    const nz = directions[3 * at + 2]!
    const to = 3 * corner
    tangents[to] = x
    tangents[to + 1] = y
    tangents[to + 2] = z
    binormals[to] = sign * (ny * z - nz * y)
    binormals[to + 1] = sign * (nz * x - nx * z)
    binormals[to + 2] = sign * (nx * y - ny * x)
  }
  const layer = (kind: string, values: Float64Array): KeptLayer => ({
    kind,
    name: set.name,
    per: 'corners',
    width: 3,
    values,
    indices: null,
    edgePoints: null,
    whole: false,
  })
  return [layer('tangents', tangents), layer('binormals', binormals)]
}
