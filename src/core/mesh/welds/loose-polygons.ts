/** Meshes whose polygons nobody joined, as scanners and some tools leave them: they hang together by their places alone. */
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { countWelds, findWelds } from './find-welds.ts'

/** Share of the points that have one corner, and that lie on others, from which on a mesh is taken to be in pieces. */
const LONELY = 0.5
const TOGETHER = 0.3

/** Whether most points have one corner: their numbers say hardly anything of which polygons lie side by side. */
export function isLonely(mesh: Mesh): boolean {
  const corners = new Uint8Array(pointCountOf(mesh))
  for (const point of mesh.faceVertices) if (corners[point]! < 2) corners[point]!++
  let lonely = 0
  for (const count of corners) if (count === 1) lonely++
  return lonely >= corners.length * LONELY
}

/**
 * Which points lie on each other in a mesh whose polygons nobody joined; null for one that is joined as it is.
 *
 * @param reach within which points lie on each other. @returns see `findWelds`.
 */
export function weldsOfLoose(mesh: Mesh, reach: number): Uint32Array | null {
  if (faceCountOf(mesh) < 2 || !isLonely(mesh) || !mesh.points.every(Number.isFinite)) return null
  const welds = findWelds(mesh.points, reach)
  return countWelds(welds) < pointCountOf(mesh) * TOGETHER ? null : welds
}
