/** Tangents of a mesh's corners, by the MikkTSpace algorithm on one UV set. */
import { createMeshFacts, type MeshFacts } from '../relations/mesh-facts.ts'
import type { KeptLayer, Mesh, UvSet } from '../../scene/mesh.ts'
import { triangulateFace } from '../triangles/triangulate-face.ts'
import { computeNormals } from './compute-normals.ts'
import { computeTangents } from './compute-tangents.ts'

/**
 * Tangents and binormals of every corner. Polygons are cut into triangles for it; a corner in several of them
 * takes what its first triangle gives. Corners without a UV or a normal count as having a zero one.
 *
 * @returns two layers over corners, 3 values each of unit length; null where the mesh has no UV set.
 */
export function meshTangents(
  mesh: Mesh,
  set: UvSet | undefined = mesh.uvSets[0],
  facts: MeshFacts = createMeshFacts(mesh),
): KeptLayer[] | null {
  if (!set) return null
  const normals = mesh.normals ?? computeNormals(mesh, null)
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
  corners.forEach((corner, at) => {
    const point = 3 * mesh.faceVertices[corner]!
    const normal = normals.indices[corner]!
    const uv = set.indices[corner]!
    for (let axis = 0; axis < 3; axis++) {
      positions[3 * at + axis] = mesh.points[point + axis]!
      if (normal >= 0) directions[3 * at + axis] = normals.values[3 * normal + axis]!
    }
    if (uv >= 0) uvs.set([set.values[2 * uv]!, set.values[2 * uv + 1]!], 2 * at)
  })
  const found = computeTangents({ positions, normals: directions, uvs })
  const cornerCount = mesh.faceVertices.length
  const tangents = new Float64Array(3 * cornerCount)
  const binormals = new Float64Array(3 * cornerCount)
  const done = new Uint8Array(cornerCount)
  corners.forEach((corner, at) => {
    if (done[corner]) return
    done[corner] = 1
    const [x, y, z, sign] = [0, 1, 2, 3].map((k) => found[4 * at + k]!) as [number, number, number, number]
    const [nx, ny, nz] = [0, 1, 2].map((axis) => directions[3 * at + axis]!) as [number, number, number]
    tangents.set([x, y, z], 3 * corner)
    binormals.set([sign * (ny * z - nz * y), sign * (nz * x - nx * z), sign * (nx * y - ny * x)], 3 * corner)
  })
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
