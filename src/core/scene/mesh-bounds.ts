import { boundsOf, type Box } from '../base/math/box.ts'
import { isIdentity, transformPoints, type Matrix } from '../base/math/matrix.ts'
import { pointCountOf, type Mesh } from './mesh.ts'

/**
 * The box of what is drawn of a mesh, seen through a matrix: of the points that polygons use, so that a loose
 * point somewhere far off makes no model larger; of all points where there are no polygons. Null for none.
 */
export function drawnBounds(mesh: Mesh, matrix: Matrix): Box | null {
  const points = isIdentity(matrix) ? mesh.points : transformPoints(mesh.points, matrix)
  if (mesh.faceVertices.length === 0) return boundsOf(points)
  const used = new Uint8Array(pointCountOf(mesh))
  for (const point of mesh.faceVertices) used[point] = 1
  if (used.every((flag) => flag === 1)) return boundsOf(points)
  return boundsOf(points.filter((_value, at) => used[Math.floor(at / 3)] === 1))
}
