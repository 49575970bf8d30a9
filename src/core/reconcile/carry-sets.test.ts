/** Several UV and colour sets a part: told apart by the comparison, and none lost by taking another. */
import { describe, expect, test } from 'vitest'
import { cubeOf, sceneOf } from '../../../tests/solids.ts'
import type { ColorSet, Mesh, UvSet } from '../scene/mesh.ts'
import type { Scene } from '../scene/scene.ts'
import { compareScenes } from '../compare/compare-scenes.ts'
import { fingerprintScene } from '../compare/fingerprint.ts'
import { reconcile } from './reconcile.ts'

const cube = cubeOf()
const uvs = (name: string, shift = 0): UvSet => ({
  ...cube.uvSets[0]!,
  name,
  values: cube.uvSets[0]!.values.map((value) => value + shift),
})
const colours = (name: string, value = 0.5): ColorSet => ({
  name,
  components: 3,
  per: 'points',
  values: new Float64Array(24).fill(value),
  indices: new Int32Array(0),
})
const scene = (more: Partial<Mesh>): Scene => sceneOf([{ ...cube, ...more }])
const withUvs = (...uvSets: UvSet[]): Scene => scene({ uvSets })
const withColours = (...colorSets: ColorSet[]): Scene => scene({ colorSets })
const cell = (master: Scene, returned: Scene, trait: 'uvs' | 'colours') =>
  compareScenes(master, returned).rows[0]!.cells[trait]!
const names = (sets: readonly { name: string }[]): string[] => sets.map((set) => set.name)

describe('the comparison', () => {
  test('a set more is told, and so is one less', () => {
    const more = cell(withUvs(uvs('base')), withUvs(uvs('base'), uvs('light')), 'uvs')
    expect([more.state, more.note, more.parameters]).toEqual([
      'gained',
      'uv-sets-gained',
      { added: 1, names: 'light' },
    ])
    const tints = cell(withColours(colours('tint')), withColours(colours('tint'), colours('')), 'colours')
    expect([tints.note, tints.parameters.names]).toEqual(['colour-sets-gained', 'one without a name'])
    const less = cell(withColours(colours('tint'), colours('wear')), withColours(colours('wear')), 'colours')
    expect([less.state, less.note, less.parameters]).toEqual([
      'changed',
      'colour-sets-lost',
      { lost: 1, total: 2, names: 'tint' },
    ])
  })
  test('a second set of colours is looked at as the first is', () => {
    const both = withColours(colours('tint'), colours('wear'))
    expect(cell(both, both, 'colours').state).toBe('same')
    const worn = cell(both, withColours(colours('wear', 0.25), colours('tint')), 'colours')
    expect([worn.note, worn.changedCount, worn.totalCount]).toEqual(['colours-changed', 8, 16])
    expect(worn.places!.master).toHaveLength(8)
    expect(worn.deviation).toBe(0.25)
  })
})

describe('taking them', () => {
  const master = withUvs(uvs('base'), uvs('light'))
  test('new UVs go to the set that they are of, whatever the order; the other stays', () => {
    const { scene: taken } = reconcile(master, withUvs(uvs('own'), uvs('light', 0.25)), { take: ['uvs'] })
    const [base, light] = taken.meshes[0]!.uvSets
    expect(names(taken.meshes[0]!.uvSets)).toEqual(['base', 'light'])
    // “own” is what came back for “base”: the one is left for the other
    expect([...base!.values]).toEqual([...uvs('').values])
    expect([...light!.values]).toEqual([...uvs('', 0.25).values])
  })
  test('a tool’s own set in front of the known one does not take its name', () => {
    const { scene: taken } = reconcile(withUvs(uvs('base')), withUvs(uvs('own'), uvs('base', 0.25)), {
      take: ['uvs'],
    })
    expect(names(taken.meshes[0]!.uvSets)).toEqual(['base', 'own'])
    expect([...taken.meshes[0]!.uvSets[0]!.values]).toEqual([...uvs('', 0.25).values])
  })
  test('a set that did not come back stays, of UVs and of colours', () => {
    const uvTaken = reconcile(master, withUvs(uvs('light', 0.25)), { take: ['uvs'] }).scene
    expect(names(uvTaken.meshes[0]!.uvSets)).toEqual(['base', 'light'])
    const tinted = withColours(colours('tint'), colours('wear'))
    const { scene: taken } = reconcile(tinted, withColours(colours('wear', 0.25)), { take: ['colours'] })
    expect(taken.meshes[0]!.colorSets.map((set) => [set.name, set.values[0]])).toEqual([
      ['tint', 0.5],
      ['wear', 0.25],
    ])
  })
  test('polygons alone: sets that nobody asked for do not come with them', () => {
    const returned = withUvs(uvs('own'), uvs('base', 0.25), uvs('light', 0.5))
    const { scene: taken } = reconcile(master, returned, { take: ['topology'] })
    expect(names(taken.meshes[0]!.uvSets)).toEqual(['base', 'light'])
    expect(fingerprintScene(taken).uvs).toBe(fingerprintScene(master).uvs)
  })
})
