/** What is told of a delivery: how far it is, what was left, what is held against it, and what is said once. */
import { describe, expect, test } from 'vitest'
import { send, workshop as tool } from '../../../tests/deliveries.ts'
import { cubeOf, gridOf, materialOf, moved, sceneOf, withNodes } from '../../../tests/solids.ts'
import { encodeUtf8 } from '../base/bytes/text.ts'
import { readPackage } from '../formats/package/read-package.ts'
import type { Scene } from '../scene/scene.ts'
import { deliver, packageFolder, type DeliveryRequest } from './deliver.ts'
import type { Destination } from './destinations/destination.ts'

const box = sceneOf(
  [
    cubeOf({ faceMaterials: Int32Array.of(0, 1, 0, 1, 0, 1) }),
    { ...gridOf(2, 2), faceMaterials: new Int32Array(4) },
    { ...gridOf(3, 1), faceMaterials: new Int32Array(3) },
  ],
  { materials: [materialOf('tin'), materialOf('zinc plate')] },
)
const crate: Scene = { ...box, space: { ...box.space, unitMeters: 1 } }
const hidden = withNodes(crate, (_node, at) => ({ visible: at !== 1 }))
const names = (delivery: ReturnType<typeof send>): string[] =>
  readPackage(delivery.files).scene.nodes.map(({ name }) => name)

describe('how far it is', () => {
  const cases: [string, Destination, Partial<DeliveryRequest>][] = [
    ['as it is', tool(), {}],
    ['with a recipe', tool({ recipe: { name: '', steps: [{ step: 'triangulate', params: {} }] } }), {}],
    ['in a format without parts', tool({ format: 'stl' }), {}],
    ['larger', tool(), { options: { scale: 3 } }],
  ]
  test.each(cases)(
    '%s: it never falls, ends below one, and says what is done',
    (_title, destination, more) => {
      const told: [number, string][] = []
      deliver(
        crate,
        { destination, options: {}, stem: 'crate', withRecipe: true, codec: null, ...more },
        (share, stage) => told.push([share, stage]),
      )
      for (const [at, [share]] of told.entries()) {
        expect(share).toBeGreaterThanOrEqual(told[at - 1]?.[0] ?? 0)
        expect(share).toBeLessThan(1)
      }
      const stages = ['Writing', 'Reading back', 'Comparing', 'Checking']
      expect([...new Set(told.map(([, stage]) => stage))]).toEqual(
        destination.recipe ? ['Preparing', ...stages] : stages,
      )
      const comparing = told.filter(([, stage]) => stage === 'Comparing').map(([share]) => share)
      expect(comparing[0]).toBe(0.55)
      expect(comparing.at(-1)).toBeCloseTo(0.8, 1)
    },
  )
})

describe('what leaves', () => {
  const [first, second, third] = crate.nodes.map(({ name }) => name) as [string, string, string]
  test('all, what is seen, what is chosen, and of the chosen what is seen', () => {
    const seen = { options: { visibleOnly: true } }
    expect(names(send(hidden, tool()))).toEqual([first, second, third])
    expect(names(send(hidden, tool(), seen))).toEqual([first, third])
    expect(names(send(hidden, tool({ writeOptions: { visibleOnly: true } })))).toEqual([first, third])
    expect(names(send(hidden, tool(), { selection: [1, 2] }))).toEqual([second, third])
    expect(names(send(hidden, tool(), { ...seen, selection: [1, 2] }))).toEqual([third])
    expect(names(send(hidden, tool(), { selection: [] }))).toEqual([])
    // anything but yes is no
    expect(names(send(hidden, tool(), { options: { visibleOnly: 'false' } }))).toHaveLength(3)
  })
  test('rows, size and checks are of what leaves', () => {
    const delivery = send(hidden, tool(), { options: { visibleOnly: true } })
    expect(delivery.forecast.rows.map(({ name }) => name)).toEqual([first, third])
    const alone = withNodes(crate, (_node, at) => ({ local: moved(0, at * 7, 0) }))
    expect(send(alone, tool(), { selection: [0, 1] }).size.meters).toBe(7)
  })
  test('a scale that is no number is none', () => {
    expect(send(crate, tool(), { options: { scale: 'large' } }).forecast.scene.state).toBe('same')
  })
  test('only a recipe that ran makes another one of it', () => {
    const recipe = { name: '', steps: [{ step: 'triangulate', params: {} }] }
    expect(send(crate, tool()).sent).toBeNull()
    expect(send(crate, tool({ recipe }), { withRecipe: false }).sent).toBeNull()
    const { sent } = send(crate, tool({ recipe }))
    expect(sent!.meshes[0]!.faceOffsets.length - 1).toBe(12)
  })
  test('chosen parts go on through a recipe that makes others of them, by their names', () => {
    const recipe = { name: '', steps: [{ step: 'split-parts', params: { by: 'materials' } }] }
    const divided = send(crate, tool({ recipe }), { selection: [0] })
    const left = readPackage(divided.files).scene
    expect(left.meshes.reduce((sum, mesh) => sum + mesh.faceOffsets.length - 1, 0)).toBeLessThanOrEqual(6)
    expect(left.nodes.some(({ name }) => name === first)).toBe(true)
    expect(left.nodes.some(({ name }) => name === third)).toBe(false)
  })
  test('what was rewired leaves in the place of the version, with what lies beside it and what was said', () => {
    const rewired = {
      scene: { ...crate, materials: [materialOf('other tin'), crate.materials[1]!] },
      beside: [{ name: 'maps/tin.png', bytes: encodeUtf8('x') }],
      findings: [{ code: 'delivery.renamed', parameters: { count: 1, what: 'parts', from: 'a', to: 'b' }, file: null, line: null, byte: null, total: 1 } as const], // prettier-ignore
    }
    const delivery = send(crate, tool(), { rewired })
    expect(delivery.files.map(({ name }) => name)).toEqual(['crate.fbx', 'maps/tin.png'])
    expect(readPackage(delivery.files.slice(0, 1)).scene.materials.map(({ name }) => name)).toContain(
      'other tin',
    )
    expect(delivery.findings.map(({ code }) => code)).toEqual(['delivery.renamed'])
  })
  test('files of several models that lie beside both are there once', () => {
    const mapped: Scene = {
      ...crate,
      materials: crate.materials.map((material) => ({ ...material, maps: [{ property: 'map_Kd', slot: 'baseColor' as const, file: 'a.png', options: [] }] })), // prettier-ignore
      images: [{ file: 'a.png', entry: 'a.png', bytes: encodeUtf8('x') }],
    }
    const { files, modelCount } = send(mapped, tool({ format: 'obj', split: 'parts' }))
    expect(modelCount).toBe(3)
    expect(files.filter(({ name }) => name.endsWith('a.png'))).toHaveLength(1)
    expect(files[0]!.name).toMatch(/\.obj$/)
  })
})

describe('what is held against it', () => {
  const loose = withNodes(crate, () => ({}))
  const broken: Scene = {
    ...loose,
    materials: [...crate.materials, materialOf('never used')],
    meshes: [{ ...crate.meshes[0]!, points: crate.meshes[0]!.points.map((value, at) => (at === 0 ? NaN : value)) }, ...crate.meshes.slice(1)], // prettier-ignore
  }
  test('what has to be clean stands first, then by weight; each is told with its part and its count', () => {
    const { checks } = send(broken, tool({ mustBeClean: ['not-quads', 'broken-points'], polygons: 'quads' }))
    const wanted = checks.map(({ mustBeClean }) => mustBeClean)
    expect(wanted.indexOf(false)).toBe(wanted.lastIndexOf(true) + 1)
    for (const required of [true, false]) {
      const weights = checks
        .filter(({ mustBeClean }) => mustBeClean === required)
        .map(({ severity }) => ['error', 'warning', 'info'].indexOf(severity))
      expect(weights).toEqual([...weights].sort((a, b) => a - b))
    }
    const point = checks.find(({ check }) => check === 'broken-points')!
    expect([point.mustBeClean, point.count, point.part]).toEqual([true, 1, crate.nodes[0]!.name])
    expect(point.message).not.toMatch(/[{}?]/)
  })
  test('without wishes only what is quick to know: of the scene and the materials', () => {
    const { checks } = send(broken, tool())
    expect(checks.every(({ mustBeClean }) => !mustBeClean)).toBe(true)
    expect(checks.map(({ check }) => check)).not.toContain('broken-points')
    expect(checks.map(({ check }) => check)).toContain('unused-materials')
    expect(checks.find(({ check }) => check === 'unused-materials')!.mended).toBe(true)
  })
  test('quads and a budget are looked at where they are asked for', () => {
    const cut: Scene = { ...crate, meshes: [{ ...crate.meshes[0]!, faceOffsets: Uint32Array.of(0, 3, 6), faceVertices: Uint32Array.of(0, 1, 2, 0, 2, 3), faceMaterials: Int32Array.of(0, 0), uvSets: [] }, ...crate.meshes.slice(1)] } // prettier-ignore
    const of = (more: Partial<Destination>): string[] =>
      send(cut, tool(more)).checks.map(({ check }) => check)
    expect(of({ polygons: 'quads' })).toContain('not-quads')
    expect(of({ polygons: 'any' })).not.toContain('not-quads')
    expect(of({ polygonBudget: 1 })).toContain('polygon-count')
    expect(of({ polygonBudget: 99 })).not.toContain('polygon-count')
  })
})

describe('what is said', () => {
  const polygonsOf = (scene: Scene, options = {}) =>
    send(scene, tool({ polygons: 'triangles' }), { options }).findings.find(
      ({ code }) => code === 'delivery.polygons',
    )?.parameters.count
  test('polygons that a tool of triangles gets are counted over all parts', () => {
    expect(polygonsOf(crate)).toBe(6 + 4 + 3)
    expect(polygonsOf(crate, { triangulate: true })).toBeUndefined()
  })
  test('names that are other ones, with the first of them', () => {
    const { findings } = send(
      withNodes(crate, (_node, at) => ({ name: `Tür ${at}` })),
      tool({ naming: { letters: 'plain', longest: null, prefix: '', suffix: '' } }),
    )
    expect(findings.map(({ code, parameters }) => [code, parameters])).toEqual([
      ['delivery.renamed', { count: 3, what: 'parts', from: 'Tür 0', to: 'Tur_0' }],
      ['delivery.renamed', { count: 1, what: 'materials', from: 'zinc plate', to: 'zinc_plate' }],
    ])
  })
  test('a material that goes under another name is told in the rows that use it, once each', () => {
    const { forecast } = send(
      crate,
      tool({ naming: { letters: 'plain', longest: null, prefix: '', suffix: '' } }),
    )
    expect(
      forecast.rows.map(({ cells }) => [cells.materials!.note, cells.materials!.parameters.count]),
    ).toEqual([
      ['materials-renamed', 1],
      ['same', undefined],
      ['same', undefined],
    ])
  })
  test('a normal map is told once, whatever number of materials it has; rewired ones are turned already', () => {
    const normal = { property: 'NormalMap', slot: 'normal' as const, file: 'n.png', options: [] }
    const color = { ...normal, slot: 'baseColor' as const, property: 'DiffuseColor', file: 'c.png' }
    const mapped = { ...crate, materials: crate.materials.map((material) => ({ ...material, model: 'phong', maps: [normal, color] })) } as Scene // prettier-ignore
    const said = (more: Partial<DeliveryRequest> = {}) =>
      send(mapped, tool(), more).findings.filter(({ code }) => code === 'delivery.normal-maps')
    expect(said().map(({ parameters }) => parameters)).toEqual([{ green: 'up', names: 'n.png' }])
    expect(said({ rewired: { scene: mapped, beside: [], findings: [] } })).toEqual([])
  })
  test('the same sentence about several files is said once, another one of the same kind as well', () => {
    const { findings } = send(crate, tool({ format: 'stl', split: 'parts' }))
    const keys = findings.map(({ code, parameters }) => JSON.stringify([code, parameters]))
    expect(new Set(keys).size).toBe(keys.length)
  })
})

test('a folder counts its trips in three places', () => {
  expect(packageFolder('A b', tool(), 1234)).toBe('A_b/workshop/trip_1234')
  expect(packageFolder('A b', tool(), 4)).toBe('A_b/workshop/trip_004')
})
