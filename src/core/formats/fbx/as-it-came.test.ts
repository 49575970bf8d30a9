/**
 * What Kelbo has no use for is written as it came, by what others see in a file before and after: three 0.187.0's
 * FBXLoader and assimp (npm assimpjs) on every FBX of Debian's assimp-testmodels, written in every form.
 */
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, test, vi } from 'vitest'
import { loadAssimp, type AssimpNode } from '../../../../tests/assimp.ts'
import { IN_THE_LONG_RUN } from '../../../../tests/how-many.ts'
import type { KeptRecord } from '../../scene/kept.ts'
import { multiplyMatrices, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import type { FbxWriteOptions } from './options.ts'
import { readFbx } from './read-fbx.ts'
import { writeFbx } from './write-fbx.ts'

const MODELS = '/usr/share/assimp/models/FBX'
const FORMS: readonly Partial<FbxWriteOptions>[] = [
  { version: 7400, form: 'binary' },
  { version: 7500, form: 'binary' },
  { version: 7400, form: 'text' },
  { version: 7500, form: 'text' },
]

type Loose = Record<string, unknown>
interface Seen {
  readonly [key: string]: unknown
  rootnode: AssimpNode & { metadata?: unknown; children?: Seen['rootnode'][] }
  meshes?: (Loose & { name: string; vertices: number[]; faces: unknown[]; bones?: unknown[] })[]
  animations?: (Loose & { channels?: Loose[] })[]
}
let assimp: (bytes: Uint8Array) => Seen
beforeAll(async () => {
  assimp = (await loadAssimp('x.fbx')) as unknown as typeof assimp
  // cameras of three ask for the size of a window, embedded images for an element that shows them
  vi.stubGlobal('window', { innerWidth: 1280, innerHeight: 800 })
  vi.stubGlobal('document', {
    createElementNS: () => ({ addEventListener: () => undefined, removeEventListener: () => undefined }),
  })
  vi.spyOn(console, 'warn').mockImplementation(() => undefined)
})
afterAll(() => {
  vi.unstubAllGlobals()
  vi.restoreAllMocks()
})

/** Numbers to a thousandth: other readers count in 32 bits. */
const text = (value: unknown): string =>
  JSON.stringify(value, (_key, part: unknown) =>
    typeof part === 'number' ? Math.round(part * 1000) / 1000 + 0 : part,
  )

/** What assimp sees: animations key by key, bones, embedded images, materials, cameras, lights, parts in the world. */
function seenByAssimp(bytes: Uint8Array) {
  const scene = assimp(bytes)
  const parts: string[] = []
  const walk = (node: Seen['rootnode'], above: Matrix): void => {
    const rows = node.transformation
    const local = Array.from({ length: 16 }, (_value, at) => rows[4 * (at % 4) + Math.floor(at / 4)]!)
    const world = multiplyMatrices(above, local)
    for (const index of node.meshes ?? []) {
      const mesh = scene.meshes![index]!
      const places = transformPoints(Float64Array.from(mesh.vertices), world)
      const sums = [0, 1, 2].map((axis) =>
        places.reduce((sum, value, at) => (at % 3 === axis ? sum + value * (1 + (at % 7)) : sum), 0),
      )
      const plain = node.name.replace(/_\$\w+\$_\w+$/, '')
      parts.push(text([plain, mesh.faces.length, ...sums.map((sum) => Math.round(sum * 10) / 10)]))
    }
    for (const child of node.children ?? []) walk(child, world)
  }
  walk(scene.rootnode, [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1])
  const sorted = (list: readonly unknown[] | undefined): string[] => (list ?? []).map(text).sort()
  return {
    animations: (scene.animations ?? []).map((animation) => ({
      ...animation,
      channels: sorted(animation.channels),
    })),
    bones: (scene.meshes ?? []).map((mesh) => sorted(mesh.bones)),
    images: text(scene['textures'] ?? []),
    materials: ((scene['materials'] ?? []) as { properties: Loose[] }[]).map(({ properties }) =>
      sorted(properties),
    ),
    cameras: text(scene['cameras'] ?? []),
    lights: text(scene['lights'] ?? []),
    metadata: text(scene['metadata'] ?? {}),
    meshes: (scene.meshes ?? []).map((mesh) => [mesh.name, mesh.faces.length, Object.keys(mesh).sort()]),
    parts: parts.sort(),
  }
}

interface ThreeObject {
  type: string
  name: string
  isBone?: boolean
  skeleton?: { bones: unknown[] }
  matrixWorld: { elements: number[] }
  geometry?: { attributes: Record<string, { count: number }> }
  material?: { type: string; name: string; map?: unknown; color?: { getHex(): number } } | object[]
  userData: object
}
/** What three sees: clips track by track, and every object with its bones, attributes, materials and properties. */
async function seenByThree(bytes: Uint8Array) {
  const { FBXLoader } = await import('three/addons/loaders/FBXLoader.js')
  const { LoadingManager } = await import('three')
  const buffer = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer
  let group
  try {
    group = new FBXLoader(new LoadingManager()).parse(buffer, '')
  } catch {
    return null
  }
  group.updateMatrixWorld(true)
  const objects: string[] = []
  group.traverse((found) => {
    const object = found as unknown as ThreeObject
    // a part of the chain that turns, moves or scales nothing may be said or not
    const { transformData: _chain, ...properties } = object.userData as { transformData?: unknown }
    objects.push(
      text([
        object.type,
        object.name,
        object.isBone ?? false,
        object.matrixWorld.elements,
        object.skeleton?.bones.length ?? 0,
        Object.entries(object.geometry?.attributes ?? {}).map(([name, { count }]) => [name, count]),
        [object.material ?? []]
          .flat()
          .map(
            (material) =>
              material as { type: string; name: string; map?: unknown; color?: { getHex(): number } },
          ) // prettier-ignore
          .map(({ type, name, map, color }) => [type, name, Boolean(map), color?.getHex()]),
        properties,
      ]),
    )
  })
  return {
    objects,
    clips: group.animations.map(({ name, duration, tracks }) =>
      text([name, duration, tracks.map((track) => [track.name, [...track.times], [...track.values]])]),
    ),
  }
}

const FILES = ['', 'embedded_ascii/'].flatMap((folder) =>
  readdirSync(join(MODELS, folder))
    // of transparentTest.fbx all line ends were changed, as if it were text: nothing in it is where it was
    .filter((name) => /\.fbx$/i.test(name) && name !== 'transparentTest.fbx')
    .map((name) => folder + name),
)

describe('to others a file is what it was', () => {
  const seen = { animations: 0, images: 0, bones: 0, cameras: 0 }
  test.each(FILES)('%s', async (name) => {
    const bytes = new Uint8Array(readFileSync(join(MODELS, name)))
    const { scene } = readFbx({ name, bytes })
    const assimpBefore = seenByAssimp(bytes)
    // assimp misreads one number of 72 digits; the same cubes stand in another file, where it has fifteen
    if (name === 'cubes_with_outofrange_float.fbx')
      assimpBefore.parts = seenByAssimp(new Uint8Array(readFileSync(join(MODELS, 'cubes_nonames.fbx')))).parts
    const threeBefore = await seenByThree(bytes)
    seen.animations += assimpBefore.animations.length
    seen.images += assimpBefore.images === '[]' ? 0 : 1
    seen.bones += assimpBefore.bones.flat().length
    seen.cameras += assimpBefore.cameras === '[]' ? 0 : 1
    // images as text take the others long
    const forms = IN_THE_LONG_RUN || bytes.length < 1e6 ? FORMS : FORMS.slice(0, 1)
    for (const form of forms) {
      const written = writeFbx(scene, 'x.fbx', form).files[0]!.bytes
      expect(seenByAssimp(written)).toEqual(assimpBefore)
      // one file of the collection three can't read at all; what Kelbo writes of it, it can
      const threeAfter = await seenByThree(written)
      if (threeBefore) expect(threeAfter).toEqual(threeBefore)
      else expect(threeAfter).not.toBeNull()
    }
  })
  test('and there was something to be seen', () => {
    expect(seen.animations).toBeGreaterThan(1)
    expect(seen.images).toBeGreaterThan(1)
    expect(seen.bones).toBeGreaterThan(15)
    expect(seen.cameras).toBeGreaterThan(0)
  })
})

const read = (body: string) =>
  readFbx({
    name: 'x.fbx',
    bytes: new TextEncoder().encode(
      `; FBX 7.4.0\nFBXHeaderExtension: {\n FBXVersion: 7400\n OtherFlags: {\n  TCDefinition: 127\n }\n}\n${body}`,
    ),
  }).scene
const OBJECTS = `Objects: {
  Model: 1, "Model::arm", "Null" {
  }
  AnimationLayer: 7, "AnimLayer::Base", "" {
  }
  AnimationCurve: 8, "AnimCurve::", "" {
    Default: 3
    KeyVer: 4008
    KeyTime: *2 {
      a: 0,46186158000
    }
    KeyValueFloat: *2 {
      a: 1,2
    }
  }
  Pose: 9, "Pose::bind", "BindPose" {
    Type: "BindPose"
    NbPoseNodes: 2
    PoseNode: {
      Node: 1
      Matrix: *16 {
        a: 1,0,0,0,0,1,0,0,0,0,1,0,0,0,0,1
      }
    }
    PoseNode: {
      Node: 4444
      Matrix: *16 {
        a: 1,0,0,0,0,1,0,0,0,0,1,0,0,0,0,1
      }
    }
  }
}
Connections: {
  C: "OO",1,0
  C: "PP",8,1,"d|X","strength"
}
`
const again = (scene: ReturnType<typeof read>, form: Partial<FbxWriteOptions>) => {
  const { bytes } = writeFbx(scene, 'x.fbx', form).files[0]!
  return readFbx({ name: 'x.fbx', bytes }).scene
}
const shape = (record: KeptRecord): unknown => [
  record.name,
  // the number of an object is written anew, in 64 bits
  typeof record.values[0] === 'number' && record.kinds.length === 3 ? record.kinds.slice(1) : record.kinds,
  record.opens ?? false,
  record.children.map(shape),
]

describe('what is kept keeps its exact form', () => {
  test.each(FORMS)('kinds of values, empty lists, ties between properties, order: %j', (form) => {
    const scene = read(OBJECTS)
    const after = again(scene, form)
    expect(after.kept!.objects.map(({ id }) => id)).toEqual(['7', '8', '9'])
    const before = scene.kept!.objects.map(({ record }) => record)
    for (const [at, { record }] of after.kept!.objects.slice(0, 2).entries())
      expect(shape(record)).toEqual(shape(before[at]!))
    expect(after.kept!.links).toEqual(scene.kept!.links)
    expect(after.kept!.links[0]).toMatchObject({ kind: 'PP', property: 'd|X' })
    // a layer has a list of its own, though nothing stands in it
    expect(before[0]!.opens).toBe(true)
    // numbers of keys are 64 bits and 32-bit floats in binary files, a default is a double, however whole
    const curve = after.kept!.objects[1]!.record
    expect(curve.children.map(({ name, kinds }) => [name, kinds])).toEqual([
      ['Default', 'D'],
      ['KeyVer', 'I'],
      ['KeyTime', 'l'],
      ['KeyValueFloat', 'f'],
    ])
  })
  test('a pose that has lost a node says how many are left', () => {
    const pose = again(read(OBJECTS), { form: 'binary' }).kept!.objects[2]!.record
    expect(pose.children.filter(({ name }) => name === 'PoseNode')).toHaveLength(1)
    expect(pose.children.find(({ name }) => name === 'NbPoseNodes')!.values).toEqual([1])
    expect(pose.children.find(({ name }) => name === 'PoseNode')!.children[1]!.kinds).toBe('d')
  })
  test.each(FORMS)('how long a second is, templates and the scene’s own document: %j', (form) => {
    const definitions = `Definitions: {
  Version: 100
  ObjectType: "Model" {
    Count: 1
    PropertyTemplate: "Node" {
      Properties70: {
        P: "RotationPivot", "Vector3D", "Vector", "",1,2,3
        P: "Show", "bool", "", "",1
      }
    }
  }
}
Documents: {
  Count: 1
  Document: 77, "", "Scene" {
    Properties70: {
      P: "ActiveAnimStackName", "KString", "", "", "walk"
    }
    RootNode: 0
  }
}
`
    const scene = read(definitions + OBJECTS)
    const after = again(scene, form)
    const section = (name: string) => after.kept!.sections.find((candidate) => candidate.name === name)
    expect(JSON.stringify(section('FBXHeaderExtension'))).toContain('TCDefinition')
    expect(JSON.stringify(section('Documents'))).toContain('walk')
    expect(JSON.stringify(section('Definitions'))).toContain('Show')
    // a pivot that the template gives is the node's own afterwards, and stands there once
    expect(after.nodes[0]!.transform!.rotationPivot).toEqual([1, 2, 3])
    expect(after.nodes).toEqual(scene.nodes)
    const bare = { ...scene, nodes: scene.nodes.map((node) => ({ ...node, transform: null })) }
    expect(again(bare, form).nodes[0]!.transform).toBeNull()
  })
  test('an embedded image of a text file is bytes in a binary one, in one piece', () => {
    const body = OBJECTS.replace(
      '  Pose:',
      '  Video: 12, "Video::paint", "Clip" {\n    Content: , "AAEC",\n "AwQF"\n  }\n  Pose:',
    )
    const video = again(read(body), { form: 'binary' }).kept!.objects.find(({ id }) => id === '12')!
    expect(video.record.children[0]).toMatchObject({ name: 'Content', kinds: 'R' })
    expect([...(video.record.children[0]!.values[0] as Uint8Array)]).toEqual([0, 1, 2, 3, 4, 5])
  })
  test('a mirrored part stays mirrored along its axis, the polygons keep the name they had', () => {
    const body = `Objects: {
  Geometry: 5, "Geometry::net", "Mesh" {
    Vertices: *9 {
      a: 0,0,0,1,0,0,0,1,0
    }
    PolygonVertexIndex: *3 {
      a: 0,1,-3
    }
  }
  Model: 1, "Model::arm", "Mesh" {
    Properties70: {
      P: "Lcl Scaling", "Lcl Scaling", "", "A",1,-1,1
    }
  }
}
Connections: {
  C: "OO",1,0
  C: "OO",5,1
}
`
    for (const form of FORMS) {
      const after = again(read(body), form)
      expect(after.nodes[0]!.transform!.scale).toEqual([1, -1, 1])
      expect(after.meshes[0]).toMatchObject({ name: 'arm', ownName: 'net' })
    }
  })
})
