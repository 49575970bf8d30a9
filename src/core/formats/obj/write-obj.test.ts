import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { CUBE, CUBE_MTL, file, readText } from '../../../../tests/meshes.ts'
import { decodeLatin1 } from '../../base/bytes/text.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { buildStormLantern } from '../../practice/demo/storm-lantern.ts'
import { EMPTY_MESH, type ColorSet, type KeptLayer, type Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { compareScenes } from '../../compare/compare-scenes.ts'
import { fingerprintScene } from '../../compare/fingerprint.ts'
import { readPackage } from '../package/read-package.ts'
import { FORMATS } from '../registry.ts'
import { demoScene } from '../../practice/demo/demo-scene.ts'
import { cubeOf, sceneOf, withNodes } from '../../../../tests/solids.ts'
import type { ObjWriteOptions } from './options.ts'
import { writeObj } from './write-obj.ts'
import type { Trait } from '../../compare/traits/registry.ts'
import { howMany } from '../../../../tests/how-many.ts'

const textOf = (scene: Scene, options = {}): string =>
  decodeLatin1(writeObj(scene, 'model.obj', options).files[0]!.bytes)
const again = (scene: Scene, options = {}, read = {}) =>
  readPackage(writeObj(scene, 'model.obj', options).files, { unitMeters: scene.space.unitMeters, ...read })
    .scene

/** All traits that OBJ carries have the same fingerprint. */
function expectSamePrints(a: Scene, b: Scene): void {
  const before = fingerprintScene(a)
  const after = fingerprintScene(b)
  for (const trait of FORMATS[0]!.carries as Trait[])
    expect([trait, after[trait]]).toEqual([trait, before[trait]])
}

describe('write, read: every trait that OBJ carries is the same', () => {
  test.each([
    ['the heron', buildCourierHeron],
    ['the lantern', buildStormLantern],
    ['a cube with everything', () => readText(CUBE, {}, [file('cube.mtl', CUBE_MTL)]).scene],
  ])('%s', (_name, build) => {
    const scene = build()
    const back = again(scene)
    expectSamePrints(scene, back)
    expectSamePrints(back, again(back))
  })

  test('any mesh of random polygons, UVs, groups, smoothing and creases', () => {
    const mesh = fc
      .record({
        points: fc.array(fc.double({ noNaN: true, noDefaultInfinity: true, min: -1e6, max: 1e6 }), {
          minLength: 9,
          maxLength: 60,
        }),
        sizes: fc.array(fc.integer({ min: 3, max: 6 }), { minLength: 1, maxLength: 12 }),
        seed: fc.nat(),
      })
      .map(({ points, sizes, seed }): Mesh => {
        let state = seed
        const next = (below: number): number => {
          state = (Math.imul(state, 1103515245) + 12345) >>> 0
          return (state >>> 8) % below
        }
        const pointCount = Math.floor(points.length / 3)
        const faceOffsets = Uint32Array.from([
          0,
          ...sizes.map((_s, i) => sizes.slice(0, i + 1).reduce((a, b) => a + b)),
        ])
        const corners = faceOffsets[sizes.length]!
        const pick = (length: number, below: number): Int32Array =>
          Int32Array.from({ length }, () => next(below + 1) - 1)
        return {
          ...EMPTY_MESH,
          name: `part ${next(9)}`,
          points: Float64Array.from(points.slice(0, pointCount * 3)),
          faceOffsets,
          faceVertices: Uint32Array.from({ length: corners }, () => next(pointCount)),
          uvSets: [
            {
              name: 'uv',
              values: Float64Array.from({ length: 8 }, () => next(1000) / 7),
              indices: pick(corners, 4),
              depths: null,
            },
          ],
          smoothing: { kind: 'groups', faceGroups: Int32Array.from(sizes, () => next(4)) },
          groups: { names: ['a', 'b'], sets: [[0], [1, 0]], faceSets: pick(sizes.length, 2) },
          creases: {
            edgePoints: Uint32Array.of(0, 1),
            edgeSharpness: Float64Array.of(next(50) / 7),
            cornerPoints: Uint32Array.of(2),
            cornerSharpness: Float64Array.of(10),
          },
        }
      })
      .filter(
        (made) =>
          made.uvSets[0]!.indices.some((uv) => uv >= 0) && made.groups!.faceSets.some((set) => set >= 0),
      )
    fc.assert(
      fc.property(fc.array(mesh, { minLength: 1, maxLength: 3 }), (meshes) => {
        const scene = demoScene(meshes, [], [])
        expectSamePrints(scene, again(scene))
      }),
      { numRuns: howMany(100, 3000) },
    )
  })
})

test('statements are written as they came', () => {
  const text = textOf(readText(CUBE, {}, [file('cube.mtl', CUBE_MTL)]).scene)
  const statements = text.split('\n').filter((line) => /^(o|g|s|usemtl|t) /.test(line))
  expect(statements).toEqual([
    'o crate',
    'g lid',
    'usemtl brass',
    's 1',
    'g walls sides',
    'usemtl oak wood',
    's 2',
    's 4',
    'g walls',
    's off',
    't crease 2/1/0 4 5 2.5',
    't crease 2/1/0 5 6 2.5',
    't corner 1/1/0 6 10',
  ])
})

test('options leave out what they name, and nothing else', () => {
  const scene = buildStormLantern()
  const bare = again(scene, {
    uvs: false,
    smoothing: false,
    creases: false,
    groups: false,
    materials: 'none',
  })
  const ledger = compareScenes(scene, bare)
  const tank = ledger.rows.find((row) => row.name === 'tank')!.cells
  for (const trait of ['uvs', 'smoothing', 'creases', 'groups', 'materials', 'surfaces'] as const)
    expect([trait, tank[trait]!.state]).toEqual([trait, 'lost'])
  for (const trait of ['topology', 'points', 'names'] as const)
    expect([trait, tank[trait]!.state]).toEqual([trait, 'same'])
})

test('a chosen part alone', () => {
  expect(again(buildStormLantern(), { selection: [2] }).nodes.map((node) => node.name)).toEqual(['hood'])
})

test('another unit and up axis: the numbers change, the model does not', () => {
  const scene = buildStormLantern()
  const options = { unitMeters: 1, upAxis: 'z', frontAxis: '-y' } as const
  const back = again(scene, options, options)
  const height = (mesh: Mesh, axis: number): number =>
    Math.max(...mesh.points.filter((_v, at) => at % 3 === axis))
  expect(height(back.meshes[0]!, 2)).toBeCloseTo(height(scene.meshes[0]!, 1) / 100, 12)
  const cells = compareScenes(scene, back).rows[0]!.cells
  expect(cells.points!.state).toBe('within')
  expect(cells.points!.deviation).toBeLessThan(1e-12)
  expect(cells.topology!.state).toBe('same')
})

test('a mirrored space keeps the fronts of faces', () => {
  const scene = readText(CUBE).scene
  const back = again(scene, { mirrored: true }, { mirrored: true })
  const cells = compareScenes(scene, back).rows[0]!.cells
  expect([cells.points!.state, cells.topology!.state, cells.smoothing!.state]).toEqual([
    'same',
    'same',
    'same',
  ])
  // read as if it were not mirrored its points lie elsewhere; their numbers say which is which, of a cube too
  expect(compareScenes(scene, again(scene, { mirrored: true })).rows[0]!.cells.points!.state).toBe('changed')
})

test('four digits are within the tolerance only where they are exact enough', () => {
  const scene = buildStormLantern()
  expect(compareScenes(scene, again(scene, { digits: 8 })).rows[0]!.cells.points!.state).toMatch(
    /same|within/,
  )
  expect(compareScenes(scene, again(scene, { digits: 1 })).rows[0]!.cells.points!.state).toBe('changed')
})

test('the same scene written twice gives the same bytes', () => {
  expect(textOf(buildCourierHeron())).toBe(textOf(buildCourierHeron()))
})

test('what OBJ has no words for is said', () => {
  const scene = buildStormLantern()
  const [first] = scene.meshes
  const two = {
    ...scene,
    meshes: [
      { ...first!, uvSets: [...first!.uvSets, { ...first!.uvSets[0]!, name: 'second' }] },
      ...scene.meshes.slice(1),
    ],
  }
  expect(writeObj(two, 'a.obj').findings).toMatchObject([
    { code: 'write.not-carried', parameters: { format: 'OBJ', what: 'more than one UV set' } },
  ])
  expect(writeObj(scene, 'a.obj').findings).toEqual([])
  const cell = compareScenes(two, again(two)).rows[0]!.cells.uvs!
  expect([cell.state, cell.note, cell.parameters.names]).toEqual(['changed', 'uv-sets-lost', 'second'])
})

test('colours are three numbers behind the coordinates, with opacity or not: a seventh is read by hardly anybody', () => {
  const colored = (alpha: number): Scene =>
    sceneOf([
      {
        ...cubeOf(),
        colorSets: [
          {
            name: 'dirt',
            components: 4,
            values: Float64Array.from({ length: 32 }, (_value, at) => (at % 4 === 3 ? alpha : at / 32)),
            per: 'points',
            indices: new Int32Array(0),
          },
        ],
      },
    ])
  const [whole, clear] = [colored(1), colored(0.5)].map((scene) => ({ scene, ...writeObj(scene, 'a.obj') }))
  const lines = decodeLatin1(whole!.files[0]!.bytes).split('\n')
  expect(lines.filter((line) => line.startsWith('v ')).map((line) => line.split(' ').length)).toEqual(
    new Array(8).fill(7),
  )
  expect(whole!.findings).toEqual([])
  const cellOf = ({ scene }: { scene: Scene }) => compareScenes(scene, again(scene)).rows[0]!.cells.colours!
  // OBJ has no name for them
  expect(cellOf(whole!)).toMatchObject({ note: 'colour-set-renamed', deviation: 0 })
  expect(clear!.findings).toMatchObject([
    { code: 'write.not-carried', parameters: { what: 'the opacity of colours' } },
  ])
  expect(cellOf(clear!)).toMatchObject({ note: 'colours-changed', changedCount: 8 })
})

test('colours of corners are written where all corners of a point have the same, and what no polygon has is white', () => {
  const cube = cubeOf()
  const more = { ...cube, points: Float64Array.of(...cube.points, 3, 3, 3) }
  const set: ColorSet = {
    name: 'dirt',
    components: 3,
    per: 'corners',
    values: Float64Array.from({ length: 24 }, (_value, at) => at / 32),
    indices: Int32Array.from(cube.faceVertices),
  }
  const scene = sceneOf([{ ...more, colorSets: [set] }])
  const { files, findings } = writeObj(scene, 'a.obj')
  expect(findings).toEqual([])
  const last = decodeLatin1(files[0]!.bytes)
    .split('\n')
    .filter((line) => line.startsWith('v '))
    .at(-1)
  expect(last).toBe('v 3 3 3 1 1 1')
  const cell = compareScenes(scene, again(scene)).rows[0]!.cells.colours!
  expect(cell).toMatchObject({ note: 'colours-on-points', changedCount: 0, deviation: 0 })
})

test('a part without points is left out and told as write.part-skipped', () => {
  const scene = demoScene(
    [
      { ...EMPTY_MESH, name: 'nothing' },
      { ...readText(CUBE).scene.meshes[0]!, faceMaterials: null },
    ],
    [],
    [],
  )
  const { findings, files } = writeObj(scene, 'a.obj')
  expect(findings).toMatchObject([{ code: 'write.part-skipped', parameters: { name: 'nothing' } }])
  expect(decodeLatin1(files[0]!.bytes)).not.toContain('nothing')
})

test('whatever the format has no statements for is said, and nothing of a plain model', () => {
  const plain = sceneOf([cubeOf()])
  const said = (scene: Scene, options: Partial<ObjWriteOptions> = {}) =>
    writeObj(scene, 'x.obj', options).findings.map(({ parameters }) => parameters['what'])
  expect(said(plain)).toEqual([])
  const cube = cubeOf()
  const colors = (per: 'points' | 'corners'): ColorSet => ({
    name: 'dirt',
    components: 3,
    values: new Float64Array(24).fill(1),
    per,
    indices: per === 'points' ? new Int32Array(0) : new Int32Array(24),
  })
  const apart: ColorSet = {
    ...colors('corners'),
    values: Float64Array.from({ length: 72 }, (_value, at) => at / 72),
    indices: Int32Array.from({ length: 24 }, (_corner, at) => at),
  }
  const tangents: KeptLayer = {
    kind: 'tangents',
    name: '',
    per: 'corners',
    width: 3,
    values: new Float64Array(72),
    indices: null,
    edgePoints: null,
    whole: false,
  }
  const cases: [string, Scene][] = [
    ['that parts are hidden', withNodes(plain, () => ({ visible: false }))],
    ['properties of parts', withNodes(plain, () => ({ properties: { weight: 3 } }))],
    ['how parts are subdivided', sceneOf([{ ...cube, subdivision: { scheme: 'catmull-clark', levels: 2 } }])],
    ['colours that corners of a point have apart', sceneOf([{ ...cube, colorSets: [apart] }])],
    ['more than one set of colours', sceneOf([{ ...cube, colorSets: [colors('points'), colors('points')] }])],
    [
      'tangents and whatever else lies on polygons without Kelbo using it',
      sceneOf([{ ...cube, layers: [tangents] }]),
    ],
    [
      'nodes without polygons',
      { ...plain, nodes: [...plain.nodes, { ...plain.nodes[0]!, id: 'b', name: 'empty', mesh: -1 }] },
    ],
    [
      'what its file holds beside the model, such as animation',
      {
        ...plain,
        kept: {
          format: 'other',
          objects: [{ id: '1', record: { name: 'Curve', kinds: '', values: [], children: [] } }],
          links: [],
          sections: [],
          settings: [],
        },
      },
    ],
  ]
  for (const [what, scene] of cases) expect(said(scene)).toEqual([what])
  // what isn't written isn't lost by the format
  expect(said(cases[0]![1], { visibleOnly: true })).toEqual([])
})
