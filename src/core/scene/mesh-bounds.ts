import { boundsOf, type Box } from '../base/math/box.ts'
import { transformPoints, type Matrix } from '../base/math/matrix.ts'
import { remember } from '../base/remembering/remember.ts'
import { pointCountOf, type Mesh } from './mesh.ts'

/** The points that are drawn. */
function drawnPoints({ points, faceVertices }: Mesh, pointCount: number): Float64Array {
  if (faceVertices.length === 0) return points
  const used = new Uint8Array(pointCount)
  let count = 0
  for (const point of faceVertices)
    if (used[point] === 0) {
      used[point] = 1
      count++
    }
  return count === pointCount ? points : points.filter((_value, at) => used[Math.floor(at / 3)] === 1)
}

/** As the mesh has it, and whether all of its numbers are finite: one that is none takes its point out of every axis. */
const ownBounds = remember((mesh: Mesh): { readonly box: Box | null; readonly isFinite: boolean } => {
  const points = drawnPoints(mesh, pointCountOf(mesh))
  // nothing times 0 is 0 but what is finite
  let nothing = 0
  for (let at = 0; at < points.length; at++) nothing += points[at]! * 0
  return { box: boundsOf(points), isFinite: nothing === 0 }
})

/** Whether axes go to axes: then the box of what was moved is the box that was moved. */
function isAlongAxes(m: Matrix): boolean {
  const count = (places: readonly number[]): number =>
    places.reduce((sum, at) => sum + Number(m[at] !== 0), 0)
  return [0, 1, 2].every((axis) => count([axis, axis + 4, axis + 8]) === 1 && count([4 * axis, 4 * axis + 1, 4 * axis + 2]) === 1) // prettier-ignore
}

/**
 * The box of what is drawn of a mesh, seen through a matrix: of the points that polygons use, so that a loose
 * point somewhere far off makes no model larger; of all points where there are no polygons. Null for none.
 */
export function drawnBounds(mesh: Mesh, matrix: Matrix): Box | null {
  const { box, isFinite } = ownBounds(mesh)
  if (!box) return null
  if (isFinite && isAlongAxes(matrix))
    return boundsOf(transformPoints(Float64Array.of(...box.min, ...box.max), matrix))
  return boundsOf(transformPoints(drawnPoints(mesh, pointCountOf(mesh)), matrix))
}
