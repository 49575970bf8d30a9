/**
 * Others read what Kelbo writes and agree corner by corner: three 0.187.0's GLTFLoader, gltf-transform 4.5.1, and assimp
 * (npm assimpjs, a WebAssembly build). None of them reads the n-gon encoding: its published rule is followed here.
 */
import { beforeAll, describe, expect, test } from 'vitest'
import { loadAssimp, type AssimpNode, type AssimpScene } from '../../../../tests/assimp.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { buildMooringBollard } from '../../practice/demo/mooring-bollard.ts'
import { buildStormLantern } from '../../practice/demo/storm-lantern.ts'
import { multiplyMatrices, transformNormals, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { computeNormals } from '../../mesh/normals/compute-normals.ts'
import { IDENTITY_MATRIX, type Scene } from '../../scene/scene.ts'
import { spaceMatrix } from '../../scene/space.ts'
import { worldMatrices } from '../../scene/world.ts'
import { triangulateScene } from '../arrange/arrange-scene.ts'
import { writeGltf } from './write-gltf.ts'

/** A corner: part, place in metres, UV with V up, normal. */
interface Corner {
  readonly part: string
  readonly place: readonly number[]
  readonly uv: readonly number[]
  readonly normal: readonly number[]
}

const METRES = { unitMeters: 1, upAxis: 'y', frontAxis: 'z', handedness: 'right' } as const

/** Corners of the scene itself, never through the writer. */
function ownCorners(scene: Scene): Corner[] {
  const worlds = worldMatrices(scene)
  const change = spaceMatrix(scene.space, METRES)
  return scene.nodes.flatMap((node, index) => {
    if (node.mesh < 0) return []
    const mesh = scene.meshes[node.mesh]!
    const world = multiplyMatrices(change, worlds[index]!)
    const places = transformPoints(mesh.points, world)
    const own = mesh.normals ?? computeNormals(mesh, null)
    const normals = transformNormals(own.values, world)
    const [set] = mesh.uvSets
    return Array.from(mesh.faceVertices, (point, at): Corner => {
      const normal = own.indices[at]!
      const uv = set?.indices[at] ?? -1
      return {
        part: node.name,
        place: [...places.subarray(3 * point, 3 * point + 3)],
        uv: uv < 0 ? [0, 0] : [...set!.values.subarray(2 * uv, 2 * uv + 2)],
        normal: [...normals.subarray(3 * normal, 3 * normal + 3)],
      }
    })
  })
}

const CELL = 1e-3
const cellOf = (place: readonly number[]): number[] => place.map((value) => Math.floor(value / CELL))

/** Corners that have no like one on the other side, both ways. */
function strangers(own: readonly Corner[], others: readonly Corner[], within = 1e-6): number {
  const unlike = (from: readonly Corner[], to: readonly Corner[]): number => {
    const cells = new Map<string, Corner[]>()
    for (const corner of to) {
      const key = cellOf(corner.place).join()
      cells.set(key, [...(cells.get(key) ?? []), corner])
    }
    const near = (a: readonly number[], b: readonly number[], most: number): boolean =>
      a.every((value, at) => Math.abs(value - b[at]!) <= most)
    return from.filter((corner) => {
      const [x, y, z] = cellOf(corner.place)
      for (let dx = -1; dx <= 1; dx++)
        for (let dy = -1; dy <= 1; dy++)
          for (let dz = -1; dz <= 1; dz++)
            for (const other of cells.get([x! + dx, y! + dy, z! + dz].join()) ?? [])
              if (
                other.part === corner.part &&
                near(other.place, corner.place, within) &&
                near(other.uv, corner.uv, 1e-5) &&
                near(other.normal, corner.normal, 1e-4)
              )
                return false
      return true
    }).length
  }
  return unlike(own, others) + unlike(others, own)
}

interface ThreeObject {
  readonly name: string
  readonly parent: ThreeObject | null
  readonly isMesh?: boolean
  readonly userData: { readonly name?: string }
  readonly matrixWorld: { readonly elements: number[] }
  readonly geometry: {
    readonly index: { readonly array: ArrayLike<number> }
    readonly attributes: Readonly<Record<string, { readonly array: ArrayLike<number> }>>
  }
  traverse(visit: (object: ThreeObject) => void): void
  updateMatrixWorld(force: boolean): void
}

async function threeCorners(bytes: Uint8Array): Promise<Corner[]> {
  const { GLTFLoader } = await import('three/addons/loaders/GLTFLoader.js')
  const buffer = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer
  const { scene } = (await new GLTFLoader().parseAsync(buffer, '')) as unknown as { scene: ThreeObject }
  scene.updateMatrixWorld(true)
  const corners: Corner[] = []
  scene.traverse((object) => {
    if (!object.isMesh) return
    const { position, normal, uv } = object.geometry.attributes
    const world = object.matrixWorld.elements
    const places = transformPoints(Float64Array.from(position!.array), world)
    const normals = transformNormals(Float64Array.from(normal!.array), world)
    // several primitives are meshes under a group that has the part's name; names are made unique by a number
    const part = object.userData.name ?? object.parent!.userData.name ?? ''
    for (const at of Array.from(object.geometry.index.array))
      corners.push({
        part,
        place: [...places.subarray(3 * at, 3 * at + 3)],
        uv: uv ? [uv.array[2 * at]!, 1 - uv.array[2 * at + 1]!] : [0, 0],
        normal: [...normals.subarray(3 * at, 3 * at + 3)],
      })
  })
  return corners
}

async function transformCorners(bytes: Uint8Array): Promise<Corner[]> {
  const { WebIO } = await import('@gltf-transform/core')
  const { ALL_EXTENSIONS } = await import('@gltf-transform/extensions')
  const document = await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(bytes)
  const corners: Corner[] = []
  for (const node of document.getRoot().listNodes())
    for (const primitive of node.getMesh()?.listPrimitives() ?? []) {
      const values = (semantic: string): Float64Array | null => {
        const array = primitive.getAttribute(semantic)?.getArray()
        return array ? Float64Array.from(array) : null
      }
      const world = node.getWorldMatrix() as unknown as Matrix
      const places = transformPoints(values('POSITION')!, world)
      const normals = transformNormals(values('NORMAL')!, world)
      const uvs = values('TEXCOORD_0')
      for (const at of primitive.getIndices()!.getArray()!)
        corners.push({
          part: node.getName(),
          place: [...places.subarray(3 * at, 3 * at + 3)],
          uv: uvs ? [uvs[2 * at]!, 1 - uvs[2 * at + 1]!] : [0, 0],
          normal: [...normals.subarray(3 * at, 3 * at + 3)],
        })
    }
  return corners
}

const transposed = (rows: readonly number[]): number[] =>
  Array.from({ length: 16 }, (_value, at) => rows[4 * (at % 4) + Math.floor(at / 4)]!)

function assimpCorners({ rootnode, meshes }: AssimpScene): Corner[] {
  const corners: Corner[] = []
  const walk = (node: AssimpNode, above: Matrix): void => {
    const world = multiplyMatrices(above, transposed(node.transformation))
    for (const index of node.meshes ?? []) {
      const mesh = meshes[index]!
      const places = transformPoints(Float64Array.from(mesh.vertices), world)
      const normals = transformNormals(Float64Array.from(mesh.normals), world)
      const uvs = mesh.texturecoords?.[0]
      const width = uvs ? uvs.length / (mesh.vertices.length / 3) : 2
      for (const face of mesh.faces)
        for (const at of face)
          corners.push({
            part: node.name,
            place: [...places.subarray(3 * at, 3 * at + 3)],
            uv: uvs ? [uvs[width * at]!, uvs[width * at + 1]!] : [0, 0],
            normal: [...normals.subarray(3 * at, 3 * at + 3)],
          })
    }
    for (const child of node.children ?? []) walk(child, world)
  }
  walk(rootnode, IDENTITY_MATRIX)
  return corners
}

let assimp: (bytes: Uint8Array) => AssimpScene
beforeAll(async () => {
  assimp = await loadAssimp('x.glb')
})

describe.each([
  ['heron', buildCourierHeron],
  ['lantern', buildStormLantern],
  ['bollard', buildMooringBollard],
] as const)('the %s, cut into triangles', (_name, build) => {
  const scene = triangulateScene(build())
  const bytes = writeGltf(scene, 'x.glb', { materials: 'none' }).files[0]!.bytes
  const own = ownCorners(scene)
  test('three: every corner', async () => {
    const corners = await threeCorners(bytes)
    expect(corners).toHaveLength(own.length)
    expect(strangers(own, corners)).toBe(0)
  })
  test('gltf-transform: every corner', async () => {
    const corners = await transformCorners(bytes)
    expect(corners).toHaveLength(own.length)
    expect(strangers(own, corners)).toBe(0)
  })
  test('assimp: every corner', () => {
    const corners = assimpCorners(assimp(bytes))
    expect(corners).toHaveLength(own.length)
    // its text has six figures
    expect(strangers(own, corners, 1e-5)).toBe(0)
  })
})

test.each([
  ['heron', buildCourierHeron],
  ['bollard', buildMooringBollard],
] as const)(
  'the %s whole: by the rule of the encoding, read off the bytes, its polygons are there',
  (_name, build) => {
    const scene = build()
    const text = new TextDecoder().decode(writeGltf(scene, 'x.gltf', { form: 'inside' }).files[0]!.bytes)
    const document = JSON.parse(text) as {
      meshes: { primitives: { indices: number; extensions?: object }[] }[]
      accessors: { bufferView: number; componentType: number; count: number }[]
      bufferViews: { byteOffset?: number }[]
      buffers: { uri: string }[]
    }
    const bytes = Buffer.from(document.buffers[0]!.uri.split(',')[1]!, 'base64')
    const counts: Record<number, number> = {}
    const count = (size: number): unknown => (counts[size] = (counts[size] ?? 0) + 1)
    for (const { primitives } of document.meshes)
      for (const { indices, extensions } of primitives) {
        const { bufferView, componentType, count: length } = document.accessors[indices]!
        const start = document.bufferViews[bufferView]!.byteOffset ?? 0
        const at = (k: number): number =>
          componentType === 5123 ? bytes.readUInt16LE(start + 2 * k) : bytes.readUInt32LE(start + 4 * k)
        // consecutive triangles with one first vertex are one polygon
        let size = 0
        for (let k = 0; k < length; k += 3) {
          if (extensions && k > 0 && at(k) === at(k - 3)) size++
          else {
            if (size) count(size)
            size = 3
          }
        }
        count(size)
      }
    const own: Record<number, number> = {}
    for (const { faceOffsets } of scene.meshes)
      faceOffsets.subarray(1).forEach((end, face) => {
        const size = end - faceOffsets[face]!
        own[size] = (own[size] ?? 0) + 1
      })
    expect(counts).toEqual(own)
  },
)
