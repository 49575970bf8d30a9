/** How far the surfaces of two scenes lie apart, one of them brought along: whatever points they are made of. */
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { buildBvh } from '../../base/math/bvh.ts'
import { joinNumbers } from '../../base/math/join-numbers.ts'
import { invertAffine, multiplyMatrices, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { EMPTY_MESH, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'

/** Points of either side that are looked for on the other's surface. */
const MOST_LOOKED_AT = 500

/** The polygons of some parts as one mesh, in the space that `along` leads to from the scene's. */
export function gatherPolygons(scene: Scene, nodes: readonly number[], along: Matrix): Mesh {
  const worlds = worldMatrices(scene)
  const parts = nodes.map((node) => ({ mesh: scene.meshes[scene.nodes[node]!.mesh]!, world: worlds[node]! }))
  const size = (of: (mesh: Mesh) => number): number => parts.reduce((sum, { mesh }) => sum + of(mesh), 0)
  const faceOffsets = new Uint32Array(size((mesh) => mesh.faceOffsets.length - 1) + 1)
  const faceVertices = new Uint32Array(size((mesh) => mesh.faceVertices.length))
  let [point, face, corner] = [0, 0, 0]
  for (const { mesh } of parts) {
    for (let at = 1; at < mesh.faceOffsets.length; at++)
      faceOffsets[face + at] = corner + mesh.faceOffsets[at]!
    for (let at = 0; at < mesh.faceVertices.length; at++)
      faceVertices[corner + at] = point + mesh.faceVertices[at]!
    point += pointCountOf(mesh)
    face += mesh.faceOffsets.length - 1
    corner += mesh.faceVertices.length
  }
  const points = joinNumbers(
    parts.map(({ mesh, world }) => transformPoints(mesh.points, multiplyMatrices(along, world))),
  )
  return { ...EMPTY_MESH, points, faceOffsets, faceVertices }
}

/**
 * Mean distance of points of either side from the other's surface, brought along: as a share of the diagonal, the larger of
 * both. A sheet lies on a larger one in whatever size.
 *
 * @param way from `own` to `other`.
 */
export function surfacesApart(own: Mesh, other: Mesh, way: Matrix): number {
  const back = invertAffine(way)
  if (!back) return Infinity
  const meanAway = (from: Mesh, to: Mesh, along: Matrix): number => {
    const box = boundsOf(to.points)
    const diagonal = box ? diagonalOf(box) : 0
    if (!(diagonal > 0)) return Infinity
    const tree = buildBvh(to)
    const step = Math.max(1, Math.floor(pointCountOf(from) / MOST_LOOKED_AT))
    const some = from.points.filter((_value, at) => Math.floor(at / 3) % step === 0)
    const there = transformPoints(some, along)
    let sum = 0
    for (let at = 0; at < there.length; at += 3)
      sum += tree.nearest(there[at]!, there[at + 1]!, there[at + 2]!)?.distance ?? Infinity
    return sum / (there.length / 3) / diagonal
  }
  return Math.max(meanAway(own, other, way), meanAway(other, own, back))
}
