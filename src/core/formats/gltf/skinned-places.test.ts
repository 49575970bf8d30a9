/**
 * Where meshes stand that joints move, as glTF 2.0 has it (section 3.7.3.3): places are worked out here from the file's own
 * numbers, joint by joint, and by three's skinned meshes (npm three).
 */
import { describe, expect, test } from 'vitest'
import { Bone, BufferAttribute, BufferGeometry, Matrix4, Skeleton, SkinnedMesh, Vector3 } from 'three'
import { validatorComplaints } from '../../../../tests/gltf-validator.ts'
import { cubeOf, sceneOf } from '../../../../tests/solids.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { invertAffine, multiplyMatrices, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import type { Mesh, Skin } from '../../scene/mesh.ts'
import { IDENTITY_MATRIX, plainNode, type Scene, type SceneNode } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import { visibleNodes } from '../arrange/arrange-scene.ts'
import { composeMatrix } from './read-nodes.ts'
import { samePlace } from './place-skinned.ts'
import { readGltf } from './read-gltf.ts'
import { writeGltf } from './write-gltf.ts'

const metres = { unitMeters: 1, upAxis: 'y', frontAxis: 'z', handedness: 'right' } as const
const written = (scene: Scene) => writeGltf(scene, 'x.glb', {})
const back = ({ files }: ReturnType<typeof written>) => readGltf(files[0]!, files)
interface Document {
  readonly nodes: readonly { readonly name: string; readonly mesh?: number; readonly skin?: number; readonly children?: readonly number[]; readonly matrix?: number[]; readonly translation?: number[]; readonly rotation?: number[]; readonly scale?: number[]; readonly extensions?: { readonly KHR_node_visibility?: { readonly visible: boolean } } }[] // prettier-ignore
  readonly scenes: readonly { readonly nodes: readonly number[] }[]
}
const documentOf = ({ files }: ReturnType<typeof written>): Document => {
  const { bytes } = files[0]!
  const length = new DataView(bytes.buffer, bytes.byteOffset).getUint32(12, true)
  return JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + length))) as Document
}

/** Each joint at one node, its points shared out at random; bound where all stands. */
function skinOf(
  mesh: Mesh,
  joints: readonly number[],
  place: Matrix,
  worlds: readonly Matrix[],
  chance: () => number,
): Skin {
  const count = mesh.points.length / 3
  const shares = Array.from({ length: count }, () => 0.2 + 0.6 * chance())
  return {
    jointNodes: Int32Array.from(joints),
    meshBinds: Float64Array.from(joints.flatMap((joint) => multiplyMatrices(invertAffine(worlds[joint]!)!, place))), // prettier-ignore
    offsets: Uint32Array.from({ length: count + 1 }, (_o, at) => 2 * at),
    joints: Uint32Array.from({ length: 2 * count }, (_j, at) => at % 2),
    weights: Float64Array.from(shares.flatMap((share) => [share, 1 - share])),
  }
}
const anyPlace = (chance: () => number): Matrix => {
  const turn = [0, 1, 2, 3].map(() => chance() - 0.5)
  const length = Math.hypot(...turn)
  const size = 0.2 + 3 * chance()
  return composeMatrix([0, 1, 2].map(() => 10 * chance() - 5), turn.map((value) => value / length), [size, size, size]) // prettier-ignore
}

/** A rig: a group, two joints under it, and parts anywhere among them. */
function rigged(seed: number): Scene {
  const chance = chanceOf(seed)
  const nodes: SceneNode[] = [plainNode('rig', { local: anyPlace(chance) })]
  nodes.push(plainNode('hip', { parent: 0, local: anyPlace(chance) }))
  nodes.push(plainNode('knee', { parent: 1, local: anyPlace(chance) }))
  const meshes: Mesh[] = []
  const parts = 1 + Math.floor(chance() * 3)
  for (let part = 0; part < parts; part++) {
    const parent = Math.floor(chance() * (nodes.length + 1)) - 1
    const place = chance() < 0.3 && parent < 0 ? IDENTITY_MATRIX : anyPlace(chance)
    nodes.push(plainNode(`part_${part}`, { parent, local: place, mesh: meshes.length }))
    meshes.push({ ...cubeOf({ name: `part_${part}` }, 1 + part) })
  }
  // groups and parts that are hidden, for themselves or for what they hang under
  if (chance() < 0.5) for (const at of nodes.keys()) if (chance() < 0.3) nodes[at] = { ...nodes[at]!, visible: false } // prettier-ignore
  // a part of one mesh that stands elsewhere
  if (chance() < 0.4) nodes.push(plainNode('twin', { local: anyPlace(chance), mesh: 0 }))
  const worlds = worldMatrices({ nodes: [...nodes] })
  return sceneOf([cubeOf()], {
    space: metres,
    nodes,
    meshes: meshes.map((mesh, at) =>
      at === 0 || chance() < 0.6
        ? { ...mesh, skin: skinOf(mesh, [1, 2], worlds[nodes.findIndex((node) => node.mesh === at)]!, worlds, chance) } // prettier-ignore
        : mesh,
    ),
  })
}

/** World places of a part's points, by its path of names; of the last of one path where there are several. */
const placesOf = (scene: Scene): Map<string, number[]> => {
  const worlds = worldMatrices(scene)
  const pathOf = (node: number): string => (node < 0 ? '' : `${pathOf(scene.nodes[node]!.parent)}/${scene.nodes[node]!.name}`) // prettier-ignore
  return new Map(
    scene.nodes.flatMap(({ mesh }, node) =>
      mesh < 0
        ? []
        : [[pathOf(node), [...transformPoints(scene.meshes[mesh]!.points, worlds[node]!)]] as const],
    ),
  )
}
const agree = (a: readonly number[], b: readonly number[]): void => {
  expect(a.length).toBe(b.length)
  a.forEach((value, at) => expect(Math.abs(value - b[at]!)).toBeLessThan(2e-4))
}

describe('a skinned part that stands anywhere', () => {
  test.each(Array.from({ length: 24 }, (_s, seed) => seed + 1))('rig %i', async (seed) => {
    const scene = rigged(seed)
    const result = written(scene)
    expect(await validatorComplaints(result.files)).toEqual([])
    const document = documentOf(result)
    // places of all nodes by the file's own words
    const parents = document.nodes.map((_node, at) => document.nodes.findIndex(({ children }) => children?.includes(at))) // prettier-ignore
    const localOf = ({ matrix, translation, rotation, scale }: Document['nodes'][number]): Matrix =>
      matrix ?? composeMatrix(translation ?? [0, 0, 0], rotation ?? [0, 0, 0, 1], scale ?? [1, 1, 1])
    const worldOf = (node: number): Matrix =>
      parents[node]! < 0 ? localOf(document.nodes[node]!) : multiplyMatrices(worldOf(parents[node]!), localOf(document.nodes[node]!)) // prettier-ignore
    // nodes of the scene keep their numbers, and what was added comes last
    const expected = worldMatrices(scene)
    const seen = new Set<string>()
    document.nodes.forEach((node, at) => {
      if (node.mesh === undefined) return
      const own = at < scene.nodes.length ? at : scene.nodes.findIndex(({ name }) => name === node.name)
      seen.add(scene.nodes[own]!.name)
      // as a viewer hides it: for itself, or for one that it hangs under
      const isHidden = (one: number): boolean =>
        one >= 0 && (document.nodes[one]!.extensions?.KHR_node_visibility?.visible === false || isHidden(parents[one]!)) // prettier-ignore
      expect([at, isHidden(at)]).toEqual([at, !visibleNodes(scene)[own]])
      const mesh = scene.meshes[scene.nodes[own]!.mesh]!
      const there = transformPoints(mesh.points, expected[own]!)
      if (node.skin === undefined) return agree([...transformPoints(mesh.points, worldOf(at))], [...there])
      expect([parents[at], node.matrix, node.translation, node.rotation, node.scale]).toEqual([-1, undefined, undefined, undefined, undefined]) // prettier-ignore
      // by three: a skinned mesh of the mesh's own points, bones at the joints' worlds, the file's inverse binds
      const geometry = new BufferGeometry()
      geometry.setAttribute('position', new BufferAttribute(Float32Array.from(mesh.points), 3))
      const { joints, weights, offsets } = mesh.skin!
      const four = <T extends Uint32Array | Float64Array>(list: T): number[] => Array.from({ length: mesh.points.length / 3 }, (_p, point) => [...[...list.subarray(offsets[point]!, offsets[point + 1]!)], 0, 0]).flat() // prettier-ignore
      geometry.setAttribute('skinIndex', new BufferAttribute(Uint16Array.from(four(joints)), 4))
      geometry.setAttribute('skinWeight', new BufferAttribute(Float32Array.from(four(weights)), 4))
      const bones = [...mesh.skin!.jointNodes].map((joint) => {
        const bone = new Bone()
        bone.matrixWorld.fromArray([...worldOf(joint)])
        return bone
      })
      const binds = bindsIn(result, node.skin)
      const skinned = new SkinnedMesh(geometry)
      skinned.bind(
        new Skeleton(
          bones,
          binds.map((bind) => new Matrix4().fromArray(bind)),
        ),
        new Matrix4(),
      )
      skinned.skeleton.update()
      const shown = Array.from({ length: mesh.points.length / 3 }, (_p, point) => {
        const at = new Vector3().fromBufferAttribute(geometry.getAttribute('position') as BufferAttribute, point) // prettier-ignore
        return [...skinned.applyBoneTransform(point, at)]
      }).flat()
      agree(shown, [...there])
    })
    expect(seen.size).toBe(scene.nodes.filter(({ mesh }) => mesh >= 0).length)
    // and read again it hangs where it hung and stands where it stood
    const { scene: again, findings } = back(result)
    expect(findings.filter(({ code }) => code.startsWith('gltf.skin'))).toEqual([])
    expect(again.nodes.map(({ name, parent, visible }) => [name, parent, visible])).toEqual(
      scene.nodes.map(({ name, parent, visible }) => [name, parent, visible]),
    )
    const [before, after] = [placesOf(scene), placesOf(again)]
    expect([...after.keys()].sort()).toEqual([...before.keys()].sort())
    for (const [path, places] of before) agree(after.get(path)!, places)
    expect(again.nodes.flatMap(({ properties }) => Object.keys(properties))).toEqual([])
    expect(again.nodes.map(({ mesh }) => mesh)).toEqual(scene.nodes.map(({ mesh }) => mesh))
    // written once more it is the same
    expect(documentOf(written(again)).nodes.map(({ name, mesh, skin }) => [name, mesh, skin])).toEqual(document.nodes.map(({ name, mesh, skin }) => [name, mesh, skin])) // prettier-ignore
  })
})

/** Inverse binds of a skin, from the file's own bytes. */
function bindsIn({ files }: ReturnType<typeof written>, skin: number): number[][] {
  const { bytes } = files[0]!
  const view = new DataView(bytes.buffer, bytes.byteOffset)
  const length = view.getUint32(12, true)
  const document = JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + length))) as { skins: { inverseBindMatrices: number; joints: number[] }[]; accessors: { bufferView: number; byteOffset?: number }[]; bufferViews: { byteOffset?: number }[] } // prettier-ignore
  const { inverseBindMatrices, joints } = document.skins[skin]!
  const accessor = document.accessors[inverseBindMatrices]!
  const start = 20 + length + 8 + (document.bufferViews[accessor.bufferView]!.byteOffset ?? 0) + (accessor.byteOffset ?? 0) // prettier-ignore
  return joints.map((_joint, at) => Array.from({ length: 16 }, (_e, entry) => view.getFloat32(start + 64 * at + 4 * entry, true))) // prettier-ignore
}

describe('a file of another program', () => {
  /** A part under a rig a hundredth as large, its points in centimetres, bound at metres. */
  const foreign = (knee: Matrix = IDENTITY_MATRIX): Scene => {
    const scene = rigged(3)
    const nodes = [
      plainNode('armature', { local: composeMatrix([0, 0, 0], [0, 0, 0, 1], [0.01, 0.01, 0.01]) }),
      plainNode('hip', { parent: 0, local: composeMatrix([0, 90, 0], [0, 0, 0, 1], [1, 1, 1]) }),
      plainNode('knee', { parent: 1, local: knee }),
      plainNode('body', { mesh: 0 }),
    ]
    return { ...scene, nodes, meshes: scene.meshes.slice(0, 1) }
  }
  /** The text of it, with binds that another program has written. */
  const filed = (scene: Scene, binds: readonly Matrix[]) => {
    const mesh = { ...scene.meshes[0]!, skin: { ...scene.meshes[0]!.skin!, jointNodes: Int32Array.of(1, 2), meshBinds: Float64Array.from(binds.flat()) } } // prettier-ignore
    // as if nothing were to be put right: the part stands where its joints hold it
    const held = multiplyMatrices(worldMatrices(scene)[1]!, binds[0]!)
    const placed = { ...scene, meshes: [mesh], nodes: scene.nodes.map((node) => (node.mesh < 0 ? node : { ...node, local: held })) } // prettier-ignore
    const { files } = writeGltf(placed, 'x.gltf', { form: 'inside' })
    const document = JSON.parse(new TextDecoder().decode(files[0]!.bytes)) as Record<string, unknown>
    return { document, read: (change: (document: never) => void) => {
      const copy = structuredClone(document)
      change(copy as never)
      return readGltf({ name: 'x.gltf', bytes: new TextEncoder().encode(JSON.stringify(copy)) }, [])
    } } // prettier-ignore
  }
  const bound = (scene: Scene, joint: number): Matrix => invertAffine(worldMatrices(scene)[joint]!)!
  type Nodes = { nodes: { name: string; scale?: number[]; children?: number[] }[]; scenes: { nodes: number[] }[] } // prettier-ignore

  test('stands where its joints hold it, whatever its node says: the size is the one that viewers show', () => {
    const scene = foreign()
    const inMetres = filed(scene, [bound(scene, 1), bound(scene, 2)])
    for (const change of [
      () => {},
      ({ nodes }: Nodes) => (nodes[3]!.scale = [100, 100, 100]),
      ({ nodes, scenes }: Nodes) => {
        nodes[0]!.children = [...(nodes[0]!.children ?? []), 3]
        scenes[0]!.nodes = [0]
      },
    ] as ((document: Nodes) => void)[]) {
      const { scene: read, findings } = inMetres.read(change as never)
      const body = read.nodes.findIndex(({ mesh }) => mesh >= 0)
      agree([...worldMatrices(read)[body]!], [...IDENTITY_MATRIX])
      expect(findings.filter(({ code }) => code === 'gltf.skin-placed').length).toBe(change.length)
      expect(findings.some(({ code }) => code === 'gltf.skin-posed')).toBe(false)
    }
  })
  test('what hangs under its node stays where it was; the mesh has a node of its own there', () => {
    const scene = foreign()
    const { scene: read } = filed(scene, [bound(scene, 1), bound(scene, 2)]).read((({
      nodes,
      scenes,
    }: Nodes) => {
      nodes[3]!.scale = [2, 2, 2]
      nodes[0]!.scale = [0.005, 0.005, 0.005]
      nodes[3]!.children = [0]
      scenes[0]!.nodes = [3]
    }) as never)
    expect(read.nodes.map(({ name, mesh }) => [name, mesh])).toEqual([['body', -1], ['armature', -1], ['hip', -1], ['knee', -1], ['body', 0]]) // prettier-ignore
    expect(read.nodes[4]!.parent).toBe(0)
    agree([...worldMatrices(read)[4]!], [...IDENTITY_MATRIX])
  })
  test('posed: as its strongest joint has it, and that is said', () => {
    const scene = foreign()
    const binds = [bound(scene, 1), bound(scene, 2)]
    const posed = { ...foreign(composeMatrix([0, 0, 0], [0.6, 0, 0, 0.8], [1, 1, 1])) }
    const { scene: read, findings } = filed(posed, binds).read((() => {}) as never)
    expect(findings.map(({ code }) => code)).toContain('gltf.skin-posed')
    const body = read.nodes.findIndex(({ mesh }) => mesh >= 0)
    const { weights } = read.meshes[0]!.skin!
    const hip = weights.reduce((sum, weight, at) => sum + (at % 2 ? 0 : weight), 0)
    const expected = hip >= weights.length / 4 ? IDENTITY_MATRIX : multiplyMatrices(worldMatrices(posed)[2]!, binds[1]!) // prettier-ignore
    agree([...worldMatrices(read)[body]!], [...expected])
  })
})

test('extras that say anything: every node is there once, under one that comes before it', () => {
  const { files } = writeGltf(rigged(7), 'x.gltf', { form: 'inside' })
  const document = JSON.parse(new TextDecoder().decode(files[0]!.bytes)) as { nodes: Record<string, unknown>[]; scenes: { nodes: unknown[] }[] } // prettier-ignore
  const chance = chanceOf(11)
  const any = (): unknown => {
    const number = Math.floor(chance() * (document.nodes.length + 3)) - 1
    return [number, number, number, number + 0.5, `${number}`, null, [number], true][Math.floor(chance() * 8)]
  }
  for (let run = 0; run < 400; run++) {
    const copy = structuredClone(document)
    for (const node of copy.nodes) {
      if (chance() < 0.7) node.skin = chance() < 0.9 ? 0 : any()
      if (chance() < 0.4) node.mesh = any()
      if (chance() < 0.3) node.children = [any(), any()]
      if (chance() < 0.6) node.extras = { skinnedUnder: any(), ...(chance() < 0.5 ? { skinnedPartOf: any() } : {}) } // prettier-ignore
    }
    if (chance() < 0.5) copy.scenes[0]!.nodes = [any(), any(), any()]
    const { scene } = readGltf({ name: 'x.gltf', bytes: new TextEncoder().encode(JSON.stringify(copy)) }, [])
    scene.nodes.forEach(({ parent }, at) => expect(parent).toBeLessThan(at))
    expect(scene.nodes.length).toBeLessThanOrEqual(2 * copy.nodes.length)
    const sources = scene.nodes.flatMap(({ source }) => source ?? [])
    expect(new Set(sources).size).toBe(sources.length)
    // and whatever it is, it can be written
    expect(() => written(scene)).not.toThrow()
  }
})

test('two places are one by their turn and size and by where they are, each by its own measure', () => {
  const at = (away: number, size: number): Matrix =>
    composeMatrix([away, 0, 0], [0, 0, 0, 1], [size, size, size])
  expect(samePlace(at(1000, 0.01), at(1000, 0.01))).toBe(true)
  // a small part far away is not as large as one that is larger by a thirtieth
  expect(samePlace(at(1000, 0.01), at(1000, 0.0103))).toBe(false)
  expect(samePlace(at(1000, 0.01), at(1001, 0.01))).toBe(false)
  // what single precision leaves of a chain of joints
  expect(samePlace(at(0, 0.01), at(5e-8, 0.01 * (1 + 1e-6)))).toBe(true)
})

test('a shear of a part that joints move is in its binds', () => {
  const shears: Matrix = [1, 0, 0, 0, 0.5, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]
  const scene = rigged(3)
  const part = scene.nodes.findIndex(({ mesh }) => mesh === 0)
  const slanted = (node: number): Scene => ({
    ...scene,
    nodes: scene.nodes.map((one, at) => (at === node ? { ...one, parent: -1, local: multiplyMatrices(shears, anyPlace(chanceOf(4))) } : one)), // prettier-ignore
  })
  const sheared = slanted(part)
  const result = written(sheared)
  expect(result.findings.map(({ code }) => code)).not.toContain('write.not-carried')
  agree(placesOf(back(result).scene).get(`/${scene.nodes[part]!.name}`)!, placesOf(sheared).get(`/${scene.nodes[part]!.name}`)!) // prettier-ignore
})
