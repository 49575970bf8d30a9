/** Parts that came back in other groups than they left: sorted by their polygons, and what is new stays apart. */
import { expect, test } from 'vitest'
import { gridOf, moved, sceneOf, turnedAbout } from '../../../../tests/solids.ts'
import { multiplyMatrices } from '../../base/math/matrix.ts'
import { appendMeshes } from '../../mesh/rebuilding/append-meshes.ts'
import { removeFaces } from '../../mesh/rebuilding/edit-faces.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { faceCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { compareScenes } from '../compare-scenes.ts'
import { recogniseReturn } from '../recognise/recognise-return.ts'

const sheet = (columns: number, at: number, u: number): Mesh => {
  const grid = gridOf(columns, 4)
  const set = grid.uvSets[0]!
  return transformMesh(
    {
      ...grid,
      uvSets: [{ ...set, values: set.values.map((value, index) => (index % 2 ? value : value * 0.4 + u)) }],
    },
    moved(at, 0, 0),
  )
}
const master = sceneOf([sheet(6, 0, 0), sheet(8, 20, 0.5)])
const half = (mesh: Mesh, first: boolean): Mesh =>
  removeFaces(mesh, Uint8Array.from({ length: faceCountOf(mesh) }, (_face, at) => Number(at % 2 === 0 ? !first : first)), { dropLoose: true }) // prettier-ignore
const named = (scene: Scene, meshes: readonly Mesh[]): Scene =>
  sceneOf(meshes.map((mesh, at) => ({ ...mesh, name: scene.meshes[at]?.name ?? 'extra' })))

test('half of each with half of the other: both are whole again', () => {
  const [a, b] = master.meshes as [Mesh, Mesh]
  const returned = named(master, [
    appendMeshes('one', [half(a, true), half(b, true)]),
    appendMeshes('two', [half(a, false), half(b, false)]),
  ])
  const found = recogniseReturn(master, returned)
  expect(found.findings.map(({ code }) => code)).toEqual(['return.parts-regrouped'])
  const { rows } = compareScenes(master, found.returned, () => {}, found.matching)
  expect(rows).toHaveLength(2)
  for (const { cells, match } of rows) {
    expect(match.from).toHaveLength(2)
    expect([cells.points!.state, cells.uvs!.state]).toEqual(['same', 'same'])
    expect(cells.topology!.note).not.toBe('topology-changed')
  }
})

test('a copy is new, and no piece of what it was copied from', () => {
  const [a, b] = master.meshes as [Mesh, Mesh]
  const returned = named(master, [a, b, transformMesh(a, moved(0, 30, 0))])
  const { rows } = compareScenes(master, recogniseReturn(master, returned).returned)
  expect(rows.map(({ cells }) => cells.topology!.note)).toEqual(['same', 'same', 'part-gained'])
})

test('turned with its copy, a part is the one of its name', () => {
  const bumpy = { ...gridOf(5, 3, {}, (x, z) => 0.3 * x * x + 0.1 * z), uvSets: [], name: 'flag' }
  const turn = turnedAbout([1, 2, 3], 35)
  const [own, copy] = [transformMesh(bumpy, turn), transformMesh({ ...bumpy, name: 'flag_copy' }, multiplyMatrices(turn, moved(0, 0, -9)))] // prettier-ignore
  for (const came of [
    [own, copy],
    [copy, own],
  ]) {
    const { matching } = recogniseReturn(sceneOf([bumpy]), sceneOf(came))
    const [part] = matching.matched
    expect(part!.match.returnedNode).toBe(came.indexOf(own))
  }
})

test('what is new in a merged part stays a part of its own', () => {
  const [a, b] = master.meshes as [Mesh, Mesh]
  const fresh = { ...transformMesh(gridOf(3, 2), moved(50, 9, 0)), uvSets: [] }
  const found = recogniseReturn(master, sceneOf([appendMeshes('all', [a, b, fresh])]))
  const { rows } = compareScenes(master, found.returned, () => {}, found.matching)
  expect(rows.map(({ name, cells }) => [name, cells.topology!.note])).toEqual([
    ['part_1', expect.stringMatching(/same|renumbered/)],
    ['part_2', expect.stringMatching(/same|renumbered/)],
    [expect.any(String), 'part-gained'],
  ])
  expect(rows[2]!.faceCount).toBe(6)
})

test('merged and a hundred times as large: once that is undone it is still said what came inside what', () => {
  const [a, b] = master.meshes as [Mesh, Mesh]
  const all = appendMeshes('all', [a, b])
  const returned = sceneOf([{ ...all, points: all.points.map((value) => value * 100) }])
  for (const undoWhole of [false, true]) {
    const found = recogniseReturn(master, returned, { undoWhole })
    expect(found.findings.map(({ code }) => code)).toEqual(['return.parts-merged'])
    const { rows } = compareScenes(master, found.returned, () => {}, found.matching)
    for (const { cells, match } of rows)
      expect([undoWhole, match.by, cells.names!.note]).toEqual([undoWhole, 'pieces', 'name-within'])
  }
})

test('something new that holds a small part: the part is taken out, and the new stays new', () => {
  const [a, b] = master.meshes as [Mesh, Mesh]
  const large = { ...transformMesh(gridOf(20, 20), moved(100, 9, 0)), uvSets: [] }
  const found = recogniseReturn(master, named(master, [a, appendMeshes('helmet', [b, large])]))
  const { rows } = compareScenes(master, found.returned, () => {}, found.matching)
  expect(rows.map(({ faceCount, cells }) => [faceCount, cells.topology!.note])).toEqual([
    [24, 'same'],
    [32, expect.stringMatching(/same|renumbered/)],
    [400, 'part-gained'],
  ])
})

test('paired by hand with a part that is taken apart by its polygons: these stand, and nothing breaks', () => {
  const [a, b] = master.meshes as [Mesh, Mesh]
  const returned = sceneOf([appendMeshes('all', [a, b])])
  const pairs = [{ part: master.nodes[1]!.id, returnedNode: 0, name: 'part_1' }]
  for (const undoWhole of [false, true]) {
    const { matching } = recogniseReturn(master, returned, { pairs, undoWhole })
    expect(matching.matched.map(({ match }) => match.masterNode)).toContain(1)
  }
})

test('one part alone: with another in it that stays apart; with less of it there is nothing to take apart', () => {
  const own = sheet(6, 0, 0)
  const one = sceneOf([{ ...own, name: 'sheet' }])
  const other = sheet(8, 40, 0.5)
  const more = recogniseReturn(one, sceneOf([{ ...appendMeshes('sheet', [own, other]), name: 'sheet' }]))
  const { rows } = compareScenes(one, more.returned, () => {}, more.matching)
  expect(rows.map(({ match }) => match.masterNode >= 0)).toEqual([true, false])
  expect(rows[0]!.cells.topology!.note).not.toBe('topology-changed')
  for (const part of [
    half(own, true),
    appendMeshes('sheet', [half(own, true), half(half(other, true), false)]),
  ]) {
    // prettier-ignore
    const less = recogniseReturn(one, sceneOf([{ ...part, name: 'sheet' }]))
    expect(less.findings).toEqual([])
    expect(less.matching.matched.map(({ match }) => [match.masterNode, match.by])).toEqual([[0, 'path']])
  }
})
