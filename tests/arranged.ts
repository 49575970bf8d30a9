/** A scene as tools hand it back: the same in other numbers, other polygons or other points. */
import { chanceOf } from '../src/core/base/math/chance.ts'
import { triangulateScene } from '../src/core/formats/arrange/arrange-scene.ts'
import { rebuildMesh } from '../src/core/mesh/rebuilding/rebuild-mesh.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../src/core/scene/mesh.ts'
import type { Scene } from '../src/core/scene/scene.ts'

const shuffled = (count: number, chance: () => number): number[] =>
  Array.from({ length: count }, (_value, at) => [chance(), at] as const)
    .sort(([a], [b]) => a - b)
    .map(([, at]) => at)
const counted = (count: number): Int32Array => Int32Array.from({ length: count }, (_value, at) => at)

/** Points and polygons in another order, each polygon from another corner. */
export function renumbered(mesh: Mesh, seed: number): Mesh {
  const chance = chanceOf(seed)
  const points = Int32Array.from(shuffled(pointCountOf(mesh), chance))
  const pointOldToNew = new Int32Array(points.length)
  points.forEach((old, at) => (pointOldToNew[old] = at))
  const faces = Int32Array.from(shuffled(faceCountOf(mesh), chance))
  const corners: number[] = []
  const faceOffsets = [0]
  for (const face of faces) {
    const [start, end] = [mesh.faceOffsets[face]!, mesh.faceOffsets[face + 1]!]
    const turn = Math.floor(chance() * (end - start))
    for (let step = 0; step < end - start; step++) corners.push(start + ((step + turn) % (end - start)))
    faceOffsets.push(corners.length)
  }
  return rebuildMesh(mesh, {
    pointSources: { first: points },
    pointOldToNew,
    faceOffsets: Uint32Array.from(faceOffsets),
    faceVertices: Uint32Array.from(corners, (corner) => pointOldToNew[mesh.faceVertices[corner]!]!),
    cornerSources: { first: Int32Array.from(corners) },
    faceSources: faces,
  })
}

/** Every other polygon gets points of its own, but where an edge is creased or hard. */
export function split(mesh: Mesh): Mesh {
  const kept = new Set<number>([
    ...(mesh.creases?.edgePoints ?? []),
    ...(mesh.smoothing?.kind === 'edges' ? mesh.smoothing.hardEdgePoints : []),
  ])
  const sources: number[] = [...counted(pointCountOf(mesh))]
  const faceVertices = mesh.faceVertices.slice()
  const used = new Set<number>()
  for (let face = 0; face < faceCountOf(mesh); face++)
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
      const point = mesh.faceVertices[corner]!
      // the first to come keeps the point, so that none is left without polygons
      if (used.has(point) && face % 2 === 1 && !kept.has(point))
        faceVertices[corner] = sources.push(point) - 1
      used.add(point)
    }
  return rebuildMesh(mesh, {
    pointSources: { first: Int32Array.from(sources) },
    pointOldToNew: counted(pointCountOf(mesh)),
    faceOffsets: mesh.faceOffsets,
    faceVertices,
    cornerSources: { first: counted(cornerCountOf(mesh)) },
    faceSources: counted(faceCountOf(mesh)),
  })
}
export const withMesh = (scene: Scene, of: (mesh: Mesh) => Mesh): Scene => ({
  ...scene,
  meshes: scene.meshes.map(of),
})
export const ARRANGED: readonly (readonly [string, (scene: Scene) => Scene])[] = [
  ['renumbered', (scene) => withMesh(scene, (mesh) => renumbered(mesh, 3))],
  ['in triangles', triangulateScene],
  ['split', (scene) => withMesh(scene, split)],
  ['in triangles and split', (scene) => withMesh(triangulateScene(scene), split)],
  ['split and in triangles', (scene) => triangulateScene(withMesh(scene, split))],
  ['all of it', (scene) => withMesh(triangulateScene(withMesh(scene, split)), (mesh) => renumbered(mesh, 8))],
]
