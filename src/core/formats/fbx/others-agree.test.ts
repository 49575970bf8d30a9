/**
 * Others read what Kelbo writes and agree corner by corner: three 0.187.0's FBXLoader and assimp (npm assimpjs,
 * a WebAssembly build) on places in the world, UVs, normals, the material of each face, and the hierarchy.
 */
import { readFileSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, test, vi } from 'vitest'
import { loadAssimp, type AssimpNode, type AssimpScene } from '../../../../tests/assimp.ts'
import { cubeOf, gridOf, materialOf, moved, scaled, sceneOf, withNodes } from '../../../../tests/solids.ts'
import { multiplyMatrices, transformNormals, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { computeNormals } from '../../mesh/normals/compute-normals.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import { triangulateScene } from '../arrange/arrange-scene.ts'
import { readFbx } from './read-fbx.ts'
import { rotationMatrix } from './transform-chain.ts'
import { writeFbx } from './write-fbx.ts'

const FORMS = [
  { version: 7400, form: 'binary' },
  { version: 7500, form: 'binary' },
  { version: 7400, form: 'text' },
] as const

const authored = (mesh: Mesh): Mesh => ({ ...mesh, normals: computeNormals(mesh, Math.PI / 6) })
/** Three parts in a hierarchy, turned and scaled, with two materials; triangles, so that nobody cuts otherwise. */
const workshop: Scene = triangulateScene({
  ...withNodes(
    sceneOf(
      [
        authored(cubeOf({ faceMaterials: Int32Array.of(0, 1, 0, 1, 1, 0) })),
        authored(
          gridOf(3, 2, { faceMaterials: Int32Array.of(1, 1, 0, 0, 1, 0) }, (x, z) => Math.sin(x + 2 * z)),
        ),
        authored(cubeOf({ faceMaterials: new Int32Array(6).fill(1) }, 2, [5, 1, -3])),
      ],
      { materials: [materialOf('tin'), materialOf('zinc')] },
    ),
    (_node, at) => ({
      name: ['crate', 'cloth', 'weight'][at]!,
      parent: at - 1,
      local: [
        multiplyMatrices(moved(3, -2, 7), rotationMatrix([20, -35, 130], 'xyz')),
        multiplyMatrices(moved(-1, 4, 2), scaled(2, 2, 2)),
        multiplyMatrices(rotationMatrix([0, 90, 10], 'xyz'), scaled(0.5, 0.5, 0.5)),
      ][at]!,
    }),
  ),
})

const rounded = (values: Iterable<number>): string =>
  [...values].map((value) => (Math.round(value * 1000) / 1000 + 0).toFixed(3)).join(' ')
/** A corner in the world, as text: part, place, UV, normal, material. */
const corner = (
  part: string,
  place: Iterable<number>,
  uv: Iterable<number>,
  normal: Iterable<number>,
  material: string,
): string => `${part} | ${rounded(place)} | ${rounded(uv)} | ${rounded(normal)} | ${material}`

function ownCorners(scene: Scene): string[] {
  const worlds = worldMatrices(scene)
  return scene.nodes.flatMap((node, index) => {
    const mesh = scene.meshes[node.mesh]!
    const places = transformPoints(mesh.points, worlds[index]!)
    const normals = transformNormals(mesh.normals!.values, worlds[index]!)
    const [set] = mesh.uvSets
    return Array.from(mesh.faceVertices, (point, at) => {
      const face = Math.floor(at / 3)
      const normal = mesh.normals!.indices[at]!
      return corner(
        node.name,
        places.subarray(3 * point, 3 * point + 3),
        set!.values.subarray(2 * set!.indices[at]!, 2 * set!.indices[at]! + 2),
        normals.subarray(3 * normal, 3 * normal + 3),
        scene.materials[mesh.faceMaterials![face]!]!.name,
      )
    })
  })
}

let assimp: (bytes: Uint8Array) => AssimpScene
beforeAll(async () => {
  assimp = await loadAssimp('x.fbx')
})

const transposed = (rows: readonly number[]): number[] =>
  Array.from({ length: 16 }, (_value, at) => rows[4 * (at % 4) + Math.floor(at / 4)]!)

/** Corners as assimp has them, and who hangs under whom. */
function assimpCorners({ rootnode, meshes, materials }: AssimpScene): { corners: string[]; under: string[] } {
  const corners: string[] = []
  const under: string[] = []
  const walk = (node: AssimpNode, above: Matrix, parent: string): void => {
    const world = multiplyMatrices(above, transposed(node.transformation))
    if (node !== rootnode) under.push(`${parent}/${node.name}`)
    for (const index of node.meshes ?? []) {
      const mesh = meshes[index]!
      const material = materials[mesh.materialindex]!.properties.find(({ key }) => key === '?mat.name')
      const places = transformPoints(Float64Array.from(mesh.vertices), world)
      const normals = transformNormals(Float64Array.from(mesh.normals), world)
      const uvWidth = mesh.texturecoords[0]!.length / (mesh.vertices.length / 3)
      for (const face of mesh.faces)
        for (const at of face)
          corners.push(
            corner(
              node.name,
              places.subarray(3 * at, 3 * at + 3),
              mesh.texturecoords[0]!.slice(uvWidth * at, uvWidth * at + 2),
              normals.subarray(3 * at, 3 * at + 3),
              String(material!.value),
            ),
          )
    }
    for (const child of node.children ?? []) walk(child, world, node === rootnode ? '' : node.name)
  }
  walk(rootnode, [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1], '')
  return { corners, under }
}

/** The part of three's objects that is looked at here. */
interface ThreeObject {
  name: string
  parent: ThreeObject | null
  isMesh?: boolean
  isBone?: boolean
  isSkinnedMesh?: boolean
  skeleton?: { bones: unknown[] }
  matrixWorld: { elements: number[] }
  material: { name: string } | { name: string }[]
  geometry: {
    groups: { start: number; count: number; materialIndex: number }[]
    attributes: Record<string, { array: ArrayLike<number>; count: number }>
    morphAttributes: { position?: unknown[] }
  }
  traverse(visit: (object: ThreeObject) => void): void
  updateMatrixWorld(force: boolean): void
}
async function three(bytes: Uint8Array): Promise<ThreeObject> {
  const { FBXLoader } = await import('three/addons/loaders/FBXLoader.js')
  const { LoadingManager } = await import('three')
  const buffer = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer
  const group = new FBXLoader(new LoadingManager()).parse(buffer, '') as unknown as ThreeObject
  group.updateMatrixWorld(true)
  return group
}

function threeCorners(group: ThreeObject): { corners: string[]; under: string[] } {
  const corners: string[] = []
  const under: string[] = []
  group.traverse((object) => {
    if (object !== group) under.push(`${object.parent === group ? '' : object.parent!.name}/${object.name}`)
    if (!object.isMesh) return
    const { position, normal, uv } = object.geometry.attributes as Record<string, { array: ArrayLike<number>; count: number }> // prettier-ignore
    const world = object.matrixWorld.elements
    const places = transformPoints(Float64Array.from(position!.array), world)
    const normals = transformNormals(Float64Array.from(normal!.array), world)
    const nameAt = (at: number): string => {
      if (!Array.isArray(object.material)) return object.material.name
      const group = object.geometry.groups.find(({ start, count }) => at >= start && at < start + count)!
      return object.material[group.materialIndex]!.name
    }
    for (let at = 0; at < position!.count; at++)
      corners.push(
        corner(
          object.name,
          places.subarray(3 * at, 3 * at + 3),
          [uv!.array[2 * at]!, uv!.array[2 * at + 1]!],
          normals.subarray(3 * at, 3 * at + 3),
          nameAt(at),
        ),
      )
  })
  return { corners, under }
}

describe.each(FORMS)('version $version, $form', (options) => {
  const { bytes } = writeFbx(workshop, 'x.fbx', options).files[0]!
  const wanted = ownCorners(workshop).sort()
  const hierarchy = ['/crate', 'crate/cloth', 'cloth/weight']
  test('assimp: every corner, and who hangs under whom', () => {
    const { corners, under } = assimpCorners(assimp(bytes))
    expect(corners.sort()).toEqual(wanted)
    expect(under).toEqual(hierarchy)
  })
  test('three: every corner, and who hangs under whom', async () => {
    const { corners, under } = threeCorners(await three(bytes))
    expect(corners.sort()).toEqual(wanted)
    expect(under).toEqual(hierarchy)
  })
})

describe('a file with a skeleton, written again, is to three what it was', () => {
  const MODELS = '/usr/share/assimp/models/FBX'
  // its cameras ask for the size of a window
  beforeAll(() => vi.stubGlobal('window', { innerWidth: 1280, innerHeight: 800 }))
  afterAll(() => vi.unstubAllGlobals())
  const summary = (group: ThreeObject): string[] => {
    const lines: string[] = []
    group.traverse((object) => {
      if (object.isBone) lines.push(`bone ${object.name} ${rounded(object.matrixWorld.elements)}`)
      if (object.isSkinnedMesh) {
        const { skinWeight, skinIndex } = object.geometry.attributes
        lines.push(
          `skin ${object.name}, ${object.skeleton!.bones.length} bones, ${skinWeight!.count} points, ${rounded(Array.from(skinWeight!.array).slice(0, 400))} ${rounded(Array.from(skinIndex!.array).slice(0, 400))}`,
        )
      }
    })
    return lines.sort()
  }
  test.each(['huesitos.fbx', 'animation_with_skeleton.fbx'])('%s', async (name) => {
    const bytes = new Uint8Array(readFileSync(`${MODELS}/${name}`))
    const before = await three(bytes)
    const { scene } = readFbx({ name, bytes })
    const after = await three(writeFbx(scene, name).files[0]!.bytes)
    expect(summary(before).length).toBeGreaterThan(3)
    expect(summary(after)).toEqual(summary(before))
    const clips = (group: ThreeObject) =>
      (
        group as unknown as { animations: { name: string; duration: number; tracks: unknown[] }[] }
      ).animations.map(({ name: title, duration, tracks }) => [title, duration, tracks.length])
    // animation is kept unread and still plays
    expect(clips(after)).toEqual(clips(before))
  })
  test('blend shapes are morph targets to it', async () => {
    const shapes = [
      { name: 'open', points: Uint32Array.of(6, 7), offsets: Float64Array.of(0, 1, 0, 0, 1, 0) },
    ]
    const group = await three(writeFbx(sceneOf([authored(cubeOf({ shapes }))]), 'x.fbx').files[0]!.bytes)
    let targets = 0
    group.traverse((object) => (targets += object.geometry?.morphAttributes.position?.length ?? 0))
    expect(targets).toBe(1)
  })
})
