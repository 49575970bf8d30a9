import { faceCountOf, type Mesh } from '../../scene/mesh.ts'
import { buildCage, findRefined, windsOneWay } from './build-cage.ts'

/**
 * The cage of a mesh that was subdivided into quads and then cut into triangles, along whichever diagonals: the master
 * is refined as often, and each of its refined polygons is looked for among the triangles.
 *
 * @returns null where not every corner of the cage was found.
 */
export function findCutCage(master: Mesh, returned: Mesh, levels: number): Mesh | null {
  const found = findRefined(master, returned, levels)
  if (!found) return null
  const { pointToReturned, cornerToReturned, there } = found
  if (there.some((corner) => cornerToReturned[corner]! < 0)) return null
  const used = [...new Set(master.faceVertices)].map((point) => pointToReturned[point]!)
  // two points of the cage that came back as one are no cage's
  if (used.includes(-1) || new Set(used).size < used.length) return null
  const faces = Array.from({ length: faceCountOf(master) }, (_face, face) => face)
  return faces.every(windsOneWay(master, found)) ? buildCage(master, returned, found, faces, []).mesh : null
}
