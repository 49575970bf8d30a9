/** Steps of materials: names, equal ones, colours that tell them apart and are read back, groups. */
import { describe, expect, test } from 'vitest'
import { cubeOf, gridOf, materialOf, sceneOf } from '../../../../tests/solids.ts'
import { writeFbx } from '../../formats/fbx/write-fbx.ts'
import { readPackage } from '../../formats/package/read-package.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import type { Scene } from '../../scene/scene.ts'
import { hexOf, ID_COLOR_COUNT, idColor } from '../../surfaces/id-colors.ts'
import type { RecipeStep } from '../recipe.ts'
import { runStep } from '../run-steps.ts'

const apply = (scene: Scene, step: string, params: RecipeStep['params'] = {}) =>
  runStep(scene, { step, params })
const names = (scene: Scene): string[] => scene.materials.map(({ name }) => name)
/** Materials of each polygon by name. */
const wornBy = (scene: Scene): string[][] =>
  scene.meshes.map((mesh) =>
    [...(mesh.faceMaterials ?? [])].map((place) => scene.materials[place]?.name ?? ''),
  )
const withMaterials = (list: readonly string[]): Scene => ({
  ...sceneOf([
    { ...cubeOf(), faceMaterials: Int32Array.from({ length: 6 }, (_, face) => face % list.length) },
  ]),
  materials: list.map((name) => materialOf(name)),
})

describe('names', () => {
  test('by pattern, each * filled with what it stood for; no two become one', () => {
    const scene = withMaterials(['MAT_brass', 'MAT_glass', 'rope'])
    expect(names(apply(scene, 'rename-materials', { find: 'MAT_*', to: 'lamp_*' }).scene)).toEqual([
      'lamp_brass',
      'lamp_glass',
      'rope',
    ])
    expect(names(apply(scene, 'rename-materials', { find: 'mat_*', to: 'rope' }).scene)).toEqual([
      'rope_2',
      'rope_3',
      'rope',
    ])
    expect(apply(scene, 'rename-materials').changedCount).toBe(0)
    expect(() => apply(scene, 'rename-materials', { to: ' ' })).toThrow(/would have none/)
  })
})

describe('equal materials', () => {
  test('those whose names differ by a number alone; with any name only where more than the name is known', () => {
    const scene = withMaterials(['brass', 'brass.001', 'glass', 'brass_2'])
    const done = apply(scene, 'merge-equal-materials')
    expect(names(done.scene)).toEqual(['brass', 'glass'])
    expect(wornBy(done.scene)).toEqual([['brass', 'brass', 'glass', 'brass', 'brass', 'brass']])
    expect(apply(done.scene, 'merge-equal-materials').changedCount).toBe(0)
    const painted = {
      ...scene,
      materials: ['a', 'b', 'c', 'd'].map((name, at) => ({
        ...materialOf(name),
        properties: at < 2 ? [{ name: 'Kd', values: [0.1, 0.2, 0.3], text: null }] : [],
        maps: [],
      })),
    }
    expect(names(apply(painted, 'merge-equal-materials', { names: 'any' }).scene)).toEqual(['a', 'c', 'd'])
    expect(names(apply(painted, 'merge-equal-materials').scene)).toEqual(['a', 'b', 'c', 'd'])
  })
})

describe('a colour for each material', () => {
  test('all of them are different in 8 bits, by more than a tool’s rounding, and none is black', () => {
    const colors = Array.from({ length: ID_COLOR_COUNT }, (_, place) => idColor(place))
    expect(new Set(colors.map(hexOf)).size).toBe(ID_COLOR_COUNT)
    let nearest = Infinity
    for (const [a, [r, g, b]] of colors.entries())
      for (let other = 0; other < a; other++) {
        const [r2, g2, b2] = colors[other]!
        nearest = Math.min(nearest, Math.max(Math.abs(r - r2), Math.abs(g - g2), Math.abs(b - b2)))
      }
    expect(nearest).toBe(12)
    expect(Math.min(...colors.map((color) => Math.max(...color)))).toBeGreaterThan(12)
  })
  test('written, carried by a file, and read back onto a model that lost its materials', () => {
    const heron = buildCourierHeron()
    const colored = apply(heron, 'colors-from-materials').scene
    expect(wornBy(colored)).toEqual(wornBy(heron))
    const { files } = writeFbx(colored, 'heron.fbx')
    const back = readPackage(files).scene
    const bare: Scene = { ...back, meshes: back.meshes.map((mesh) => ({ ...mesh, faceMaterials: null })) }
    const done = apply(bare, 'materials-from-colors', { set: 'material_id' }).scene
    expect(wornBy(done)).toEqual(wornBy(back))
    expect(apply(done, 'materials-from-colors', { set: 'material_id' }).changedCount).toBe(0)
  })
  test('another colour becomes a material of its own, black none; most corners decide', () => {
    const mesh = gridOf(2, 1)
    const set = {
      name: 'id',
      components: 3 as const,
      values: Float64Array.of(0.2, 0.4, 0.6, 0, 0, 0),
      per: 'corners' as const,
      indices: Int32Array.of(0, 0, 0, 1, 1, 1, 1, 0),
    }
    const done = apply(sceneOf([{ ...mesh, colorSets: [set] }]), 'materials-from-colors')
    expect(wornBy(done.scene)).toEqual([['color_336699', '']])
  })
})

test('a material for each face group, made where there is none', () => {
  const scene = withMaterials(['brass'])
  const [cube] = scene.meshes
  const grouped: Scene = {
    ...scene,
    meshes: [
      {
        ...cube!,
        groups: { names: ['brass', 'lid'], sets: [[0], [1, 0]], faceSets: Int32Array.of(0, 1, -1, 1, 0, 0) },
      },
    ],
  }
  const done = apply(grouped, 'materials-from-groups')
  expect(wornBy(done.scene)).toEqual([['brass', 'lid', 'brass', 'lid', 'brass', 'brass']])
  expect(done.changedCount).toBe(2)
  expect(apply(done.scene, 'materials-from-groups').changedCount).toBe(0)
})

describe('assigning', () => {
  test('polygons without one take it; with “also in place of another” the chosen ones alone, over parts', () => {
    const two = sceneOf([
      { ...gridOf(2, 1), faceMaterials: Int32Array.of(0, -1) },
      { ...gridOf(2, 1), faceMaterials: Int32Array.of(1, 1) },
    ])
    const scene = { ...two, materials: [materialOf('sail'), materialOf('rope')] }
    expect(wornBy(apply(scene, 'assign-material', { name: 'rope' }).scene)).toEqual([
      ['sail', 'rope'],
      ['rope', 'rope'],
    ])
    expect(wornBy(apply(scene, 'assign-material', { name: 'sail', replaces: true }).scene)).toEqual([
      ['sail', 'sail'],
      ['sail', 'sail'],
    ])
    const only = [{ node: scene.nodes[1]!.id, element: 'faces' as const, elements: [1] }]
    const chosen = runStep(scene, { step: 'assign-material', params: { name: 'sail', replaces: true }, only })
    expect(wornBy(chosen.scene)).toEqual([
      ['sail', ''],
      ['rope', 'sail'],
    ])
    expect(chosen.changedCount).toBe(1)
  })
})

describe('ID maps', () => {
  const heron = buildCourierHeron()
  /** Each part's materials have a tile of their own, one over the other: brought into a square of 64 cells, or 64 squares. */
  const spreadOver = (place: (value: number, cell: number) => number): Scene => ({
    ...heron,
    meshes: heron.meshes.map((mesh, part) => {
      const set = mesh.uvSets[0]!
      const cells = new Int32Array(set.values.length / 2)
      for (let face = 0; face + 1 < mesh.faceOffsets.length; face++)
        for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
          cells[set.indices[corner]!] = 5 * part + mesh.faceMaterials![face]!
      const values = set.values.map((value, at) => {
        const cell = cells[at >> 1]!
        return place(value, at % 2 ? Math.floor(cell / 8) : cell % 8)
      })
      return { ...mesh, uvSets: [{ ...set, values }] }
    }),
  })
  const spread = spreadOver((value, cell) => (value + cell) / 8)
  const bare = (scene: Scene): Scene => ({
    ...scene,
    meshes: scene.meshes.map((mesh) => ({ ...mesh, faceMaterials: null })),
  })
  test('drawn, and read back onto a model that lost its materials', () => {
    const drawn = apply(spread, 'id-map-from-materials', { size: 1024 })
    expect(drawn.scene.materials.every(({ maps }) => maps.some(({ slot }) => slot === 'id'))).toBe(true)
    expect(drawn.notes[0]).toMatch(/^“plumage” is [0-9a-f]{6}\.$/)
    const back = apply(bare(drawn.scene), 'materials-from-id-map')
    expect(wornBy(back.scene)).toEqual(wornBy(spread))
    expect(names(back.scene)).toEqual(names(spread))
  })
  test('each in a tile of its own', () => {
    const tiled = spreadOver((value, cell) => value + cell)
    const drawn = apply(tiled, 'id-map-from-materials', { size: 512 })
    expect(
      drawn.scene.images.find(({ file }) => file === 'maps/id.<UDIM>.png')!.tiles!.length,
    ).toBeGreaterThan(4)
    expect(wornBy(apply(bare(drawn.scene), 'materials-from-id-map').scene)).toEqual(wornBy(tiled))
  })
  test('colours of groups become a material each, and none of those there are', () => {
    const drawn = apply(spread, 'id-map-from-materials', { by: 'groups', size: 512 })
    const back = apply(bare(drawn.scene), 'materials-from-id-map')
    const worn = new Set(wornBy(back.scene).flat().filter(Boolean))
    expect(worn.size).toBeGreaterThan(1)
    for (const name of worn) expect(name).toMatch(/^color_[0-9a-f]{6}$/)
  })
  test('where there is none, or no image: said', () => {
    expect(apply(heron, 'materials-from-id-map').notes).toEqual(['This model has no ID map.'])
    expect(() => apply(heron, 'materials-from-id-map', { file: 'x.png' })).toThrow(
      'There is no image “x.png”',
    )
    expect(() => apply(heron, 'id-map-from-materials', { set: 'none' })).toThrow(
      'No polygons lie in this UV set',
    )
  })
})
