/** What comes into the master from another scene: shared meshes, new parts, materials, cameras, the scene itself. */
import { describe, expect, test } from 'vitest'
import {
  cubeOf,
  gridOf,
  materialOf,
  meshOf,
  moved,
  scaled,
  sceneOf,
  withNodes,
  type Point,
} from '../../../tests/solids.ts'
import { boundsOf } from '../base/math/box.ts'
import { multiplyMatrices, transformPoints } from '../base/math/matrix.ts'
import { fingerprintScene } from '../compare/fingerprint.ts'
import { compareScenes } from '../compare/compare-scenes.ts'
import { correspond } from '../compare/match/correspond.ts'
import { keepMatching, matchScenes, restoreMatching } from '../compare/match-scenes.ts'
import { TRAITS } from '../compare/traits/registry.ts'
import { completeIds } from '../scene/ids.ts'
import type { Mesh } from '../scene/mesh.ts'
import { plainNode, type Scene } from '../scene/scene.ts'
import { worldMatrices } from '../scene/world.ts'
import { backwardMap } from './carry-maps.ts'
import { reconcile } from './reconcile.ts'

const UP = 3
const raised = (mesh: Mesh, by: number): Mesh => ({
  ...mesh,
  points: mesh.points.map((value, at) => (at === 1 ? value + by : value)),
})
const codes = (findings: readonly { code: string }[]): string[] => findings.map(({ code }) => code)

/** Two wheels that show one mesh, and what becomes of it when each comes back with points of its own. */
const wheels = completeIds({
  ...sceneOf([cubeOf()]),
  format: 'fbx',
  nodes: [
    plainNode('wheel_left', { mesh: 0 }),
    plainNode('wheel_right', { mesh: 0, local: moved(UP, 0, 0) }),
  ],
})
const apart = (left: number, right: number): Scene => {
  const mesh = wheels.meshes[0]!
  return {
    ...wheels,
    meshes: [raised(mesh, left), raised(mesh, right)],
    nodes: wheels.nodes.map((node, at) => ({ ...node, mesh: at })),
  }
}
const shown = (scene: Scene): number[] =>
  scene.nodes.map((node) => scene.meshes[node.mesh]!.points[1]! - wheels.meshes[0]!.points[1]!)

describe('one mesh that several nodes show', () => {
  test('one comes back changed: it gets a mesh of its own, and the other stays', () => {
    const { scene, findings } = reconcile(wheels, apart(0, 0.5), { take: ['points'] })
    expect(shown(scene)).toEqual([0, 0.5])
    expect(scene.meshes).toHaveLength(2)
    expect(scene.nodes[0]!.mesh).toBe(0)
    expect(scene.meshes[0]).toBe(wheels.meshes[0])
    expect(findings[0]).toMatchObject({
      code: 'reconcile.own-mesh',
      parameters: { name: 'wheel_right', others: 'wheel_left' },
    })
    expect(new Set(scene.meshes.map((mesh) => mesh.id)).size).toBe(2)
  })
  test('both come back changed alike: they go on showing one mesh', () => {
    const { scene, findings } = reconcile(wheels, apart(0.5, 0.5), { take: ['points'] })
    expect(shown(scene)).toEqual([0.5, 0.5])
    expect(scene.meshes).toHaveLength(1)
    expect(scene.meshes[0]!.id).toBe(wheels.meshes[0]!.id)
    expect(findings).toEqual([])
  })
  test('both come back changed, each its own way: each has what it came back with', () => {
    const { scene, findings } = reconcile(wheels, apart(0.25, 0.5), { take: ['points'] })
    expect(shown(scene)).toEqual([0.25, 0.5])
    expect(codes(findings)).toEqual(['reconcile.own-mesh'])
  })
  test('taken for one of them only', () => {
    const { scene } = reconcile(wheels, apart(0.5, 0.5), {
      take: ['points'],
      takeByPart: { [wheels.nodes[0]!.id]: [] },
    })
    expect(shown(scene)).toEqual([0, 0.5])
  })
  test('an unchanged return gives the master, shared as it was', () => {
    const { scene, findings, taken } = reconcile(wheels, apart(0, 0), { take: [...TRAITS] })
    expect(scene.meshes).toEqual(wheels.meshes)
    expect(scene.nodes).toEqual(wheels.nodes)
    expect([findings, taken]).toEqual([[], {}])
  })
})

describe('a material that parts share', () => {
  const rust = { properties: [{ name: 'Kd', values: [0.5, 0.2, 0.1], text: null }] }
  const painted = { properties: [{ name: 'Kd', values: [0.1, 0.2, 0.9], text: null }] }
  const faces = new Int32Array(6)
  const master = completeIds(
    sceneOf([cubeOf({ faceMaterials: faces }), cubeOf({ faceMaterials: faces }, 2)], {
      materials: [materialOf('iron', rust)],
    }),
  )
  const returned = { ...master, materials: [materialOf('iron', painted)] }
  test('taken by all parts: replaced where it stands', () => {
    const { scene, findings } = reconcile(master, returned, { take: ['surfaces'] })
    expect(scene.materials).toHaveLength(1)
    expect(scene.materials[0]).toMatchObject({ id: master.materials[0]!.id, name: 'iron', ...painted })
    expect(findings).toEqual([])
  })
  test('taken by one part only: it gets another material, the other part keeps its own', () => {
    const { scene, findings } = reconcile(master, returned, {
      take: [],
      takeByPart: { [master.nodes[1]!.id]: ['surfaces'] },
    })
    expect(scene.materials.map(({ name }) => name)).toEqual(['iron', 'iron_2'])
    expect(scene.materials[0]).toEqual(master.materials[0])
    expect(scene.materials[1]).toMatchObject(painted)
    expect([...scene.meshes[0]!.faceMaterials!]).toEqual([0, 0, 0, 0, 0, 0])
    expect([...scene.meshes[1]!.faceMaterials!]).toEqual([1, 1, 1, 1, 1, 1])
    expect(findings[0]).toMatchObject({
      code: 'reconcile.own-material',
      parameters: { name: 'iron', to: 'iron_2' },
    })
  })
})

describe('what comes along with a material', () => {
  const map = (file: string) => ({ property: 'map_Kd', slot: 'baseColor' as const, file, options: [] })
  const image = (file: string, bytes: Uint8Array | null) => ({ file, entry: null, bytes })
  const own = Uint8Array.of(1)
  const other = Uint8Array.of(2)
  test('of a part with several, only what was taken is another one', () => {
    const both = Int32Array.of(0, 1, 0, 1, 1, 1)
    const master = completeIds(
      sceneOf([cubeOf({ faceMaterials: new Int32Array(6) }), cubeOf({ faceMaterials: both }, 2)], {
        materials: [materialOf('iron'), materialOf('tin')],
      }),
    )
    const painted = { properties: [{ name: 'Kd', values: [0.1, 0.2, 0.9], text: null }] }
    const returned = { ...master, materials: [materialOf('iron', painted), materialOf('tin')] }
    const { scene } = reconcile(master, returned, {
      take: [],
      takeByPart: { [master.nodes[1]!.id]: ['surfaces'] },
    })
    expect(scene.materials.map(({ name }) => name)).toEqual(['iron', 'tin', 'iron_2'])
    expect([...scene.meshes[0]!.faceMaterials!]).toEqual([0, 0, 0, 0, 0, 0])
    expect([...scene.meshes[1]!.faceMaterials!]).toEqual([2, 1, 2, 1, 1, 1])
  })
  test('images: what the master lacks comes, what it has stays, and one that came without is not missed', () => {
    const files = ['mine.png', 'lacking.png', 'new.png', 'unsent.png']
    const withMaps = (...maps: string[]) => [materialOf('iron', { maps: maps.map(map) })]
    const master: Scene = {
      ...completeIds(sceneOf([cubeOf({ faceMaterials: new Int32Array(6) })])),
      materials: completeIds({ ...sceneOf([]), materials: withMaps('mine.png') }).materials,
      images: [image('mine.png', own), image('lacking.png', null), image('unsent.png', own)],
    }
    const returned: Scene = {
      ...master,
      materials: withMaps(...files),
      images: [image('mine.png', other), image('lacking.png', other), image('new.png', other)],
    }
    const { scene } = reconcile(master, returned, { take: ['surfaces'] })
    expect(scene.materials[0]!.maps.map(({ file }) => file)).toEqual(files)
    expect(scene.images.map(({ file, bytes }) => [file, bytes && [...bytes]])).toEqual([
      ['mine.png', [1]],
      ['lacking.png', [2]],
      ['unsent.png', [1]],
      ['new.png', [2]],
    ])
  })
})

describe('a part that is new in the return', () => {
  const rig = { ...plainNode('rig'), local: moved(0, 1, 0) }
  /** In metres: a rig a metre up, with a body under it. */
  const master = completeIds({
    ...sceneOf([cubeOf()]),
    format: 'fbx',
    space: { unitMeters: 1, upAxis: 'y', frontAxis: 'z', handedness: 'right' },
    nodes: [rig, plainNode('body', { parent: 0, mesh: 0 })],
  })
  const hatOf = (scene: Scene): { min: number[]; max: number[] } => {
    const node = scene.nodes.findIndex(({ name }) => name === 'hat')
    const box = boundsOf(
      transformPoints(scene.meshes[scene.nodes[node]!.mesh]!.points, worldMatrices(scene)[node]!),
    )!
    return {
      min: box.min.map((value) => Number(value.toFixed(9))),
      max: box.max.map((value) => Number(value.toFixed(9))),
    }
  }
  /** The same in centimetres, with a hat of 20 centimetres that hangs two metres up under the rig. */
  const returned = completeIds({
    ...master,
    space: { ...master.space, unitMeters: 0.01 },
    meshes: [{ ...cubeOf({}, 100), id: '' }, cubeOf({ name: 'hat' }, 20)],
    nodes: [
      { ...rig, local: moved(0, 100, 0) },
      plainNode('body', { parent: 0, mesh: 0 }),
      plainNode('hat', { parent: 0, mesh: 1, local: moved(0, 100, 0) }),
    ],
  })
  test('in centimetres under a rig, into a scene of metres: its place, parent and size stay', () => {
    const { scene } = reconcile(master, returned, { take: ['topology'] })
    const hat = scene.nodes.find(({ name }) => name === 'hat')!
    expect(scene.nodes[hat.parent]!.name).toBe('rig')
    expect(hatOf(scene)).toEqual({ min: [0, 2, 0], max: [0.2, 2.2, 0.2] })
    // the rest is as it was
    expect(scene.nodes.slice(0, 2)).toEqual(master.nodes)
  })
  test('under a parent that the master has not: the parent comes along', () => {
    const under = completeIds({
      ...returned,
      nodes: [
        ...returned.nodes.slice(0, 2),
        plainNode('hats', { parent: 0, local: scaled(2, 2, 2) }),
        plainNode('hat', { parent: 2, mesh: 1 }),
      ],
    })
    const { scene } = reconcile(master, under, { take: ['topology'] })
    const hat = scene.nodes.find(({ name }) => name === 'hat')!
    expect(scene.nodes[hat.parent]!.name).toBe('hats')
    expect(scene.nodes[scene.nodes[hat.parent]!.parent]!.name).toBe('rig')
    expect(hatOf(scene)).toEqual({ min: [0, 1, 0], max: [0.4, 1.4, 0.4] })
  })
  test('standing on other axes', () => {
    const lying: Scene = { ...returned, space: { ...returned.space, upAxis: 'z', frontAxis: '-y' } }
    const turned = (local: readonly number[]): readonly number[] => {
      const turn = [1, 0, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1]
      const back = [1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, 0, 0, 0, 0, 1]
      return multiplyMatrices(multiplyMatrices(turn, local), back)
    }
    const returnedLying: Scene = {
      ...lying,
      meshes: returned.meshes.map((mesh) => ({
        ...mesh,
        points: transformPoints(mesh.points, [1, 0, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1]),
      })),
      nodes: returned.nodes.map((node) => ({ ...node, local: turned(node.local) })),
    }
    const { scene } = reconcile(master, returnedLying, { take: ['topology'] })
    expect(hatOf(scene)).toEqual({ min: [0, 2, 0], max: [0.2, 2.2, 0.2] })
  })
  test('with a material of a known name and another content: another material', () => {
    const felt = { properties: [{ name: 'Kd', values: [0.1, 0.1, 0.1], text: null }] }
    const tin = { properties: [{ name: 'Kd', values: [0.8, 0.8, 0.8], text: null }] }
    const withMaterial = (scene: Scene, mesh: number, more: object): Scene => ({
      ...scene,
      materials: [materialOf('felt', more)],
      meshes: scene.meshes.map((own, at) =>
        at === mesh ? { ...own, faceMaterials: new Int32Array(6) } : own,
      ),
    })
    const { scene, findings } = reconcile(withMaterial(master, 0, felt), withMaterial(returned, 1, tin), {
      take: ['topology'],
    })
    const hat = scene.meshes[scene.nodes.find(({ name }) => name === 'hat')!.mesh]!
    expect(scene.materials.map(({ name }) => name)).toEqual(['felt', 'felt_2'])
    expect(scene.materials[hat.faceMaterials![0]!]).toMatchObject(tin)
    expect(codes(findings)).toEqual(['reconcile.material-renamed'])
    const same = reconcile(withMaterial(master, 0, felt), withMaterial(returned, 1, felt), {
      take: ['topology'],
    })
    expect(same.scene.materials).toHaveLength(1)
    expect(same.findings).toEqual([])
  })
})

describe('taking the scene', () => {
  const master = completeIds({
    ...withNodes(sceneOf([cubeOf(), gridOf(2, 2)]), (_node, at) => ({ local: moved(at, 0, 0) })),
    format: 'fbx',
    space: { unitMeters: 1, upAxis: 'y', frontAxis: 'z', handedness: 'right' },
  })
  const grown: Scene = completeIds({
    ...master,
    nodes: [...master.nodes, plainNode('eye', { local: moved(0, 2, 5) })],
    cameras: [{ name: 'eye', node: 2, properties: { FieldOfView: 40 } }],
    lights: [{ name: 'lamp', node: 0, properties: { Intensity: 3 } }],
    properties: { artist: 'the harbour post office' },
  })
  test('cameras, lights and properties that came back new are taken, each under its node', () => {
    expect(compareScenes(master, grown).scene.note).toBe('scene-changed')
    const { scene, taken } = reconcile(master, grown, { take: ['scene'] })
    expect(scene.cameras).toEqual([{ name: 'eye', node: 2, properties: { FieldOfView: 40 } }])
    expect(scene.nodes[2]).toMatchObject({ name: 'eye', parent: -1, mesh: -1, local: moved(0, 2, 5) })
    expect(scene.lights[0]!.node).toBe(0)
    expect(scene.properties).toEqual(grown.properties)
    expect(taken).toEqual({ scene: 1 })
    expect(compareScenes(scene, grown).scene.state).toBe('same')
  })
  test('not asked for, nothing of them comes along', () => {
    const { scene } = reconcile(master, grown, { take: ['points'] })
    expect(fingerprintScene(scene)).toEqual(fingerprintScene(master))
  })
  test('unit and axes: the numbers are converted, and it is said', () => {
    const inCentimetres: Scene = {
      ...master,
      space: { unitMeters: 0.01, upAxis: 'z', frontAxis: '-y', handedness: 'right' },
    }
    const { scene, findings } = reconcile(master, inCentimetres, { take: ['scene'] })
    expect(scene.space).toEqual(inCentimetres.space)
    expect(codes(findings)).toEqual(['reconcile.respaced'])
    // as large and standing as before: compared in one space nothing moved
    const { rows } = compareScenes(master, scene)
    for (const row of rows) expect(row.cells.points!.state).toMatch(/same|within/)
    const box = boundsOf(transformPoints(scene.meshes[0]!.points, worldMatrices(scene)[0]!))!
    expect(box.max[0] - box.min[0]).toBeCloseTo(100, 9)
  })
  test('a unit that the returned file does not state is none to convert to', () => {
    const { scene } = reconcile(
      master,
      { ...master, space: { ...master.space, unitMeters: null } },
      { take: ['scene'] },
    )
    expect(scene.space.unitMeters).toBe(1)
  })
})

describe('a matching that is kept', () => {
  const master = completeIds(sceneOf([cubeOf(), gridOf(3, 3)]))
  const returned = { ...master, meshes: [raised(master.meshes[1]!, 0.5), raised(master.meshes[0]!, 0.25)] }
  test('gives the same result as matching anew', () => {
    const kept = structuredClone(keepMatching(matchScenes(master, returned)))
    const restored = restoreMatching(master, returned, kept)!
    const anew = reconcile(master, returned, { take: ['points'] })
    const again = reconcile(master, returned, { take: ['points'] }, () => {}, restored)
    expect(fingerprintScene(again.scene)).toEqual(fingerprintScene(anew.scene))
    expect(again.taken).toEqual(anew.taken)
  })
  test('of other scenes is not taken for theirs', () => {
    const kept = keepMatching(matchScenes(master, returned))
    expect(restoreMatching(master, { ...returned, nodes: [] }, kept)).toBeNull()
  })
})

test('carried back from what came cut here and there: whole polygons by their own corners, pieces by those that they were cut from', () => {
  const whole = gridOf(4, 3, {}, (x, z) => Math.sin(2 * x) + Math.cos(3 * z))
  const faces = Array.from({ length: 12 }, (_f, face) => [
    ...whole.faceVertices.subarray(4 * face, 4 * face + 4),
  ])
  const points = Array.from({ length: 20 }, (_p, at): Point => [whole.points[3 * at]!, whole.points[3 * at + 1]!, whole.points[3 * at + 2]!]) // prettier-ignore
  const cut = meshOf(points, faces.flatMap((face, at) => (at % 3 === 0 ? [[face[0]!, face[1]!, face[2]!], [face[0]!, face[2]!, face[3]!]] : [face]))) // prettier-ignore
  const found = correspond(whole, cut)
  expect(found.cutFaceCount).toBe(4)
  const { corners, faces: owners, points: own } = backwardMap(found, cut)
  expect([...own]).toEqual(Array.from({ length: 20 }, (_p, at) => at))
  const faceOf = (corner: number): number => corner >> 2
  cut.faceVertices.forEach((point, corner) => {
    const face = Array.from(cut.faceOffsets).findIndex((offset) => offset > corner) - 1
    expect(whole.faceVertices[corners[corner]!]).toBe(point)
    expect(faceOf(corners[corner]!)).toBe(owners[face])
  })
})

test('a scene of another unit alone, or of other axes alone, is brought into it and told so', () => {
  const master = sceneOf([cubeOf()])
  const told = (space: Partial<Scene['space']>): unknown => {
    const { scene, findings } = reconcile(master, { ...master, space: { ...master.space, ...space } }, { take: ['scene'] })
    return [scene.space, findings.map(({ code, parameters }) => [code, parameters.what])]
  } // prettier-ignore
  expect(told({ unitMeters: 1 })).toEqual([{ ...master.space, unitMeters: 1 }, [['reconcile.respaced', 'unit']]]) // prettier-ignore
  expect(told({ upAxis: 'z', frontAxis: '-y' })).toEqual([{ ...master.space, upAxis: 'z', frontAxis: '-y' }, [['reconcile.respaced', 'axes']]]) // prettier-ignore
  expect(told({})).toEqual([master.space, []])
})

test('two new parts, each with a material of a known name and another content: each is told once', () => {
  const paint = (name: string, red: number) => materialOf(name, { properties: [{ name: 'Kd', values: [red, 0, 0], text: null }] }) // prettier-ignore
  const faces = new Int32Array(6)
  const at = (material: number): Int32Array => faces.map(() => material)
  const body = cubeOf({ faceMaterials: at(0) }, 5)
  const master = sceneOf([body], { materials: [paint('felt', 0.1), paint('tin', 0.2)] })
  const returned = sceneOf([body, cubeOf({ faceMaterials: at(0) }, 1, [9, 0, 0]), cubeOf({ faceMaterials: at(1) }, 2, [0, 9, 0])], { materials: [paint('felt', 0.7), paint('tin', 0.8)] }) // prettier-ignore
  const { scene, findings } = reconcile(master, returned, { take: ['topology'] })
  expect(findings.map(({ code, parameters }) => [code, parameters.name, parameters.part])).toEqual([
    ['reconcile.material-renamed', 'felt', 'part_2'],
    ['reconcile.material-renamed', 'tin', 'part_3'],
  ])
  expect(scene.materials.map(({ name }) => name)).toEqual(['felt', 'tin', 'felt_2', 'tin_2'])
})
