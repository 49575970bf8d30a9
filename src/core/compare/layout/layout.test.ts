/** Layouts of UVs that came back turned over, by quarters, larger or elsewhere: told, no hindrance to knowing which is which, undone. */
import { describe, expect, test } from 'vitest'
import { IN_THE_LONG_RUN } from '../../../../tests/how-many.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { buildMooringBollard } from '../../practice/demo/mooring-bollard.ts'
import { buildStormLantern } from '../../practice/demo/storm-lantern.ts'
import { damage, type FaultName } from '../../practice/faults/mesh-faults.ts'
import { flatten } from '../../practice/faults/scene-faults.ts'
import type { Scene } from '../../scene/scene.ts'
import { compareScenes } from '../compare-scenes.ts'
import { recogniseReturn } from '../recognise/recognise-return.ts'
import { tellStory } from '../story/tell-story.ts'
import { findLayout } from './find-layout.ts'
import { alongWay, invertWay, LAYOUT_TURNS, wayText, type LayoutWay } from './layout-way.ts'
import { wayOfCorners } from './way-of-corners.ts'

const WAYS: readonly (readonly [LayoutWay, string])[] = [
  [{ turn: LAYOUT_TURNS[1]!, factor: 1, shift: [0, 1] }, 'upside down'],
  [{ turn: LAYOUT_TURNS[1]!, factor: 1, shift: [0, 0] }, 'upside down, moved by −1 along V'],
  [{ turn: LAYOUT_TURNS[2]!, factor: 1, shift: [1, 0] }, 'mirrored along U'],
  [{ turn: LAYOUT_TURNS[3]!, factor: 1, shift: [1, 1] }, 'turned by half'],
  [{ turn: LAYOUT_TURNS[4]!, factor: 1, shift: [1, 0] }, 'turned by a quarter to the left'],
  [{ turn: LAYOUT_TURNS[5]!, factor: 1, shift: [0, 1] }, 'turned by a quarter to the right'],
  [{ turn: LAYOUT_TURNS[6]!, factor: 1, shift: [0, 0] }, 'with U and V exchanged'],
  [{ turn: LAYOUT_TURNS[0]!, factor: 1, shift: [1, 0] }, 'moved by 1 along U'],
  [{ turn: LAYOUT_TURNS[0]!, factor: 2048, shift: [0, 0] }, '2,048 times as large'],
  [{ turn: LAYOUT_TURNS[0]!, factor: 0.5, shift: [0.25, 0.5] }, '0.5 times as large, moved by 0.25 along U and 0.5 along V'],
  [{ turn: LAYOUT_TURNS[1]!, factor: 512, shift: [0, 512] }, 'upside down, 512 times as large'],
] // prettier-ignore

/** @param digits in single precision where none are said. */
const laidAlong = (scene: Scene, way: LayoutWay, digits: number | null = null): Scene => ({
  ...scene,
  meshes: scene.meshes.map((mesh) => ({
    ...mesh,
    uvSets: mesh.uvSets.map((set) => ({ ...set, values: alongWay(set.values, way).map((value) => (digits === null ? Math.fround(value) : Number(value.toFixed(digits)))) })), // prettier-ignore
  })),
})
const damaged = (scene: Scene, faults: readonly FaultName[], seed: number): Scene => ({
  ...scene,
  format: 'obj',
  meshes: scene.meshes.map((mesh, at) => damage(mesh, faults, chanceOf(seed + at)).mesh),
})

const whole = flatten(buildCourierHeron())
/** All of it in the long run; else both wings, the beak and the eyes. */
const heron = IN_THE_LONG_RUN ? whole : { ...whole, ...partsOf(1, 2, 5, 6, 7) }
function partsOf(...parts: number[]): Pick<Scene, 'nodes' | 'meshes'> {
  return {
    nodes: parts.map((part, at) => ({ ...whole.nodes[part]!, mesh: at })),
    meshes: parts.map((part) => whole.meshes[whole.nodes[part]!.mesh]!),
  }
}
const FAULTS: readonly FaultName[][] = [[], ['sculpted', 'renumbered'], ['triangulated', 'unwelded', 'renumbered'], ['bumped', 'triangulated']] // prettier-ignore

describe.each(WAYS)('%j', (way, text) => {
  test('in words, and back', () => {
    expect(wayText(way)).toBe(text)
    const values = Float64Array.from({ length: 40 }, (_value, at) => Math.sin(at * 7.3))
    alongWay(alongWay(values, way), invertWay(way)).forEach((value, at) =>
      expect(value).toBeCloseTo(values[at]!, 9),
    )
  })
  test('of a model, sculpted, cut and numbered anew as well: told, and undone all of it is the master’s', () => {
    const faults = FAULTS[WAYS.findIndex(([one]) => one === way) % FAULTS.length]!
    const plain = damaged(heron, faults, 5)
    const returned = laidAlong(plain, way)
    const found = recogniseReturn(heron, returned)
    const ledger = compareScenes(heron, found.returned, () => {}, found.matching)
    expect(ledger.layout).toEqual({ text })
    for (const { cells } of ledger.rows) expect(cells.uvs).toMatchObject({ state: 'changed', note: 'uvs-as-whole', parameters: { how: text } }) // prettier-ignore
    expect(tellStory(ledger, { titleOf: (trait) => trait, isToolsOwn: () => false })[0]).toBe(`Its layout of UVs is ${text}.`) // prettier-ignore
    // values are those of the file, whatever was tried with them
    const came = new Set(returned.meshes.flatMap(({ uvSets }) => uvSets.map(({ values }) => values)))
    for (const { uvSets } of found.returned.meshes) for (const { values } of uvSets) expect(came.has(values)).toBe(true) // prettier-ignore
    const undone = recogniseReturn(heron, returned, { undoWhole: true })
    expect(undone.findings[0]).toMatchObject({ code: 'return.layout-undone', parameters: { how: text } })
    expect(undone.layoutUndone).toEqual({ text })
    const after = compareScenes(heron, undone.returned, () => {}, undone.matching)
    expect(after.layout).toBeNull()
    for (const { cells } of after.rows) expect(cells.uvs!.state).toMatch(/^(same|within)$/)
    // which is which is told by them as by a layout that lies as it lay
    const asItWas = recogniseReturn(heron, plain)
    found.matching.matched.forEach(({ correspondence }, part) => {
      const own = asItWas.matching.matched[part]!.correspondence
      expect([part, correspondence.guess ?? false]).toEqual([part, own.guess ?? false])
      const other = correspondence.pointToReturned.reduce((sum, point, at) => sum + (point === own.pointToReturned[at] ? 0 : 1), 0) // prettier-ignore
      expect([part, other]).toEqual([part, 0])
    })
  })
})

test.each([
  ['heron', heron],
  ['lantern', flatten(buildStormLantern())],
  ['bollard', flatten(buildMooringBollard())],
])('as it lies, on its own values anew, or moved here and there, nothing is told: %s', (_name, scene) => {
  expect(findLayout(scene, scene)).toBeNull()
  expect(findLayout(scene, damaged(scene, ['sculpted', 'renumbered'], 3))).toBeNull()
  for (let seed = 1; seed < 6; seed++) {
    const chance = chanceOf(seed)
    const anew = { ...scene, meshes: scene.meshes.map((mesh) => ({ ...mesh, uvSets: mesh.uvSets.map((set) => ({ ...set, values: set.values.map(() => chance()) })) })) } // prettier-ignore
    expect(findLayout(scene, anew)).toBeNull()
  }
  const none = { ...scene, meshes: scene.meshes.map((mesh) => ({ ...mesh, uvSets: [] })) }
  expect([findLayout(scene, none), findLayout(none, scene), findLayout(none, none)]).toEqual([
    null,
    null,
    null,
  ])
  const nowhere = { ...scene, meshes: scene.meshes.map((mesh) => ({ ...mesh, uvSets: mesh.uvSets.map((set) => ({ ...set, values: set.values.map(() => NaN) })) })) } // prettier-ignore
  expect([findLayout(scene, nowhere), findLayout(nowhere, scene)]).toEqual([null, null])
})

test('rounded to four digits besides', () => {
  const returned = laidAlong(heron, WAYS[0]![0], 4)
  const found = recogniseReturn(heron, returned)
  expect(findLayout(heron, returned)).not.toBeNull()
  const undone = recogniseReturn(heron, returned, { undoWhole: true })
  const { rows } = compareScenes(heron, undone.returned, () => {}, undone.matching)
  for (const { cells } of rows) expect(cells.uvs!.deviation).toBeLessThanOrEqual(0.51e-4)
  expect(found.matching.matched).toHaveLength(heron.nodes.length)
})

test('corners on a line, or one that goes its own way, are no way of all', () => {
  const within = (): number => 1e-6
  const line = Float64Array.of(0, 0, 1, 1, 2, 2, 3, 3)
  expect(wayOfCorners(line, line.map((value) => -value), within)).toBeNull() // prettier-ignore
  const own = Float64Array.of(0, 0, 1, 0, 1, 1, 0, 1)
  const over = Float64Array.of(0, 1, 1, 1, 1, 0, 0, 0)
  expect(wayText(wayOfCorners(own, over, within)!)).toBe('upside down')
  over[2]! += 1e-3
  expect(wayOfCorners(own, over, within)).toBeNull()
  expect(wayOfCorners(own, own.map(() => NaN), within)).toBeNull() // prettier-ignore
})

test('a part whose layout was not turned with the others stays, when told and when undone', () => {
  const still = heron.meshes.reduce((least, mesh) => (mesh.uvSets[0]!.values.length < least.uvSets[0]!.values.length ? mesh : least)).name // prettier-ignore
  const turned = laidAlong(damaged(heron, ['sculpted', 'renumbered'], 5), WAYS[0]![0])
  const plain = damaged(heron, ['sculpted', 'renumbered'], 5)
  const came = { ...turned, meshes: turned.meshes.map((mesh, at) => (mesh.name === still ? plain.meshes[at]! : mesh)) } // prettier-ignore
  const found = recogniseReturn(heron, came)
  const told = compareScenes(heron, found.returned, () => {}, found.matching)
  const own = told.rows.filter(({ name }) => name === still)
  expect(own.length).toBeGreaterThan(0)
  for (const { cells } of own) expect(cells.uvs!.state).toBe('same')
  expect(told.layout).toEqual({ text: 'upside down' })
  const undone = recogniseReturn(heron, came, { undoWhole: true })
  const after = compareScenes(heron, undone.returned, () => {}, undone.matching)
  for (const { cells } of after.rows) expect(cells.uvs!.state).toMatch(/^(same|within)$/)
})
