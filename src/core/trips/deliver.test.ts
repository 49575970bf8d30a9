import { describe, expect, test } from 'vitest'
import { send, workshop } from '../../../tests/deliveries.ts'
import { cubeOf, gridOf, materialOf, moved, sceneOf, withNodes } from '../../../tests/solids.ts'
import { buildCourierHeron } from '../practice/demo/courier-heron.ts'
import { buildStormLantern } from '../practice/demo/storm-lantern.ts'
import { readPackage } from '../formats/package/read-package.ts'
import { completeIds } from '../scene/ids.ts'
import { EMPTY_MESH, type Mesh } from '../scene/mesh.ts'
import type { Scene } from '../scene/scene.ts'
import { TRAIT_KINDS, TRAITS, type Trait } from '../compare/traits/registry.ts'
import { packageFolder, packageName } from './deliver.ts'
import {
  checkSettingsOf,
  DESTINATION_DEFAULTS,
  DESTINATION_KINDS,
  type Destination,
} from './destinations/destination.ts'
import { fateOf, type Fate } from './fate.ts'
import { applyNaming, nameByRules, undoNaming } from './naming.ts'
import { DESTINATIONS, destinationOf } from './destinations/registry.ts'
import { heightOf, measureSize, scaleForHeight } from './size.ts'
import { CHECKS } from '../checks/registry.ts'
import { standInOf } from '../practice/standins/registry.ts'

const metric = (scene: Scene): Scene => ({ ...scene, space: { ...scene.space, unitMeters: 1 } })
const crate = metric(
  sceneOf(
    [
      cubeOf({ faceMaterials: Int32Array.of(0, 1, 0, 1, 0, 1) }),
      { ...gridOf(2, 2), faceMaterials: new Int32Array(4) },
    ],
    { materials: [materialOf('tin'), materialOf('zinc plate')] },
  ),
)

test('a format without parts holds them as one: none of them is called lost', () => {
  const lantern = completeIds(buildStormLantern())
  const { forecast } = send(lantern, {
    ...destinationOf('sculpting')!,
    format: 'stl',
    writeOptions: {},
    recipe: null,
  })
  expect(forecast.rows).toHaveLength(lantern.nodes.length)
  for (const { name, cells } of forecast.rows) {
    expect([name, cells.topology!.note]).not.toEqual([name, 'part-lost'])
    expect([name, cells.points!.state]).toEqual([name, expect.stringMatching(/same|within|without/)])
    expect([name, cells.uvs!.state]).toEqual([name, 'lost'])
  }
})

describe('what a format can hold nothing of', () => {
  const wire: Mesh = {
    ...EMPTY_MESH,
    name: 'wire',
    points: Float64Array.of(0, 0, 0, 1, 0, 0),
    lines: { offsets: Uint32Array.of(0, 2), points: Uint32Array.of(0, 1), uvs: Int32Array.of(-1, -1) },
  }
  const solid = { ...destinationOf('modelling')!, format: 'stl', writeOptions: {}, recipe: null }
  test('all of it: write.nothing instead of a file without anything', () => {
    for (const split of ['one', 'parts', 'materials'] as const)
      expect(() => send(metric(sceneOf([wire])), { ...solid, split })).toThrow(
        expect.objectContaining({ code: 'write.nothing', parameters: { format: 'STL' } }),
      )
    // points alone: the file is one, and no part is in it
    const cloud = metric(sceneOf([{ ...wire, lines: null }]))
    expect(() => send(cloud, solid)).toThrow(
      expect.objectContaining({ code: 'write.nothing', parameters: { format: 'STL' } }),
    )
    const { forecast } = send(cloud, { ...solid, format: 'gltf' })
    expect(forecast.rows.map(({ cells }) => cells.points!.state)).toEqual(['same'])
  })
  test('one file of several: it is left out, and write.file-empty says which', () => {
    const { files, modelCount, findings, forecast } = send(metric(sceneOf([cubeOf(), wire])), {
      ...solid,
      split: 'parts',
    })
    expect(files.map(({ name }) => name)).toEqual(['crate_part_1.stl'])
    expect(modelCount).toBe(1)
    expect(findings).toContainEqual(
      expect.objectContaining({
        code: 'write.file-empty',
        parameters: { name: expect.stringMatching(/wire\.stl$/) as string },
      }),
    )
    expect(forecast.rows.map(({ cells }) => cells.topology!.state)).toEqual(['changed', 'lost'])
  })
  test('lines and parts without polygons arrive once where a model leaves by material', () => {
    const wired = { ...crate, meshes: [{ ...crate.meshes[0]!, lines: wire.lines }, crate.meshes[1]!] }
    const whole = { ...wired, ...sceneOf([...wired.meshes, wire], { materials: crate.materials }) }
    const { forecast } = send(metric(whole), {
      ...destinationOf('modelling')!,
      format: 'obj',
      recipe: null,
      split: 'materials',
    })
    // parts that several materials share come in another order
    expect(forecast.rows.map(({ cells }) => cells.topology!.note)).toEqual(['renumbered', 'same', 'same'])
  })
})

describe('destinations that ship', () => {
  test('nine, each of another kind, named by it', () => {
    expect(DESTINATIONS).toHaveLength(9)
    expect(new Set(DESTINATIONS.map((entry) => entry.kind)).size).toBe(9)
    for (const entry of DESTINATIONS) {
      expect(DESTINATION_KINDS).toContain(entry.kind)
      expect(destinationOf(entry.id)).toBe(entry)
      // what they name is there
      for (const check of entry.mustBeClean) expect(CHECKS.map(({ id }) => id)).toContain(check)
      if (entry.standIn) expect(standInOf(entry.standIn)!.reads).toContain(entry.format)
    }
  })
  test.each(DESTINATIONS.map((entry) => [entry.id, entry] as const))(
    '%s takes the heron, and shows it in its size',
    (_id, destination) => {
      const heron = buildCourierHeron()
      const delivery = send(heron, destination)
      expect(delivery.forecast.rows.map((row) => row.name)).toEqual(heron.nodes.map((node) => node.name))
      expect(delivery.size.factor).toBeCloseTo(1, 6)
      const fates = (trait: Trait): Fate[] =>
        delivery.forecast.rows.map((row) => fateOf(trait, row.cells[trait]!, destination, TRAIT_KINDS))
      expect(new Set(fates('points'))).toEqual(new Set(['carried']))
      expect(new Set(fates('uvs'))).toEqual(new Set(['carried']))
      expect(fates('topology')[0]).toBe(destination.writeOptions.triangulate ? 'otherwise' : 'carried')
      expect(readPackage(delivery.files).scene.nodes.length).toBe(heron.nodes.length)
    },
  )
  test('what is held against it follows from the rest', () => {
    const settings = checkSettingsOf(
      workshop({ polygons: 'triangles', polygonBudget: 900, naming: { letters: 'plain', longest: 12, prefix: '', suffix: '' }, checkSettings: { mapSize: 512 } }), // prettier-ignore
    )
    expect(settings).toEqual({ wantQuads: false, triangleBudget: 900, nameLength: 12, mapSize: 512 })
  })
})

describe('names that a tool takes', () => {
  const plain = { letters: 'plain', longest: 10, prefix: 'p_', suffix: '_x' } as const
  test.each([
    ['Ärmel links', 'p_Armel__x'],
    ['鷺', 'p_part_x'],
    ['a/b|c', 'p_a_b_c_x'],
    ['__', 'p_part_x'],
  ])('“%s” becomes “%s”', (name, wanted) => expect(nameByRules(name, plain)).toBe(wanted))
  test('clashes get a number, and materials no prefix', () => {
    const twins = withNodes(crate, () => ({ name: 'wing' }))
    const { scene: named } = applyNaming(twins, { letters: 'plain', longest: null, prefix: 'p_', suffix: '' })
    expect(named.nodes.map((node) => node.name)).toEqual(['p_wing', 'p_wing_2'])
    expect(named.materials.map((material) => material.name)).toEqual(['tin', 'zinc_plate'])
    expect(applyNaming(twins, DESTINATION_DEFAULTS.naming).scene).toBe(twins)
  })
  test('the forecast finds every part again under its new name', () => {
    const destination = workshop({ naming: { letters: 'plain', longest: 6, prefix: 'm_', suffix: '' } })
    const { forecast } = send(crate, destination)
    expect(forecast.rows.map((row) => [row.name, row.cells.names!.note])).toEqual([
      ['part_1', 'renamed'],
      ['part_2', 'renamed'],
    ])
    expect(fateOf('names', forecast.rows[0]!.cells.names!, destination, TRAIT_KINDS)).toBe('otherwise')
  })
  test('a material that Kelbo itself names otherwise is no loss: it is said, and known again on return', () => {
    const naming = { letters: 'plain', longest: 4, prefix: '', suffix: '' } as const
    const destination = workshop({ naming })
    const { forecast, files, findings } = send(crate, destination)
    const cells = forecast.rows.map((row) => row.cells.materials!)
    expect(
      cells.filter((cell) => !cell.empty).map(({ note, parameters }) => [note, parameters.count]),
    ).toContainEqual(['materials-renamed', 1])
    for (const row of forecast.rows) {
      expect(fateOf('materials', row.cells.materials!, destination, TRAIT_KINDS)).not.toBe('lost')
      expect(row.cells.surfaces!.state).toBe('same')
    }
    expect(
      findings.filter(({ code }) => code === 'delivery.renamed').map(({ parameters }) => parameters.what),
    ).toEqual(['parts', 'materials'])
    const { renames } = applyNaming(crate, naming)
    const back = undoNaming(readPackage(files).scene, renames)
    expect(back.materials.map(({ name }) => name).sort()).toEqual(
      crate.materials.map(({ name }) => name).sort(),
    )
    expect(back.nodes.map(({ name }) => name)).toEqual(crate.nodes.map(({ name }) => name))
  })
  test('materials that a rule would call alike get a number', () => {
    const alike = {
      ...crate,
      materials: crate.materials.map((material, at) => ({ ...material, name: `größe ${'!?'[at] ?? at}` })),
    }
    const { scene, renames } = applyNaming(alike, { letters: 'plain', longest: null, prefix: '', suffix: '' })
    expect(new Set(scene.materials.map(({ name }) => name)).size).toBe(alike.materials.length)
    expect(undoNaming(scene, renames).materials).toEqual(alike.materials)
  })
})

describe('size: where it stands, and what the tool makes of it', () => {
  const report = (more: Partial<Destination>) => send(crate, workshop(more)).size
  test('in the points, on the roots, in the settings alone', () => {
    expect(report({ writeOptions: { unitMeters: 0.01, unitAs: 'points' } })).toMatchObject({ meters: 1, statedUnit: 0.01, rootScale: 1, pointsHeight: 100, height: 100, seenMeters: 1, factor: 1 }) // prettier-ignore
    expect(report({ writeOptions: { unitMeters: 0.01, unitAs: 'roots' } })).toMatchObject({ statedUnit: 0.01, rootScale: 100, pointsHeight: 1, height: 100, seenMeters: 1 }) // prettier-ignore
    expect(report({ writeOptions: { unitMeters: 0.01, unitAs: 'metadata' } })).toMatchObject({ statedUnit: 1, rootScale: 1, height: 1, seenMeters: 1 }) // prettier-ignore
  })
  test('a tool that goes by the numbers takes metres for centimetres; the factor makes it right', () => {
    const size = { unit: 'numbers', unitMeters: 0.01 } as const
    const wrong = report({ size })
    expect([wrong.seenMeters, wrong.factor]).toEqual([0.01, 100])
    const right = send(crate, workshop({ size }), { options: { scale: wrong.factor! } }).size
    expect([right.seenMeters, right.factor]).toEqual([1, 1])
  })
  test('an entered height gives the exact factor, also on top of one', () => {
    const once = report({})
    expect(scaleForHeight(once, 1.78, 1)).toBe(1.78)
    const twice = send(crate, workshop(), { options: { scale: 2 } }).size
    expect(scaleForHeight(twice, 1.78, 2)).toBe(1.78)
  })
  test.each(['points', 'roots', 'metadata'] as const)(
    'what leaves larger is told once, for the scene; the parts are as they were (%s)',
    (unitAs) => {
      for (const version of [crate, { ...crate, space: { ...crate.space, unitMeters: null } }]) {
        const { forecast } = send(version, workshop(), { options: { scale: 1.2, unitAs } })
        expect([forecast.scene.note, forecast.scene.parameters.factor]).toEqual(['size-changed', 1.2])
        for (const { cells } of forecast.rows)
          for (const trait of ['points', 'normals', 'transforms'] as const)
            expect(fateOf(trait, cells[trait]!, workshop(), TRAIT_KINDS), trait).toMatch(
              /^(carried|otherwise)$/,
            )
      }
    },
  )
  test('a camera that stays behind is told along with the size', () => {
    const watched = { ...crate, cameras: [{ name: 'eye', node: 1, properties: {} }] }
    const { forecast } = send(watched, workshop(), { options: { scale: 2, cameras: false } })
    expect(forecast.scene.parameters).toMatchObject({ factor: 2, also: ' Also changed: cameras (1 → 0).' })
  })
  test('of a selection: what leaves is measured against itself, not against the whole', () => {
    const { size } = send(crate, workshop(), { selection: [1] })
    // the flat grid has no height, the cube has one
    expect([size.meters, size.factor]).toEqual([0, null])
    const cube = send(
      withNodes(crate, (_node, at) => (at ? { local: moved(0, 9, 0) } : {})),
      workshop(),
      {
        selection: [0],
      },
    )
    expect([cube.size.meters, cube.size.factor]).toEqual([1, 1])
  })
  test('OBJ has no word for a unit, and a version may not know its own', () => {
    const { size } = send(crate, workshop({ format: 'obj', size: { unit: 'stated', unitMeters: 0.01 } }))
    expect([size.statedUnit, size.seenMeters]).toEqual([null, 0.01])
    const { forecast } = send(crate, workshop({ format: 'obj' }))
    expect([forecast.scene.note, fateOf('scene', forecast.scene, workshop(), TRAIT_KINDS)]).toEqual([
      'unit-unknown',
      'otherwise',
    ])
    const unknown = { ...crate, space: { ...crate.space, unitMeters: null } }
    expect(measureSize(unknown, () => true, unknown, null, { unit: 'numbers', unitMeters: 1 })).toMatchObject(
      {
        meters: null,
        factor: null,
        seenMeters: heightOf(unknown),
      },
    )
  })
})

describe('files', () => {
  test('one a part', () => {
    const { files, modelCount, forecast } = send(crate, workshop({ split: 'parts' }))
    expect(files.map((file) => file.name)).toEqual(['crate_part_1.fbx', 'crate_part_2.fbx'])
    expect(modelCount).toBe(2)
    expect(forecast.rows.map((row) => row.cells.points!.state)).toEqual(['same', 'same'])
  })
  test('one a material: the parts are put together again to see what arrived', () => {
    const { files, forecast } = send(crate, workshop({ split: 'materials' }))
    expect(files.map((file) => file.name)).toEqual(['crate_tin.fbx', 'crate_zinc_plate.fbx'])
    const [tin] = files
    const faces = readPackage([tin!]).scene.meshes.map((mesh) => mesh.faceOffsets.length - 1)
    expect(faces).toEqual([3, 4])
    expect(forecast.rows.map((row) => row.name)).toEqual(['part_1', 'part_2'])
    for (const trait of ['topology', 'points', 'uvs', 'materials'] as const)
      expect(forecast.rows[0]!.cells[trait]!.state).toMatch(/same|within/)
  })
  test('a selection: rows of other parts are none, and theirs are known by name', () => {
    const { forecast } = send(crate, workshop(), { selection: [1] })
    expect(forecast.rows.map((row) => [row.name, row.match.masterNode])).toEqual([['part_2', 1]])
  })
  test('an orderly folder', () => {
    const folder = packageFolder('Courier heron', workshop({ name: 'The Workshop, ours' }), 7)
    expect(folder).toBe('Courier_heron/the_workshop_ours/trip_007')
    expect(packageName(folder)).toBe('Courier_heron_the_workshop_ours_trip_007.zip')
  })
})

describe('what a destination wishes for', () => {
  const codes = (scene: Scene, destination: Destination, options = {}): string[] =>
    send(scene, destination, { options }).findings.map((finding) => finding.code)
  test('triangles: larger polygons are counted, cut ones are none', () => {
    const wishes = workshop({ polygons: 'triangles' })
    expect(codes(crate, wishes)).toEqual(['delivery.polygons'])
    expect(codes(crate, wishes, { triangulate: true })).toEqual([])
    expect(codes(crate, workshop())).toEqual([])
  })
  test('normal maps: which way green is to point', () => {
    const map = { property: 'NormalMap', slot: 'normal' as const, file: 'bumps.png', options: [] }
    const mapped = {
      ...crate,
      materials: [materialOf('tin', { model: 'phong', maps: [map] }), crate.materials[1]!],
    }
    const { findings } = send(mapped, workshop({ normalMapGreen: 'down' }))
    expect(findings.find((finding) => finding.code === 'delivery.normal-maps')!.parameters).toEqual({
      green: 'down',
      names: 'bumps.png',
    })
  })
  test('a budget and quads are checked without being asked for by name', () => {
    const small = send(crate, workshop({ polygonBudget: 3 })).checks.map((check) => check.check)
    expect(small).toContain('polygon-count')
    expect(send(crate, workshop({ polygonBudget: 3000 })).checks.map((check) => check.check)).not.toContain(
      'polygon-count',
    )
  })
})

describe('recipe and checks', () => {
  const destination = workshop({
    recipe: { name: 'triangles', steps: [{ step: 'triangulate', params: {} }] },
    mustBeClean: ['not-quads', 'unassigned-faces'],
    checkSettings: { wantQuads: true },
  })
  test('the recipe runs on what leaves, and the checks look at that', () => {
    const { forecast, checks, records } = send(crate, destination)
    expect(forecast.rows[0]!.cells.topology!.note).toBe('polygons-cut')
    expect(records.map((entry) => entry.step.step)).toEqual(['triangulate'])
    expect(checks.filter((check) => check.mustBeClean).map((check) => check.check)).toContain('not-quads')
    const without = send(crate, destination, { withRecipe: false })
    expect(without.forecast.rows[0]!.cells.topology!.state).toBe('same')
    expect(without.checks.some((check) => check.check === 'not-quads')).toBe(false)
  })
})

describe('what becomes of a trait', () => {
  const keeps = { purpose: [] }
  const remakes = { purpose: ['topology'] as const }
  const cell = (state: string, note: string, empty = false) => ({ state, note, empty }) as never
  test.each([
    ['uvs', cell('same', 'same'), keeps, 'carried'],
    ['creases', cell('same', 'none', true), remakes, 'carried'],
    ['uvs', cell('changed', 'uv-set-renamed'), keeps, 'otherwise'],
    ['topology', cell('changed', 'polygons-cut'), keeps, 'otherwise'],
    ['creases', cell('lost', 'creases-lost'), keeps, 'kept'],
    // where a tool makes other polygons, a crease can't be put back on them
    ['creases', cell('lost', 'creases-lost'), remakes, 'lost'],
    ['surfaces', cell('lost', 'lost'), remakes, 'kept'],
    // in the file, and of no use to a tool that has no room for it
    ['groups', cell('same', 'same'), { purpose: [], neverTravels: ['groups'] }, 'kept'],
    ['groups', cell('same', 'none', true), { purpose: [], neverTravels: ['groups'] }, 'carried'],
  ] as const)('%s', (trait, given, destination, wanted) => {
    expect(fateOf(trait, given, destination, TRAIT_KINDS)).toBe(wanted)
  })
  test('every trait of the heron sent to the sculptor has one', () => {
    const destination = destinationOf('sculpting')!
    const { forecast } = send(buildCourierHeron(), destination)
    for (const trait of TRAITS)
      if (trait !== 'scene')
        expect(['carried', 'otherwise', 'kept']).toContain(
          fateOf(trait, forecast.rows[0]!.cells[trait]!, destination, TRAIT_KINDS),
        )
  })
})
