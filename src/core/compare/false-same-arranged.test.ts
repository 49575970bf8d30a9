/**
 * What came back in triangles, with points split, renumbered, or all of these, and with one value changed anywhere: the
 * ledger says something else than of the same without that change. Every element is tried, as well as those that are one
 * of several that came of one.
 */
import { expect, test } from 'vitest'
import { chanceOf } from '../base/math/chance.ts'
import { compareScenes } from './compare-scenes.ts'
import { removeFaces } from '../mesh/rebuilding/edit-faces.ts'
import { triangulateScene } from '../formats/arrange/arrange-scene.ts'
import { rebuildMesh } from '../mesh/rebuilding/rebuild-mesh.ts'
import type { Trait } from './traits/registry.ts'
import { reconcile } from '../reconcile/reconcile.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../scene/mesh.ts'
import type { Scene } from '../scene/scene.ts'
import { howMany } from '../../../tests/how-many.ts'
import {
  changedAt,
  fullScene,
  HOLDS_IT_TOGETHER,
  IN_NO_LEDGER,
  leavesOf,
  NOT_OF_THE_MODEL,
} from '../../../tests/full-scene.ts'

const shuffled = (count: number, chance: () => number): number[] =>
  Array.from({ length: count }, (_value, at) => [chance(), at] as const)
    .sort(([a], [b]) => a - b)
    .map(([, at]) => at)
const counted = (count: number): Int32Array => Int32Array.from({ length: count }, (_value, at) => at)

/** Points and polygons in another order, each polygon from another corner. */
function renumbered(mesh: Mesh, seed: number): Mesh {
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
function split(mesh: Mesh): Mesh {
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
/** Which polygon of the master a piece was cut from is Kelbo's own note. */
const OWN_NOTE = /cutFrom/
const withMesh = (scene: Scene, of: (mesh: Mesh) => Mesh): Scene => ({
  ...scene,
  meshes: scene.meshes.map(of),
})
const without = (faces: readonly number[]) => (scene: Scene) =>
  withMesh(scene, (mesh) =>
    removeFaces(
      mesh,
      Uint8Array.from({ length: faceCountOf(mesh) }, (_value, face) => (faces.includes(face) ? 1 : 0)),
    ),
  )
const ARRANGED: readonly (readonly [string, (scene: Scene) => Scene])[] = [
  ['renumbered', (scene) => withMesh(scene, (mesh) => renumbered(mesh, 3))],
  ['in triangles', triangulateScene],
  ['split', (scene) => withMesh(scene, split)],
  ['in triangles and split', (scene) => withMesh(triangulateScene(scene), split)],
  ['split and in triangles', (scene) => triangulateScene(withMesh(scene, split))],
  ['all of it', (scene) => withMesh(triangulateScene(withMesh(scene, split)), (mesh) => renumbered(mesh, 8))],
  ['with a corner gone', without([11])],
  ['with two corners gone', without([8, 11])],
  ['with a hole', without([5])],
  ['with a hole, in triangles', (scene) => triangulateScene(without([5])(scene))],
  ['with a corner gone, split', (scene) => withMesh(without([11])(scene), split)],
  [
    'with polygons gone, and all of it',
    (scene) =>
      withMesh(triangulateScene(withMesh(without([10, 6])(scene), split)), (mesh) => renumbered(mesh, 5)),
  ],
]

const master = fullScene()
const saidOf = (returned: Scene): string => {
  const { rows, scene } = compareScenes(master, returned)
  return JSON.stringify([scene, ...rows.map(({ cells }) => cells)], (_key, value: unknown) =>
    ArrayBuffer.isView(value) ? [...(value as Uint32Array)] : value,
  )
}

/** What hung at polygons that are gone has nothing to be held against: hard edges, creases and lines there. */
const GONE: typeof ARRANGED = [
  ['with hard edges gone', without([0])],
  ['with creases gone', without([1])],
  ['with a row gone', without([0, 1, 2, 3])],
  ['with much gone', without([0, 2, 5, 7, 8])],
]

test.each([...ARRANGED, ...GONE])('%s: nothing else is told', (_name, arrange) => {
  const { rows } = compareScenes(master, arrange(master))
  const told = Object.entries(rows[0]!.cells).filter(
    ([trait, cell]) => trait !== 'topology' && !['same', 'within', 'without'].includes(cell!.state),
  )
  expect(told.map(([trait, { state, note }]) => `${trait} ${state} ${note}`)).toEqual([])
})

test.each(ARRANGED)('%s: one value changed anywhere is told', (_name, arrange) => {
  const returned = arrange(master)
  const plain = saidOf(returned)
  const untold = Array.from({ length: howMany(2, 40) }, (_value, seed) =>
    leavesOf(returned.meshes, ['meshes'], chanceOf(5 + seed)),
  )
    .flat()
    .filter(
      (path) =>
        ![NOT_OF_THE_MODEL, IN_NO_LEDGER, HOLDS_IT_TOGETHER, OWN_NOTE].some((not) =>
          not.test(path.join('.')),
        ),
    )
    .filter((path) => saidOf(changedAt(returned, path) as Scene) === plain)
    .map((path) => path.join('.'))
  expect(untold).toEqual([])
})

/** All that can be taken but the polygons themselves. */
const TAKEN: readonly Trait[] = [
  'points',
  'uvs',
  'normals',
  'smoothing',
  'creases',
  'materials',
  'groups',
  'colours',
  'shapes',
]
test.each([...ARRANGED, ...GONE])('%s: what is taken of it leaves the master as it was', (_name, arrange) => {
  const { scene } = reconcile(master, arrange(master), { take: TAKEN })
  const { rows } = compareScenes(master, scene)
  const told = Object.entries(rows[0]!.cells).filter(([, cell]) => cell!.state !== 'same')
  expect(told.map(([trait, { state, note }]) => `${trait} ${state} ${note}`)).toEqual([])
})
