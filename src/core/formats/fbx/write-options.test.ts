/** What the options of the FBX writer do to a file, as read back. */
import { describe, expect, test } from 'vitest'
import { cubeOf, gridOf, materialOf, moved, scaled, sceneOf, withNodes } from '../../../../tests/solids.ts'
import { multiplyMatrices, transformPoints } from '../../base/math/matrix.ts'
import { computeNormals } from '../../mesh/normals/compute-normals.ts'
import { boundsOf } from '../../base/math/box.ts'
import type { Scene } from '../../scene/scene.ts'
import { spaceMatrix } from '../../scene/space.ts'
import { worldMatrices } from '../../scene/world.ts'
import { compareScenes } from '../../compare/compare-scenes.ts'
import { moveToSpace } from '../arrange/arrange-scene.ts'
import type { FbxReadOptions, FbxWriteOptions } from './options.ts'
import { readFbx } from './read-fbx.ts'
import { rotationMatrix } from './transform-chain.ts'
import { writeFbx } from './write-fbx.ts'

const back = (
  scene: Scene,
  write: Partial<FbxWriteOptions> = {},
  read: Partial<FbxReadOptions> = {},
): Scene => {
  const { files } = writeFbx(scene, 'x.fbx', write)
  return readFbx(files[0]!, files, read).scene
}
const metric: Scene = withNodes(
  {
    ...sceneOf([cubeOf(), gridOf(2, 2)]),
    space: { unitMeters: 1, upAxis: 'y', frontAxis: 'z', handedness: 'right' },
  },
  (_node, at) =>
    at === 0
      ? { local: multiplyMatrices(moved(1, 2, 3), rotationMatrix([10, 20, 30], 'xyz')) }
      : { parent: 0, local: multiplyMatrices(moved(4, 5, 6), scaled(2, 2, 2)) },
)
/** World positions of a part in metres, in the axes of the metric scene. */
function places(scene: Scene, node: number): number[] {
  const world = multiplyMatrices(spaceMatrix(scene.space, metric.space), worldMatrices(scene)[node]!)
  return [...transformPoints(scene.meshes[scene.nodes[node]!.mesh]!.points, world)]
}
const STAY = { unitMeters: null, upAxis: null, frontAxis: null, mirrored: null, axesAs: 'points' } as const
const near = (found: readonly number[], wanted: readonly number[]): void => {
  expect(found.length).toBe(wanted.length)
  found.forEach((value, at) => expect(value).toBeCloseTo(wanted[at]!, 9))
}

describe('unit and axes: the model stays where and as large as it is', () => {
  test.each([
    ['points', 'points'],
    ['roots', 'points'],
    ['roots', 'metadata'],
    ['metadata', 'points'],
    ['metadata', 'metadata'],
  ] as const)('unit on %s, axes in %s', (unitAs, axesAs) => {
    const again = back(metric, { unitMeters: 0.01, unitAs, upAxis: 'z', axesAs })
    expect(again.space.unitMeters).toBe(unitAs === 'metadata' ? 1 : 0.01)
    expect(again.space.upAxis).toBe(axesAs === 'metadata' ? 'y' : 'z')
    for (const node of [0, 1]) near(places(again, node), places(metric, node))
    // on the roots and in the metadata the points keep their numbers
    const largest = Math.max(...again.meshes[0]!.points.map(Math.abs))
    expect(largest).toBe(unitAs === 'points' ? 100 : 1)
    const { rows } = compareScenes(metric, again)
    for (const row of rows) {
      expect(row.cells.points!.state).toMatch(/same|within/)
      expect(row.cells.normals!.state).toMatch(/same|within/)
      expect(['same', 'within', 'placed-otherwise']).toContain(row.cells.transforms!.note)
    }
  })
  test('a mirrored space turns the faces with it', () => {
    const again = back(metric, { mirrored: true })
    expect(again.space.handedness).toBe('left')
    expect(compareScenes(metric, again).rows.map((row) => row.cells.topology!.state)).toEqual([
      'same',
      'same',
    ])
  })
  test('a scale is never left out: without a unit to say it by it goes into the points', () => {
    const unknown = { ...metric, space: { ...metric.space, unitMeters: null } }
    const again = moveToSpace(unknown, { ...STAY, unitAs: 'metadata', scale: 2.5 })
    expect(again.space).toEqual(unknown.space)
    expect([...again.meshes[0]!.points]).toEqual([...metric.meshes[0]!.points].map((value) => 2.5 * value))
    expect(moveToSpace(unknown, { ...STAY, unitAs: 'metadata', scale: 1 }).meshes).toBe(unknown.meshes)
  })
  test.each(['points', 'roots', 'metadata'] as const)('a scale really makes it larger: %s', (unitAs) => {
    const again = back(metric, { scale: 2.5, unitAs })
    near(
      places(again, 0),
      places(metric, 0).map((value) => 2.5 * value),
    )
    const { whole, scene } = compareScenes(metric, again)
    expect(whole).toMatchObject({ factor: 2.5, turn: null, mirror: null, move: null })
    expect([scene.state, scene.note]).toEqual(['changed', 'size-changed'])
  })
})

describe('which parts', () => {
  const family = withNodes(sceneOf([cubeOf(), cubeOf(), cubeOf()]), (_node, at) =>
    at === 1 ? { parent: 0, visible: false } : at === 2 ? { parent: 1 } : {},
  )
  const shown = (scene: Scene): string[] =>
    scene.nodes.map((node) => (node.mesh >= 0 ? node.name : `(${node.name})`))
  test('a selection keeps what it hangs under', () =>
    expect(shown(back(family, { selection: [2] }))).toEqual(['(part_1)', '(part_2)', 'part_3']))
  test('visible ones only: what hangs under a hidden one is hidden', () =>
    expect(shown(back(family, { visibleOnly: true }))).toEqual(['part_1']))
  test('cameras and lights go by their own options, whichever parts are chosen', () => {
    const node = (name: string, visible: boolean) => ({ ...family.nodes[0]!, name, mesh: -1, visible })
    const lit: Scene = {
      ...family,
      nodes: [...family.nodes, node('eye', true), node('lamp', false)],
      cameras: [{ name: 'eye', node: 3, properties: {} }],
      lights: [{ name: 'lamp', node: 4, properties: {} }],
    }
    expect(shown(back(lit, { selection: [0] }))).toEqual(['part_1', '(eye)', '(lamp)'])
    expect(shown(back(lit, { selection: [0], lights: false }))).toEqual(['part_1', '(eye)'])
    const seen = back(lit, { visibleOnly: true })
    expect([shown(seen), seen.cameras.length, seen.lights.length]).toEqual([['part_1', '(eye)'], 1, 0])
  })
})

describe('polygons and what lies on them', () => {
  test('triangles: every polygon is there in pieces, and what lay on its corners with it', () => {
    const cube = cubeOf({ faceMaterials: Int32Array.of(0, 1, 0, 1, 0, 1) })
    const scene = sceneOf([cube], { materials: [materialOf('tin'), materialOf('zinc')] })
    const again = back(scene, { triangulate: true })
    expect(again.meshes[0]!.faceOffsets.length - 1).toBe(12)
    const { cells } = compareScenes(scene, again).rows[0]!
    expect([cells.topology!.note, cells.topology!.changedCount]).toEqual(['polygons-cut', 6])
    expect([cells.uvs!.state, cells.materials!.state, cells.points!.state]).toEqual(['same', 'same', 'same'])
  })
  test('smoothing by edge, by polygon', () => {
    const smoothing = { kind: 'groups', faceGroups: Int32Array.of(1, 1, 2, 2, 3, 0) } as const
    const scene = sceneOf([cubeOf({ smoothing })])
    for (const smoothingForm of ['edges', 'polygons', 'own'] as const) {
      const again = back(scene, { smoothingForm })
      expect(again.meshes[0]!.smoothing!.kind).toBe(smoothingForm === 'polygons' ? 'masks' : 'edges')
      const cell = compareScenes(scene, again).rows[0]!.cells.smoothing!
      // another form of the same hard edges
      expect([cell.state, cell.note]).toEqual(['within', 'smoothing-renumbered'])
    }
  })
  test.each([
    [1, 1, 0.25],
    [1, 2, 0.0625],
    [10, 1, 2.5],
  ])('creases on a scale to %d with exponent %d', (creaseScale, creaseExponent, weight) => {
    const creases = {
      edgePoints: Uint32Array.of(0, 1),
      edgeSharpness: Float64Array.of(2.5),
      cornerPoints: Uint32Array.of(6),
      cornerSharpness: Float64Array.of(10),
    }
    const scene = sceneOf([cubeOf({ creases })])
    const scale = { creaseScale, creaseExponent }
    // the plain scale shows what stands in the file
    expect(back(scene, scale).meshes[0]!.creases!.edgeSharpness[0]).toBeCloseTo(10 * weight, 12)
    const understood = back(scene, scale, scale).meshes[0]!.creases!
    expect(understood.edgeSharpness[0]).toBeCloseTo(2.5, 12)
    expect(understood.cornerSharpness[0]).toBeCloseTo(10, 12)
  })
  test('tangents by the common algorithm, square to the normals', () => {
    const again = back(sceneOf([gridOf(3, 3)]), { tangents: true }).meshes[0]!
    expect(again.layers!.map((layer) => layer.kind)).toEqual(['tangents', 'binormals'])
    const [tangents] = again.layers!
    expect(tangents!.values.length).toBe(3 * again.faceVertices.length)
    for (let at = 0; at < tangents!.values.length; at += 3)
      expect(Math.hypot(...tangents!.values.subarray(at, at + 3))).toBeCloseTo(1, 12)
  })
  test('tangents never without normals: those of the smoothing come along, or it is said', () => {
    const plain = sceneOf([gridOf(3, 3)])
    const again = back(plain, { tangents: true }).meshes[0]!
    const computed = computeNormals(plain.meshes[0]!, null)
    for (const [corner, normal] of again.normals!.indices.entries())
      for (let axis = 0; axis < 3; axis++)
        expect(again.normals!.values[3 * normal + axis]).toBeCloseTo(
          computed.values[3 * computed.indices[corner]! + axis]!,
          12,
        )
    expect(back(plain).meshes[0]!.normals).toBeNull()
    const saidOf = (scene: Scene, options: Partial<FbxWriteOptions>) =>
      writeFbx(scene, 'x.fbx', options).findings.map(({ parameters }) => parameters['what'])
    expect(saidOf(plain, { tangents: true })).toEqual([])
    expect(saidOf(plain, { tangents: true, normals: false })).toEqual(['tangents while normals are left out'])
    expect(back(plain, { tangents: true, normals: false }).meshes[0]!.layers ?? []).toEqual([])
    const some = Int32Array.from(computed.indices, (at, corner) => (corner < 4 ? at : -1))
    const partly = sceneOf([gridOf(3, 3, { normals: { ...computed, indices: some } })])
    expect(saidOf(partly, { tangents: true })).toContain('tangents where only some corners have normals')
    expect(back(partly, { tangents: true }).meshes[0]!.layers ?? []).toEqual([])
  })
  test('a unit or axes that go into the settings alone convert nothing, and that is said', () => {
    const said = (options: Partial<FbxWriteOptions>) =>
      writeFbx(metric, 'x.fbx', options)
        .findings.filter(({ code }) => code === 'write.stays')
        .map(({ parameters }) => parameters['what'])
    expect(said({ unitAs: 'metadata', unitMeters: 0.01 })).toEqual(['unit'])
    expect(said({ unitAs: 'metadata', unitMeters: metric.space.unitMeters })).toEqual([])
    expect(said({ unitAs: 'metadata', scale: 2 })).toEqual([])
    expect(said({ axesAs: 'metadata', upAxis: 'z' })).toEqual(['direction of the axes'])
    expect(said({ unitMeters: 0.01, upAxis: 'z' })).toEqual([])
  })
  test('names of UV sets, in their order', () => {
    const cube = cubeOf()
    const two = { ...cube, uvSets: [cube.uvSets[0]!, { ...cube.uvSets[0]!, name: 'light' }] }
    expect(back(sceneOf([two]), { uvSetNames: 'map1' }).meshes[0]!.uvSets.map((set) => set.name)).toEqual([
      'map1',
      'light',
    ])
  })
  test('groups as sets with their names, and as materials', () => {
    const groups = {
      names: ['lid', 'rim', 'foot "x": {1}'],
      sets: [[0, 1], [2]],
      faceSets: Int32Array.of(0, 0, 1, -1, -1, 1),
    }
    const scene = sceneOf([cubeOf({ groups, faceMaterials: new Int32Array(6) })], {
      materials: [materialOf('tin')],
    })
    for (const form of ['binary', 'text'] as const)
      expect(back(scene, { form }).meshes[0]!.groups).toEqual(groups)
    const asMaterials = back(scene, { groupsAs: 'materials' })
    const names = [...asMaterials.meshes[0]!.faceMaterials!].map((at) => asMaterials.materials[at]!.name)
    expect(names).toEqual(['lid + rim', 'lid + rim', 'foot "x": {1}', 'tin', 'tin', 'foot "x": {1}'])
    expect(back(scene, { groups: false }).meshes[0]!.groups).toBeNull()
  })
})

test('written twice, the same bytes, with every option', () => {
  const options = {
    unitMeters: 0.01,
    upAxis: 'z',
    triangulate: true,
    tangents: true,
    embedMaps: true,
  } as const
  const [once, twice] = [writeFbx(metric, 'x.fbx', options), writeFbx(metric, 'x.fbx', options)]
  expect(Buffer.from(once.files[0]!.bytes).equals(Buffer.from(twice.files[0]!.bytes))).toBe(true)
  expect(boundsOf(metric.meshes[0]!.points)).not.toBeNull()
})

test('a model that came back lying is told from one that stands', () => {
  const tall = { ...metric, meshes: [{ ...cubeOf(), points: cubeOf().points.map((value, at) => (at % 3 === 1 ? 7 * value + 9 : value)) }, metric.meshes[1]!] } // prettier-ignore
  const lying = back(tall, { upAxis: 'z', frontAxis: '-y' })
  // the file says that Z is up: nothing is wrong
  expect(compareScenes(tall, lying).whole).toBeNull()
  // a tool that says Y all the same
  const wrong = { ...lying, space: tall.space }
  const { whole, scene } = compareScenes(tall, wrong)
  expect(whole!.turn!.text).toBe('lying, with Z up')
  expect(scene.note).toBe('placed-whole')
})
