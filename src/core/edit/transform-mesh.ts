import { isIdentity, isMirroring, transformNormals, transformPoints, type Matrix } from '../math/matrix.ts'
import type { Mesh } from '../scene/mesh.ts'
import { turnFaces } from '../scene/turn-faces.ts'

/** A mesh through an affine matrix: points, normals and blend shapes; a mirroring one turns the faces as well. */
export function transformMesh(mesh: Mesh, matrix: Matrix): Mesh {
  if (isIdentity(matrix)) return mesh
  const linear = [...matrix.slice(0, 12), 0, 0, 0, 1]
  const facing = isMirroring(matrix) ? turnFaces(mesh) : mesh
  return {
    ...facing,
    points: transformPoints(mesh.points, matrix),
    normals: facing.normals && { ...facing.normals, values: transformNormals(facing.normals.values, matrix) },
    shapes: mesh.shapes.map((shape) => ({ ...shape, offsets: transformPoints(shape.offsets, linear) })),
  }
}
