import {
  cubeOf,
  gridOf,
  materialOf,
  meshOf,
  moved,
  sceneOf,
  uvsOf,
  withNodes,
} from '../../../tests/solids.ts'
import { writeFbx } from '../formats/fbx/write-fbx.ts'
import { describe, expect, test } from 'vitest'
import { CUBE, CUBE_MTL, file, readText } from '../../../tests/meshes.ts'
import { buildCourierHeron } from '../practice/demo/courier-heron.ts'
import { buildStormLantern } from '../practice/demo/storm-lantern.ts'
import { readPackage } from '../formats/package/read-package.ts'
import { writeObj } from '../formats/obj/write-obj.ts'
import type { Scene } from '../scene/scene.ts'
import { carvePoints } from '../practice/faults/carve-points.ts'
import { sculptFiles, sculptScene } from '../practice/standins/sculptor.ts'
import { fingerprintScene } from '../compare/fingerprint.ts'
import { TRAITS, type Trait } from '../compare/traits/registry.ts'
import { matchScenes } from '../compare/match-scenes.ts'
import { reconcile } from './reconcile.ts'

const cube = (text = CUBE): Scene => readText(text, { unitMeters: 0.01 }, [file('cube.mtl', CUBE_MTL)]).scene
/** Traits whose fingerprints differ. */
const changed = (a: Scene, b: Scene): Trait[] => {
  const before = fingerprintScene(a)
  const after = fingerprintScene(b)
  return TRAITS.filter((trait) => before[trait] !== after[trait])
}

describe.each([
  ['heron', buildCourierHeron],
  ['lantern', buildStormLantern],
])('the %s comes home from the sculptor', (_name, build) => {
  const master = build()
  const sent = writeObj(master, 'sent.obj', { normals: false }).files
  const home = (options: object): Scene =>
    readPackage(sculptFiles(sent, options, { unitMeters: 0.01 }), { unitMeters: 0.01 }).scene

  test('untouched: whatever is taken, every fingerprint is the master’s', () => {
    const returned = home({ strength: 0, renumber: false, addGroups: false, dropMaterials: false })
    const take: Trait[] = ['topology', 'points', 'uvs', 'names', 'materials', 'groups', 'transforms']
    expect(changed(master, reconcile(master, returned, { take }).scene)).toEqual([])
  })
  test('renumbered and stripped, but not moved: points taken, all as it was', () => {
    expect(changed(master, reconcile(master, home({ strength: 0 }), { take: ['points'] }).scene)).toEqual([])
  })
  test('carved: the points are the carve’s, on the master’s numbering, and nothing else changed', () => {
    const { scene } = reconcile(master, home({ strength: 0.01 }), { take: ['points'] })
    expect(changed(master, scene)).toEqual(['points'])
    scene.meshes.forEach((mesh, index) => {
      const expected = carvePoints(master.meshes[index]!, 0.01)
      // the sculptor writes six digits
      const farthest = mesh.points.reduce(
        (most, value, at) => Math.max(most, Math.abs(value - expected[at]!)),
        0,
      )
      expect(farthest).toBeLessThan(2e-4)
    })
  })
})

describe('one trait is taken, the rest is kept', () => {
  const elsewhere: Partial<Record<Trait, string>> = {
    points: CUBE.replace('v 1 1 1', 'v 2 2 2'),
    uvs: CUBE.replace('vt 0.5 0.5', 'vt 0.75 0.5'),
    smoothing: CUBE.replace('s 2', 's 4'),
    creases: CUBE.replace('4 5 2.5', '4 5 7'),
    materials: CUBE.replace('usemtl oak wood\n', ''),
    groups: CUBE.replace('g lid', 'g cover'),
    names: CUBE.replace('o crate', 'o box'),
  }
  /** The return with all those changes at once. */
  const all = CUBE.replace('v 1 1 1', 'v 2 2 2')
    .replace('vt 0.5 0.5', 'vt 0.75 0.5')
    .replace('s 2', 's 4')
    .replace('4 5 2.5', '4 5 7')
    .replace('usemtl oak wood\n', '')
    .replace('g lid', 'g cover')
    .replace('o crate', 'o box')
  test.each(Object.keys(elsewhere) as Trait[])('%s', (trait) => {
    const { scene, taken } = reconcile(cube(), cube(all), { take: [trait] })
    expect(taken).toEqual({ [trait]: 1 })
    const alone = fingerprintScene(cube(elsewhere[trait]!))
    expect(fingerprintScene(scene)[trait]).toBe(alone[trait])
    // which materials a part has decides which surfaces it shows
    expect(
      changed(cube(), scene).filter((other) => !(trait === 'materials' && other === 'surfaces')),
    ).toEqual([trait])
  })
})

test('traits can be chosen for single parts', () => {
  const master = buildStormLantern()
  const returned = sculptScene(master, { strength: 0.01 })
  const { scene } = reconcile(master, returned, {
    take: ['points'],
    takeByPart: { [master.nodes[0]!.id]: [] },
  })
  expect(scene.meshes[0]).toBe(master.meshes[0])
  expect(scene.meshes[1]!.points).not.toEqual(master.meshes[1]!.points)
})

describe('changed polygons are taken', () => {
  const cut = CUBE.replace('f 4/1 1/2 5/3 8/5\n', 'f 4/1 1/2 5/3\nf 4/1 5/3 8/5\n')
    .replace(/^(s|t|usemtl|g) .*\n/gm, '')
    .replace('mtllib cube.mtl\n', '')
  test('what was on the polygons that stayed is carried over', () => {
    const { scene } = reconcile(cube(), cube(cut), { take: ['topology'] })
    const mesh = scene.meshes[0]!
    expect([...mesh.faceOffsets]).toEqual([0, 4, 8, 12, 16, 20, 23, 26])
    expect(mesh.smoothing).toEqual({ kind: 'groups', faceGroups: Int32Array.of(1, 2, 4, 4, 4, 0, 0) })
    expect([...mesh.faceMaterials!]).toEqual([0, 1, 1, 1, 1, 1, 1])
    expect([...mesh.creases!.edgePoints]).toEqual([4, 5, 5, 6])
    expect(mesh.groups!.names).toEqual(['lid', 'walls', 'sides'])
    expect(scene.materials.map((material) => material.name)).toEqual(['brass', 'oak wood'])
  })
})

test('parts that did not come back stay; new ones are added with the polygons', () => {
  const master = buildStormLantern()
  const less: Scene = {
    ...master,
    nodes: [...master.nodes.slice(2), { ...master.nodes[0]!, name: 'spare_hood', mesh: 0 }],
  }
  const moved: Scene = {
    ...less,
    meshes: less.meshes.map((mesh) => ({ ...mesh, points: mesh.points.map((v) => v + 100) })),
  }
  expect(reconcile(master, moved, { take: ['points'] }).scene.nodes.map((node) => node.name)).toEqual(
    master.nodes.map((node) => node.name),
  )
})

test('a file that fits nothing is refused', () => {
  const other = readText(
    'o tent\nv 0 0 0\nv 50 0 0\nv 0 90 0\nv 7 7 80\nv 3 3 3\nf 1 2 3\nf 1 2 4\nf 2 3 5\no pole\nv 0 0 9\nv 1 2 3\nv 4 5 6\nf 6 7 8\n',
  ).scene
  expect(() => reconcile(buildStormLantern(), other, { take: ['points'] })).toThrow(
    expect.objectContaining({ code: 'match.no-parts' }),
  )
})

test('an empty scene has nothing that could not fit: what came back is all new; where there was something, nothing fits', () => {
  const none = sceneOf([])
  expect(reconcile(none, none, { take: ['points'] }).scene.nodes).toEqual([])
  const { scene, taken } = reconcile(none, sceneOf([cubeOf(), cubeOf({}, 2)]), { take: ['topology'] })
  expect([scene.nodes.map(({ name }) => name), taken]).toEqual([['part_1', 'part_2'], { topology: 2 }])
  expect(() => reconcile(sceneOf([cubeOf()]), none, { take: ['points'] })).toThrow(
    expect.objectContaining({ code: 'match.no-parts' }),
  )
})

test('the master is never changed in place', () => {
  const master = buildStormLantern()
  const before = fingerprintScene(master)
  reconcile(master, sculptScene(master, { strength: 0.02 }), { take: [...TRAITS] })
  expect(fingerprintScene(master)).toEqual(before)
})

test('a size that the returned file has on its roots is no change of transform: taking everything moves nothing', () => {
  const master = withNodes(
    { ...sceneOf([cubeOf()]), space: { unitMeters: 1, upAxis: 'y', frontAxis: 'z', handedness: 'right' } },
    () => ({ local: moved(3, 0, 0) }),
  )
  const { files } = writeFbx(master, 'x.fbx', { unitMeters: 0.01, unitAs: 'roots' })
  const returned = readPackage(files).scene
  const { scene } = reconcile(master, returned, { take: ['points', 'transforms', 'normals'] })
  expect(fingerprintScene(scene)).toEqual(fingerprintScene(master))
})

describe('what a renderer sends back of surfaces', () => {
  const map = (property: string, slot: 'baseColor' | 'roughness', path: string) => ({
    property,
    slot,
    file: path,
    options: [],
  })
  const painted = (
    maps: ReturnType<typeof map>[],
    images: Scene['images'],
    more: Partial<Scene['materials'][number]> = {},
  ): Scene => ({
    ...sceneOf([cubeOf({ faceMaterials: new Int32Array(6) })]),
    materials: [materialOf('paint', { maps, ...more })],
    images,
  })
  const image = (path: string, ...bytes: number[]) => ({
    file: path,
    entry: path,
    bytes: bytes.length ? Uint8Array.from(bytes) : null,
  })
  const master = painted([map('map_Kd', 'baseColor', 'old.png')], [image('old.png', 1, 2)])
  const take = (returned: Scene, from = master) => reconcile(from, returned, { take: ['surfaces'] })
  const bytesOf = (scene: Scene) => scene.images.map(({ file: path, bytes }) => [path, bytes && [...bytes]])

  test('its maps travel with the surfaces: the very images, and only those that the material names', () => {
    const returned = painted(
      [map('map_Kd', 'baseColor', 'new.png'), map('map_Pr', 'roughness', 'rough.png')],
      [image('other.png', 9), image('new.png', 3, 4, 5), image('rough.png', 6)],
    )
    const { scene, taken } = take(returned)
    expect(taken).toEqual({ surfaces: 1 })
    expect(scene.materials[0]!.maps.map(({ file: path }) => path)).toEqual(['new.png', 'rough.png'])
    expect(bytesOf(scene)).toEqual([
      ['old.png', [1, 2]],
      ['new.png', [3, 4, 5]],
      ['rough.png', [6]],
    ])
    // without the surfaces the images stay as well
    expect(bytesOf(reconcile(master, returned, { take: ['points'] }).scene)).toEqual([['old.png', [1, 2]]])
  })
  test('an image of which the master knew only the name is filled in; one that it has stays', () => {
    const known = painted([map('map_Kd', 'baseColor', 'a.png')], [image('a.png')])
    const back = painted([map('map_Kd', 'baseColor', 'a.png')], [image('a.png', 7)], {
      properties: [{ name: 'Kd', values: [1, 0, 0], text: null }],
    })
    expect(bytesOf(take(back, known).scene)).toEqual([['a.png', [7]]])
    expect(bytesOf(take(painted([map('map_Kd', 'baseColor', 'a.png')], [image('a.png')], { properties: [{ name: 'Kd', values: [1, 0, 0], text: null }] }), back).scene)).toEqual([['a.png', [7]]]) // prettier-ignore
  })
  test('tiles that came back join those at home', () => {
    const path = 'paint.<UDIM>.png'
    const tiled = (...labels: string[]) => ({
      ...image(path, 1),
      tiles: labels.map((label) => ({ label, entry: label, bytes: Uint8Array.of(Number(label) - 1000) })),
    })
    const red = { properties: [{ name: 'Kd', values: [1, 0, 0], text: null }] }
    const home = painted([map('map_Kd', 'baseColor', path)], [tiled('1001')])
    const { scene } = take(painted([map('map_Kd', 'baseColor', path)], [tiled('1001', '1002')], red), home)
    expect(scene.images[0]!.tiles!.map(({ label, bytes }) => [label, [...bytes]])).toEqual([
      ['1001', [1]],
      ['1002', [2]],
    ])
  })
})

test('a part that came back new joins those at home, which keep their polygons', () => {
  const one = sceneOf([cubeOf()])
  const two = withNodes(sceneOf([cubeOf(), cubeOf({}, 3, [9, 0, 0])]), (_node, at) =>
    at ? { name: 'found' } : {},
  )
  const { scene } = reconcile(one, two, { take: ['topology'] })
  expect(scene.nodes.map(({ name, mesh }) => [name, mesh])).toEqual([
    ['part_1', 0],
    ['found', 1],
  ])
  expect(scene.meshes.map((mesh) => mesh.points.length)).toEqual([24, 24])
  expect([...scene.meshes[0]!.points]).toEqual([...one.meshes[0]!.points])
  expect([...scene.meshes[1]!.points]).toEqual([...two.meshes[1]!.points])
})

describe('of the scene’s own settings what differs is counted, each by itself', () => {
  const lamp = (strength: number) => ({ name: 'lamp', node: 0, properties: { Intensity: strength } })
  const bare = sceneOf([cubeOf()])
  const counted = (before: Partial<Scene>, after: Partial<Scene>) =>
    reconcile({ ...bare, ...before }, { ...bare, ...after }, { take: ['scene'] })
  test('properties of its own', () => {
    const result = counted({ properties: { shot: 1 } }, { properties: { shot: 2 } })
    expect([result.taken, result.scene.properties]).toEqual([{ scene: 1 }, { shot: 2 }])
    expect(counted({ properties: { shot: 1 } }, { properties: { shot: 1 } }).taken).toEqual({})
  })
  test('one that hangs on no node stays so', () => {
    const loose = { name: 'sun', node: -1, properties: { Intensity: 1 } }
    const { scene } = counted({ lights: [loose] }, { lights: [{ ...loose, properties: { Intensity: 3 } }] })
    expect(scene.lights.map(({ node, properties }) => [node, properties.Intensity])).toEqual([[-1, 3]])
    expect(scene.nodes).toHaveLength(1)
  })
  test.each([['lights'], ['cameras']] as const)('%s', (list) => {
    const result = counted({ [list]: [lamp(1)] }, { [list]: [lamp(2)] })
    expect(result.taken).toEqual({ scene: 1 })
    expect(result.scene[list][0]!.properties).toEqual({ Intensity: 2 })
    expect(counted({ [list]: [lamp(1)] }, { [list]: [lamp(1)] }).taken).toEqual({})
  })
})

test('a transform that is taken comes with its pivots where the spaces are one, and without them where not', () => {
  const parts = {
    translation: [1, 2, 3],
    rotation: [0, 0, 0],
    rotationOrder: 'xyz',
    scale: [1, 1, 1],
    rotationPivot: [0.5, 0.5, 0.5],
    scalePivot: [0, 0, 0],
    rotationOffset: [0, 0, 0],
    scaleOffset: [0, 0, 0],
    preRotation: [0, 0, 0],
    postRotation: [0, 0, 0],
    inherits: 'scale-then-turn',
  } as const
  const home = sceneOf([cubeOf()])
  const back = withNodes(sceneOf([cubeOf()]), () => ({ local: moved(1, 2, 3), transform: parts }))
  const taken = reconcile(home, back, { take: ['transforms'] }).scene.nodes[0]!
  expect([taken.name, taken.mesh, taken.local, taken.transform]).toEqual(['part_1', 0, moved(1, 2, 3), parts])
  const turned = { ...back, space: { ...back.space, upAxis: 'z', frontAxis: '-y' } as const }
  expect(reconcile(home, turned, { take: ['transforms'] }).scene.nodes[0]!.transform).toBeNull()
})

describe('a skin that came back', () => {
  const bone = (name: string) => ({ ...sceneOf([cubeOf()]).nodes[0]!, id: name, name, mesh: -1 })
  /** Every point on one joint, `joint`, with this weight. */
  const skin = (jointNodes: number[], joint: number, weight: number) => ({
    jointNodes: Int32Array.from(jointNodes),
    offsets: Uint32Array.from({ length: 9 }, (_point, at) => at),
    joints: new Uint32Array(8).fill(joint),
    weights: new Float64Array(8).fill(weight),
  })
  const rigged = (
    order: readonly string[],
    joints: readonly string[],
    joint: string,
    weight: number,
  ): Scene => {
    const scene = sceneOf([cubeOf()])
    const nodes = order.map((name) => (name === 'body' ? { ...scene.nodes[0]!, id: name, name } : bone(name)))
    const meshes = [
      {
        ...scene.meshes[0]!,
        skin: skin(
          joints.map((name) => order.indexOf(name)),
          joints.indexOf(joint),
          weight,
        ),
      },
    ]
    return { ...scene, nodes, meshes }
  }
  /** The joint that moves the points, by its name, and its weight. */
  const movedBy = ({ nodes, meshes }: Scene) => {
    const { jointNodes, joints, weights } = meshes[0]!.skin!
    return [nodes[jointNodes[joints[3]!]!]?.name, weights[3]]
  }
  const master = rigged(['body', 'hip', 'knee'], ['hip', 'knee'], 'hip', 1)

  test('is moved by the joints of its names, in whatever order they came', () => {
    const back = rigged(['knee', 'body', 'hip'], ['knee', 'hip'], 'knee', 0.5)
    const { scene, taken } = reconcile(master, back, { take: ['shapes'] })
    expect(taken).toEqual({ shapes: 1 })
    expect(scene.nodes.map(({ name }) => name)).toEqual(['body', 'hip', 'knee'])
    expect(movedBy(scene)).toEqual(['knee', 0.5])
    expect(movedBy(reconcile(master, back, { take: ['points'] }).scene)).toEqual(['hip', 1])
  })
  test('a joint that the master has not comes along', () => {
    const back = rigged(['body', 'hip', 'toe'], ['hip', 'toe'], 'toe', 0.5)
    const { scene } = reconcile(master, back, { take: ['shapes'] })
    expect(scene.nodes.map(({ name }) => name)).toEqual(['body', 'hip', 'knee', 'toe'])
    expect([...scene.meshes[0]!.skin!.jointNodes]).toEqual([1, 3])
    expect(movedBy(scene)).toEqual(['toe', 0.5])
  })
})

test('a material that came back under another name, on polygons that were taken, is described as it came', () => {
  const other = (name: string, tint: number, faces: number[]): Scene => ({
    ...sceneOf([cubeOf({ faceMaterials: Int32Array.from(faces) })]),
    materials: [
      materialOf('paint'),
      materialOf(name, { properties: [{ name: 'Kd', values: [tint, 0, 0], text: null }] }),
    ],
  })
  const master = other('rope', 0.1, [0, 0, 0, 0, 1, 1])
  const back = other('tar', 0.9, [0, 0, 0, 0, 1, 1])
  const { scene } = reconcile(master, back, { take: ['materials', 'surfaces'] })
  const onFace = scene.materials[scene.meshes[0]!.faceMaterials![5]!]!
  expect([onFace.name, onFace.properties[0]?.values[0]]).toEqual(['tar', 0.9])
  expect(scene.materials[scene.meshes[0]!.faceMaterials![0]!]!.name).toBe('paint')
})

test('a material of the return’s own, on polygons that were taken, is described as that one, not as another', () => {
  const paint = (red: number): object => ({ properties: [{ name: 'Kd', values: [red, 0, 0], text: null }] })
  const faces = (last: number): Int32Array => Int32Array.of(0, 0, 0, 0, 0, last)
  const master = sceneOf([cubeOf({ faceMaterials: faces(0) })], {
    materials: [materialOf('tin', paint(0.1))],
  })
  const back = sceneOf([cubeOf({ faceMaterials: faces(1) })], {
    materials: [materialOf('tin', paint(0.2)), materialOf('gold', paint(0.9))],
  })
  const { scene } = reconcile(master, back, { take: ['materials', 'surfaces'] })
  expect(scene.materials.map(({ name, properties }) => [name, properties[0]!.values[0]])).toEqual([
    ['tin', 0.2],
    ['gold', 0.9],
  ])
  const assigned = reconcile(master, back, { take: ['materials'] }).scene
  expect(assigned.materials.map(({ name, properties }) => [name, properties[0]!.values[0]])).toEqual([
    ['tin', 0.1],
    ['gold', 0.9],
  ])
})

test('a part that is new in the return stays out where polygons are not taken', () => {
  const both = sceneOf([cubeOf(), cubeOf({}, 3, [9, 0, 0])])
  const one = { ...both, nodes: both.nodes.slice(0, 1) }
  for (const take of [['points'], ['points', 'uvs', 'names', 'transforms', 'scene']] as Trait[][])
    expect(reconcile(one, both, { take }).scene.nodes).toHaveLength(1)
  expect(reconcile(one, both, { take: ['topology'] }).scene.nodes).toHaveLength(2)
})

test('points that have no counterpart stay beside others that moved, and that is said; not where polygons come along or nothing moved', () => {
  const sheet = gridOf(12, 8, {}, (x, z) => Math.sin(x) + 0.3 * z)
  const master = sceneOf([{ ...sheet, uvSets: [] }])
  // the last row of polygons did not come back, and their points neither
  const rest = 13 * 8
  const less = (raise: number): Scene => ({
    ...master,
    meshes: [{
      ...master.meshes[0]!,
      id: '',
      points: sheet.points.slice(0, 3 * rest).map((value, at) => (at % 3 === 1 ? value + raise * Math.cos(at / 40) : value)),
      faceOffsets: sheet.faceOffsets.slice(0, 12 * 7 + 1),
      faceVertices: sheet.faceVertices.slice(0, 4 * 12 * 7),
    }],
  }) // prettier-ignore
  const told = (raise: number, take: Trait[]): unknown[] =>
    reconcile(master, less(raise), { take })
      .findings.filter(({ code }) => code === 'reconcile.points-stay')
      .map(({ parameters }) => parameters)
  expect(told(0.1, ['points'])).toEqual([{ name: 'part_1', count: 13, total: 13 * 9 }])
  expect(told(0.1, ['points', 'topology'])).toEqual([])
  expect(told(0.1, ['uvs'])).toEqual([])
  expect(told(0, ['points'])).toEqual([])
})

test('what is done is told as it grows, part by part, from nothing to all of it, however it is asked', () => {
  const master = buildCourierHeron()
  const returned = { ...master, meshes: master.meshes.map((mesh) => ({ ...mesh, points: carvePoints(mesh, 0.02) })) } // prettier-ignore
  const shares: number[] = []
  reconcile(master, returned, { take: ['points'] }, (share) => shares.push(share))
  expect(shares.every((share, at) => share >= (shares[at - 1] ?? 0) && share <= 1)).toBe(true)
  const parts = matchScenes(master, returned).matched.length
  const last = shares.slice(-parts)
  last.forEach((share, at) => expect(share).toBeCloseTo(0.6 + (0.4 * at) / parts, 12))
  expect(shares.slice(0, -parts).some((share) => share > 0 && share < 0.6)).toBe(true)
  // known already, only the taking is told
  const known: number[] = []
  reconcile(master, returned, { take: ['points'] }, (share) => known.push(share), matchScenes(master, returned)) // prettier-ignore
  expect(known).toEqual(last)
})

describe('names that are taken', () => {
  const [home, one] = [sceneOf([cubeOf(), gridOf(2, 2)]), cubeOf()]
  const renamed = (scene: Scene, names: Readonly<Record<number, string>>): Scene => ({
    ...scene,
    nodes: scene.nodes.map((node, at) => ({ ...node, name: names[at] ?? node.name })),
  })
  const meshNames = ({ meshes }: Scene): string[] => meshes.map(({ name }) => name)
  test('a mesh of one part goes by its name, the first as well; one whose part kept its name stays as it was', () => {
    const { scene, taken } = reconcile(home, renamed(home, { 0: 'crate' }), { take: ['names'] })
    expect([scene.nodes[0]!.name, taken]).toEqual(['crate', { names: 1 }])
    expect(meshNames(scene)).toEqual(['crate', home.meshes[1]!.name])
    // names of their own, which the parts don't have
    const own = { ...home, meshes: home.meshes.map((mesh, at) => ({ ...mesh, name: `shape_${at}` })) }
    expect(meshNames(reconcile(own, renamed(own, { 0: 'crate' }), { take: ['names'] }).scene)).toEqual(['crate', 'shape_1']) // prettier-ignore
  })
  test('a mesh that several parts show keeps its own', () => {
    const shared = sceneOf([one])
    const twice: Scene = { ...shared, nodes: [shared.nodes[0]!, { ...shared.nodes[0]!, id: 'two', name: 'two', local: moved(9, 0, 0) }] } // prettier-ignore
    const { scene } = reconcile(twice, renamed(twice, { 1: 'other' }), { take: ['names'] })
    expect(scene.nodes.map(({ name, mesh }) => [name, mesh])).toEqual([[twice.nodes[0]!.name, 0], ['other', 0]]) // prettier-ignore
    expect(meshNames(scene)).toEqual(meshNames(twice))
  })
  test('a group among the parts has no mesh to name', () => {
    const group = { ...home.nodes[0]!, id: 'group', name: 'group', mesh: -1 }
    const grouped: Scene = { ...home, nodes: [...home.nodes, group] }
    const { scene } = reconcile(grouped, renamed(grouped, { 1: 'plate' }), { take: ['names'] })
    expect(meshNames(scene)).toEqual([home.meshes[0]!.name, 'plate'])
  })
})

describe('a seam through a polygon, which its corners can’t hold', () => {
  const quads = gridOf(2, 1)
  /** Each quad cut from its first corner to its third; the second piece of those given has UVs of its own there. */
  const cut = (apart: readonly number[], within = 0): Scene => {
    const faces = [0, 1].flatMap((face) => {
      const [a, b, c, d] = [...quads.faceVertices.subarray(4 * face, 4 * face + 4)]
      return [[a!, b!, c!], [a!, c!, d!]] // prettier-ignore
    })
    const points = Array.from({ length: 6 }, (_p, at) => [...quads.points.subarray(3 * at, 3 * at + 3)] as [number, number, number]) // prettier-ignore
    const mesh = meshOf(points, faces)
    const uvs = faces.flatMap((corners, piece) =>
      corners.map((point): [number, number] => [
        quads.points[3 * point]! / 4 + (apart.includes(piece) ? 0.5 : 0) + within,
        -quads.points[3 * point + 2]! / 2,
      ]),
    )
    return sceneOf([{ ...mesh, name: quads.name, uvSets: [uvsOf(uvs)] }])
  }
  const told = (master: Scene, back: Scene, take: readonly Trait[]) =>
    reconcile(master, back, { take: [...take] }).findings.flatMap(({ code, parameters }) =>
      code === 'reconcile.seam-across' ? [parameters] : [],
    )
  const home = sceneOf([quads])
  test('is told with how many polygons it runs through, where their UVs are taken', () => {
    expect(told(home, cut([1]), ['uvs'])).toEqual([{ name: home.nodes[0]!.name, count: 1 }])
    expect(told(home, cut([1, 2]), ['uvs'])).toEqual([{ name: home.nodes[0]!.name, count: 2 }])
    expect(told(home, cut([1]), ['points'])).toEqual([])
  })
  test('none runs where the pieces agree at their common corners, written once or twice; nor where nothing was cut', () => {
    expect(told(home, cut([]), ['uvs'])).toEqual([])
    expect(told(home, cut([0, 1], 0.1), ['uvs'])).toEqual([])
    expect(told(home, sceneOf([{ ...quads, uvSets: [uvsOf([...quads.faceVertices].map((point) => [quads.points[3 * point]!, 0.5]))] }]), ['uvs'])).toEqual([]) // prettier-ignore
  })
  test('a piece without UVs beside one that has some: a seam as well', () => {
    const scene = cut([])
    const [mesh] = scene.meshes
    const [set] = mesh!.uvSets
    const holed = { ...scene, meshes: [{ ...mesh!, uvSets: [{ ...set!, indices: set!.indices.map((own, corner) => (corner >= 3 && corner < 6 ? -1 : own)) }] }] } // prettier-ignore
    expect(told(home, holed, ['uvs'])).toEqual([{ name: home.nodes[0]!.name, count: 1 }])
  })
})

describe('a group that stands otherwise', () => {
  const group = { ...sceneOf([cubeOf()]).nodes[0]!, id: 'group', name: 'group', mesh: -1 }
  const grouped = (local: readonly number[], by = 1): Scene => {
    const scene = sceneOf([{ ...cubeOf(), points: cubeOf().points.map((value) => value * by) }])
    return { ...scene, nodes: [{ ...scene.nodes[0]! }, { ...group, local: local as never }] }
  }
  const taken = (back: Scene) => reconcile(grouped(moved(0, 0, 0)), back, { take: ['scene'] }).scene.nodes[1]!.local // prettier-ignore
  test('comes with the scene’s settings, where both are one space and all of it stands as it stood', () => {
    expect(taken(grouped(moved(5, 0, 0)))).toEqual(moved(5, 0, 0))
    // a hundredfold its place is another one
    expect(taken(grouped(moved(500, 0, 0), 100))).toEqual(moved(0, 0, 0))
    const back = grouped(moved(5, 0, 0))
    const inches = { ...back, space: { ...back.space, unitMeters: 0.0254 } }
    expect(taken(inches)).toEqual(moved(0, 0, 0))
  })
})

test('a joint that is no node of what came back stays none', () => {
  const home = sceneOf([cubeOf()])
  const skin = { jointNodes: Int32Array.of(-1, 0), offsets: Uint32Array.from({ length: 9 }, (_p, at) => at), joints: new Uint32Array(8).fill(1), weights: new Float64Array(8).fill(1) } // prettier-ignore
  const back: Scene = { ...home, meshes: [{ ...home.meshes[0]!, skin }] }
  const { scene } = reconcile(home, back, { take: ['shapes'] })
  expect([...scene.meshes[0]!.skin!.jointNodes]).toEqual([-1, 0])
})

describe('what is hidden', () => {
  const shown = (home: boolean, back: boolean, format: string): boolean => {
    const master = sceneOf([cubeOf()])
    const own: Scene = { ...master, nodes: [{ ...master.nodes[0]!, visible: home }] }
    const returned: Scene = { ...master, format, nodes: [{ ...master.nodes[0]!, visible: back, local: moved(1, 0, 0) }] } // prettier-ignore
    return reconcile(own, returned, { take: ['transforms'] }).scene.nodes[0]!.visible
  }
  test('comes with the transform, but from a format that hides nothing', () => {
    for (const home of [true, false])
      for (const back of [true, false]) {
        expect([home, back, shown(home, back, 'fbx')]).toEqual([home, back, back])
        expect([home, back, shown(home, back, 'obj')]).toEqual([home, back, home])
        // of a format that nobody knows it is as it says
        expect([home, back, shown(home, back, 'none')]).toEqual([home, back, back])
      }
  })
})

describe('what is counted of the scene', () => {
  const cubes = sceneOf([cubeOf()])
  const empty = { ...cubes.nodes[0]!, id: 'empty', name: 'empty', mesh: -1 }
  const home: Scene = { ...cubes, nodes: [...cubes.nodes, empty] }
  const count = (more: Partial<Scene>): number | undefined =>
    reconcile(home, { ...home, ...more }, { take: ['scene'] }).taken.scene
  const light = { name: 'lamp', node: 0, properties: { Intensity: 2 } }
  test('each that differs, alone; and nothing where nothing does', () => {
    expect(count({})).toBeUndefined()
    expect(count({ lights: [light] })).toBe(1)
    expect(count({ cameras: [{ ...light, name: 'view' }] })).toBe(1)
    expect(count({ properties: { note: 'x' } as never })).toBe(1)
    expect(count({ space: { ...home.space, unitMeters: 0.0254 } })).toBe(1)
    expect(count({ nodes: home.nodes.map((node) => ({ ...node, properties: { own: 1 } as never })) })).toBe(1)
    const last = home.nodes.length - 1
    expect(
      count({ nodes: home.nodes.map((node, at) => (at === last ? { ...node, local: moved(3, 0, 0) } : node)) }), // prettier-ignore
    ).toBe(1)
  })
})
