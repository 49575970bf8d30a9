import { boundsOf } from '../../base/math/box.ts'
import { computeFaceNormals } from '../../mesh/relations/face-normals.ts'
import { faceCountOf, type Mesh, type UvSet } from '../../scene/mesh.ts'

/** A plain layout: polygons seen along the axis that they face most, each of six directions in a cell of its own. */
export function layAnew(mesh: Mesh, name: string): UvSet {
  const box = boundsOf(mesh.points)
  const normals = computeFaceNormals(mesh)
  const values: number[] = []
  const indices = new Int32Array(mesh.faceVertices.length)
  const uvs = new Map<string, number>()
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const normal = [0, 1, 2].map((axis) => normals[3 * face + axis]!)
    const axis = [0, 1, 2].reduce((best, at) => (Math.abs(normal[at]!) > Math.abs(normal[best]!) ? at : best))
    const cell = 2 * axis + Number(normal[axis]! < 0)
    const [across, along] = [(axis + 1) % 3, (axis + 2) % 3]
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
      const point = mesh.faceVertices[corner]!
      const key = `${cell} ${point}`
      let uv = uvs.get(key)
      if (uv === undefined) {
        const share = (side: number): number =>
          (mesh.points[3 * point + side]! - box!.min[side]!) / (box!.max[side]! - box!.min[side]! || 1)
        uv = values.length / 2
        uvs.set(key, uv)
        values.push(
          ((cell % 3) + 0.05 + 0.9 * share(across)) / 3,
          (Math.floor(cell / 3) + 0.05 + 0.9 * share(along)) / 2,
        )
      }
      indices[corner] = uv
    }
  }
  return { name, values: Float64Array.from(values), indices, depths: null }
}
