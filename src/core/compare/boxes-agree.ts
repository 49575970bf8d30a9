import { diagonalOf } from '../base/math/box.ts'
import { type Matrix } from '../base/math/matrix.ts'
import { drawnBounds } from '../scene/mesh-bounds.ts'
import { type Mesh } from '../scene/mesh.ts'
import { IDENTITY_MATRIX } from '../scene/scene.ts'

/** Boxes agree where no side differs by more than this share of the diagonal. */
export const PLACE_TOLERANCE = 1e-4

/**
 * Whether two meshes, the second seen through a matrix, fill the same box within `PLACE_TOLERANCE` of its diagonal.
 */
export function boxesAgree(a: Mesh, b: Mesh, matrix: Matrix): boolean {
  const boxA = drawnBounds(a, IDENTITY_MATRIX)
  const boxB = drawnBounds(b, matrix)
  if (!boxA || !boxB) return false
  const near = PLACE_TOLERANCE * diagonalOf(boxA)
  return boxA.min.every(
    (value, axis) =>
      Math.abs(value - boxB.min[axis]!) <= near && Math.abs(boxA.max[axis]! - boxB.max[axis]!) <= near,
  )
}
