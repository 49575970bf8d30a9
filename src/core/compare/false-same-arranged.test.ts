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
import { reconcile } from '../reconcile/reconcile.ts'
import { faceCountOf } from '../scene/mesh.ts'
import type { Scene } from '../scene/scene.ts'
import { ARRANGED, renumbered, split, withMesh } from '../../../tests/arranged.ts'
import { howMany } from '../../../tests/how-many.ts'
import {
  changedAt,
  fullScene,
  HOLDS_IT_TOGETHER,
  IN_NO_LEDGER,
  leavesOf,
  NOT_OF_THE_MODEL,
  TAKEN,
} from '../../../tests/full-scene.ts'

/** Which polygon of the master a piece was cut from is Kelbo's own note. */
const OWN_NOTE = /cutFrom/
const without = (faces: readonly number[]) => (scene: Scene) =>
  withMesh(scene, (mesh) =>
    removeFaces(
      mesh,
      Uint8Array.from({ length: faceCountOf(mesh) }, (_value, face) => (faces.includes(face) ? 1 : 0)),
    ),
  )
const WITH_GONE: typeof ARRANGED = [
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

const ALL = [...ARRANGED, ...WITH_GONE]
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

test.each([...ALL, ...GONE])('%s: nothing else is told', (_name, arrange) => {
  const { rows } = compareScenes(master, arrange(master))
  const told = Object.entries(rows[0]!.cells).filter(
    ([trait, cell]) => trait !== 'topology' && !['same', 'within', 'without'].includes(cell!.state),
  )
  expect(told.map(([trait, { state, note }]) => `${trait} ${state} ${note}`)).toEqual([])
})

test.each(ALL)('%s: one value changed anywhere is told', (_name, arrange) => {
  const returned = arrange(master)
  const plain = saidOf(returned)
  const untold = Array.from({ length: howMany(1, 40) }, (_value, seed) =>
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

test.each([...ALL, ...GONE])('%s: what is taken of it leaves the master as it was', (_name, arrange) => {
  const { scene } = reconcile(master, arrange(master), { take: TAKEN })
  const { rows } = compareScenes(master, scene)
  const told = Object.entries(rows[0]!.cells).filter(([, cell]) => cell!.state !== 'same')
  expect(told.map(([trait, { state, note }]) => `${trait} ${state} ${note}`)).toEqual([])
})
