/** What happened to a model as a whole where hardly any point corresponds: from where its surfaces lie. */
import { buildBvh } from '../../base/math/bvh.ts'
import { invertAffine, multiplyMatrices, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { pointCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Space } from '../../scene/scene.ts'
import { wholeByPoints } from './by-points.ts'
import { samplePairs, pointsEach, type PlacedMesh, type PointPairs } from './point-pairs.ts'

/** The polygons of several parts in one space. */
function gathered(
  parts: readonly PlacedMesh[],
  along: Matrix,
): Pick<Mesh, 'points' | 'faceOffsets' | 'faceVertices'> {
  const size = (of: (mesh: Mesh) => number): number => parts.reduce((sum, { mesh }) => sum + of(mesh), 0)
  const points = new Float64Array(size((mesh) => mesh.points.length))
  const faceOffsets = new Uint32Array(size((mesh) => mesh.faceOffsets.length - 1) + 1)
  const faceVertices = new Uint32Array(size((mesh) => mesh.faceVertices.length))
  let [point, face, corner] = [0, 0, 0]
  for (const { mesh, world } of parts) {
    points.set(transformPoints(mesh.points, multiplyMatrices(along, world)), 3 * point)
    for (let at = 1; at < mesh.faceOffsets.length; at++)
      faceOffsets[face + at] = corner + mesh.faceOffsets[at]!
    for (let at = 0; at < mesh.faceVertices.length; at++)
      faceVertices[corner + at] = point + mesh.faceVertices[at]!
    point += pointCountOf(mesh)
    face += mesh.faceOffsets.length - 1
    corner += mesh.faceVertices.length
  }
  return { points, faceOffsets, faceVertices }
}

/**
 * Points of the master, each with the place on what came back that is nearest once that is brought to about where it stood;
 * the similarity between them is then asked as it is of points that correspond.
 *
 * @param pairs parts of both sides that are the same, in the space of the master's scene.
 * @param along from where the returned parts stand to about where the master's do.
 */
export function wholeBySurfaces(
  pairs: readonly { readonly master: PlacedMesh; readonly returned: PlacedMesh }[],
  along: Matrix,
  spaces: { readonly master: Space; readonly returned: Space },
): ReturnType<typeof wholeByPoints> {
  const back = invertAffine(along)
  if (!back) return null
  const most = pointsEach(pairs.length)
  const own = pairs.map(({ master }): PointPairs => {
    const itself = Int32Array.from({ length: pointCountOf(master.mesh) }, (_pair, point) => point)
    return samplePairs(master, master, itself, most)
  })
  const tree = buildBvh(
    gathered(
      pairs.map(({ returned }) => returned),
      along,
    ),
  )
  const before: number[] = []
  const there: number[] = []
  for (const { master } of own)
    for (let at = 0; at < master.length; at += 3) {
      const place = [master[at]!, master[at + 1]!, master[at + 2]!] as const
      const found = place.every(Number.isFinite) ? tree.nearest(...place) : null
      if (!found) continue
      before.push(...place)
      there.push(...found.point)
    }
  const found = wholeByPoints(
    { master: Float64Array.from(before), returned: transformPoints(Float64Array.from(there), back) },
    spaces,
    true,
  )
  return found && { ...found, told: { ...found.told, by: 'surfaces' } }
}
