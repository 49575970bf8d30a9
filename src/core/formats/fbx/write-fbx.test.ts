/**
 * FBX written, then read back: every trait the same. And read by others: three 0.187.0's FBXLoader and
 * assimp (npm assimpjs, a WebAssembly build) agree on polygons' corners, places, UVs, normals and hierarchy.
 */
import { beforeAll, describe, expect, test } from 'vitest'
import { loadAssimp, type AssimpScene } from '../../../../tests/assimp.ts'
import { cubeOf, gridOf, materialOf, moved, scaled, sceneOf, withNodes } from '../../../../tests/solids.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { multiplyMatrices } from '../../base/math/matrix.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import { runStep } from '../../steps/run-steps.ts'
import { fingerprintScene } from '../../compare/fingerprint.ts'
import { TRAITS, type Trait } from '../../compare/traits/registry.ts'
import { decompose } from './decompose.ts'
import { readFbx } from './read-fbx.ts'
import { rotationMatrix } from './transform-chain.ts'
import { writeFbx } from './write-fbx.ts'

/** The scene with its smoothing as a flag an edge, which is how FBX stores what OBJ has groups for. */
const withHardEdges = (scene: Scene): Scene =>
  runStep(scene, { step: 'convert-smoothing', params: { to: 'edges' } }).scene
const back = (scene: Scene, options = {}): Scene => {
  const { files } = writeFbx(scene, 'x.fbx', options)
  return readFbx(files[0]!, files).scene
}
const changed = (a: Scene, b: Scene): Trait[] => {
  const [before, after] = [fingerprintScene(a), fingerprintScene(b)]
  return TRAITS.filter((trait) => before[trait] !== after[trait])
}
/** Traits that this form of the writer doesn't carry, or writes in FBX's own wording. */
const heron = withHardEdges(buildCourierHeron())

const FORMS = [
  { version: 7400, form: 'binary' },
  { version: 7500, form: 'binary' },
  { version: 7400, form: 'text' },
  { version: 7500, form: 'text' },
] as const

describe.each(FORMS)('version $version, $form', (options) => {
  test('the heron, written and read: all the same but the materials’ wording', () => {
    expect(changed(heron, back(heron, options))).toEqual(['surfaces'])
  })
  test('written once more from what was read: the same bytes', () => {
    const once = writeFbx(back(heron, options), 'x.fbx', options).files[0]!.bytes
    const twice = writeFbx(back(back(heron, options), options), 'x.fbx', options).files[0]!.bytes
    expect(Buffer.from(once).equals(Buffer.from(twice))).toBe(true)
  })
})

test('hierarchy, transforms, visibility, custom properties, masks, colours, several UV sets and materials', () => {
  const turn = multiplyMatrices(
    moved(3, -4, 5),
    multiplyMatrices(rotationMatrix([20, -35, 130], 'xyz'), scaled(2, -0.5, 3)),
  )
  const cube = cubeOf({
    smoothing: { kind: 'masks', faceMasks: Uint32Array.of(1, 2, 4, 8, 0x80000000, 3) },
    faceMaterials: Int32Array.of(1, 1, 0, 0, -1, 1),
    colorSets: [
      {
        name: 'paint',
        components: 4,
        per: 'corners',
        values: Float64Array.of(1, 0, 0, 1, 0, 1, 0, 0.5),
        indices: Int32Array.from({ length: 24 }, (_value, at) => at % 2),
      },
    ],
    creases: {
      edgePoints: Uint32Array.of(0, 1, 2, 3),
      edgeSharpness: Float64Array.of(2.5, 10),
      cornerPoints: Uint32Array.of(6),
      cornerSharpness: Float64Array.of(4),
    },
  })
  const scene = sceneOf(
    [{ ...cube, uvSets: [cube.uvSets[0]!, { ...cube.uvSets[0]!, name: 'light' }] }, gridOf(2, 2)],
    {
      materials: [materialOf('tin'), materialOf('zinc')],
    },
  )
  const nested = withNodes(scene, (_node, at) =>
    at === 0
      ? { local: turn, properties: { owner: 'post office', weight: 2.5 } }
      : { parent: 0, visible: false, local: moved(1, 2, 3) },
  )
  const read = back(nested)
  // a matrix that turns comes back within rounding
  worldMatrices(nested).forEach((world, node) =>
    world.forEach((value, at) => expect(worldMatrices(read)[node]![at]).toBeCloseTo(value, 12)),
  )
  expect(read.nodes.map((node) => [node.name, node.parent, node.visible, node.properties])).toEqual(
    nested.nodes.map((node) => [node.name, node.parent, node.visible, node.properties]),
  )
  expect(changed(nested, read).filter((trait) => trait !== 'transforms' && trait !== 'surfaces')).toEqual([])
})

test.each([
  ['y', 'z', 'right', 0.01],
  ['z', '-y', 'right', 1],
  ['z', 'x', 'left', 0.0254],
  ['-y', 'x', 'right', 0.001],
] as const)('unit and axes: %s up, %s front, %s, %f m', (upAxis, frontAxis, handedness, unitMeters) => {
  const space = { upAxis, frontAxis, handedness, unitMeters }
  expect(back({ ...sceneOf([cubeOf()]), space }).space).toEqual(space)
})

test.each(FORMS)('names and numbers that a text could lose: $version, $form', (options) => {
  const odd = 'a "b": {1}; ::c, ü 鷺'
  const points = Float64Array.from(cubeOf().points)
  points.set([-0, 5e-324, 1.7976931348623157e308, 0.1, 1 / 3, -1e-7])
  const scene = withNodes(sceneOf([{ ...cubeOf(), points }], { materials: [materialOf(odd)] }), () => ({
    name: odd,
    properties: { [odd.replaceAll(':', '')]: odd },
  }))
  const read = back(scene, options)
  expect(read.nodes.map((node) => [node.name, node.properties])).toEqual(
    scene.nodes.map((node) => [node.name, node.properties]),
  )
  expect(read.materials.map((material) => material.name)).toEqual([odd])
  expect([...read.meshes[0]!.points]).toEqual([...points])
})

test('move, turn and scale come apart and together again; a shear is told', () => {
  for (const rotation of [
    [0, 0, 0],
    [90, 0, 0],
    [10, 90, 20],
    [-170, 45, 33],
  ] as const) {
    const matrix = multiplyMatrices(rotationMatrix(rotation, 'xyz'), scaled(2, 3, 0.1))
    expect(decompose(matrix).error).toBeLessThan(1e-12)
  }
  const sheared = [1, 0, 0, 0, 0.5, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]
  expect(decompose(sheared).error).toBeGreaterThan(0.05)
  const { findings } = writeFbx(
    withNodes(sceneOf([cubeOf()]), () => ({ local: sheared })),
    'x.fbx',
  )
  expect(findings.map((finding) => finding.parameters.what)).toEqual(['the shear of “part_1”'])
})

test('what a mesh has and the file will not is told, once each', () => {
  const cube = cubeOf()
  const whole = writeFbx(sceneOf([cube]), 'x.fbx').findings
  expect(whole.filter((finding) => finding.code === 'write.not-carried')).toEqual([])
  const rich: Mesh = {
    ...cube,
    pointElements: Uint32Array.of(0),
    pointWeights: new Float64Array(8).fill(1),
    subdivision: { scheme: 'loop', levels: 2 },
    normals: {
      values: Float64Array.of(0, 0, 1),
      indices: Int32Array.from({ length: 24 }, (_value, at) => (at ? 0 : -1)),
    },
  }
  const { findings } = writeFbx(sceneOf([rich, rich]), 'x.fbx')
  expect(findings.map((finding) => finding.parameters.what)).toEqual([
    'loose lines and points',
    'weights of points',
    'the subdivision scheme “loop”',
    'normals that only some corners have',
  ])
  // what was not asked for is not missed
  expect(writeFbx(sceneOf([rich]), 'x.fbx', { normals: false }).findings).toHaveLength(3)
})

describe('others read it', () => {
  let assimp: (bytes: Uint8Array) => AssimpScene
  beforeAll(async () => {
    assimp = await loadAssimp('x.fbx')
  })
  test.each(FORMS)('assimp, version $version, $form: parts by name, polygons, places and UVs', (options) => {
    const { rootnode, meshes } = assimp(writeFbx(heron, 'x.fbx', options).files[0]!.bytes)
    const byName = new Map((rootnode.children ?? []).map((node) => [node.name, node]))
    for (const [index, node] of heron.nodes.entries()) {
      const mesh = heron.meshes[index]!
      const theirs = byName.get(node.name)!.meshes!.map((at) => meshes[at]!)
      // it cuts polygons into triangles and parts a mesh by material
      const triangles = theirs.reduce((sum, one) => sum + one.faces.length, 0)
      expect(triangles).toBe(mesh.faceVertices.length - 2 * (mesh.faceOffsets.length - 1))
      // its JSON has six digits: above a hundred centimetres half a thousandth is lost
      const near = 1e-3
      const cells = new Map<string, number[]>()
      const cell = (values: readonly number[]): string =>
        values.map((value) => Math.floor(value / 0.01)).join()
      for (let at = 0; at < mesh.points.length; at += 3) {
        const key = cell([...mesh.points.subarray(at, at + 3)])
        cells.set(key, [...(cells.get(key) ?? []), at])
      }
      const known = (x: number, y: number, z: number): boolean => {
        for (let side = 0; side < 8; side++) {
          const key = cell([
            x + (side & 1 ? near : -near),
            y + (side & 2 ? near : -near),
            z + (side & 4 ? near : -near),
          ])
          for (const at of cells.get(key) ?? [])
            if (Math.hypot(mesh.points[at]! - x, mesh.points[at + 1]! - y, mesh.points[at + 2]! - z) < near)
              return true
        }
        return false
      }
      let strangers = 0
      for (const one of theirs)
        for (let at = 0; at < one.vertices.length; at += 3)
          if (!known(one.vertices[at]!, one.vertices[at + 1]!, one.vertices[at + 2]!)) strangers++
      expect([node.name, strangers]).toEqual([node.name, 0])
      expect(theirs[0]!.texturecoords).toHaveLength(1)
    }
  })
  test.each(FORMS)(
    'three, version $version, $form: parts by name, triangles, and the box they fill',
    async (options) => {
      const { FBXLoader } = await import('three/addons/loaders/FBXLoader.js')
      const { Box3, LoadingManager } = await import('three')
      const bytes = writeFbx(
        { ...heron, materials: heron.materials.map((material) => ({ ...material, maps: [] })) },
        'x.fbx',
        options,
      ).files[0]!.bytes
      const group = new FBXLoader(new LoadingManager()).parse(
        bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer,
        '',
      )
      for (const [index, node] of heron.nodes.entries()) {
        const object = group.getObjectByName(node.name) as unknown as {
          geometry: { attributes: { position: { count: number }; uv: unknown; normal: unknown } }
        }
        const mesh = heron.meshes[index]!
        const triangles = mesh.faceVertices.length - 2 * (mesh.faceOffsets.length - 1)
        // of a polygon with corners in a line it makes fewer
        expect(object.geometry.attributes.position.count / 3).toBeGreaterThan(0.99 * triangles)
        expect(object.geometry.attributes.position.count / 3).toBeLessThanOrEqual(triangles)
        expect(object.geometry.attributes.uv).toBeDefined()
      }
      const box = new Box3().setFromObject(group)
      let highest = -Infinity
      for (const mesh of heron.meshes)
        for (let at = 1; at < mesh.points.length; at += 3) highest = Math.max(highest, mesh.points[at]!)
      expect(box.max.y).toBeCloseTo(highest, 3)
    },
  )
})
