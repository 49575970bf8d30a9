/** Points without polygons: scans, and what is left of a model whose polygons went. */
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js'
import type { Points } from 'three'
import { describe, expect, test } from 'vitest'
import { validatorComplaints } from '../../../../tests/gltf-validator.ts'
import { cubeOf, sceneOf } from '../../../../tests/solids.ts'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import { fingerprintScene } from '../../compare/fingerprint.ts'
import { completeIds } from '../../scene/ids.ts'
import { EMPTY_MESH, type KeptLayer, type Mesh } from '../../scene/mesh.ts'
import { readPly } from '../ply/read-ply.ts'
import { writePly } from '../ply/write-ply.ts'
import { readGltf } from './read-gltf.ts'
import { writeGltf } from './write-gltf.ts'

const COUNT = 5
const numbers = (width: number, of: (at: number) => number): Float64Array =>
  Float64Array.from({ length: width * COUNT }, (_value, at) => of(at))
const layer = (kind: string, width: number, of: (at: number) => number): KeptLayer => ({
  kind,
  name: '',
  per: 'points',
  width,
  values: numbers(width, of),
  indices: null,
  edgePoints: null,
  whole: false,
})
const cloud: Mesh = {
  ...EMPTY_MESH,
  name: 'scan',
  points: numbers(3, (at) => at / 4),
  colorSets: [
    { name: 'paint', components: 4, values: numbers(4, (at) => (at % 5) / 4), per: 'points', indices: new Int32Array(0) },
    { name: 'heat', components: 3, values: numbers(3, (at) => (at % 3) / 2), per: 'points', indices: new Int32Array(0) },
  ],
  layers: [
    layer('nx', 1, (at) => (at % 2 ? 1 : 0)),
    layer('ny', 1, (at) => (at % 2 ? 0 : 1)),
    layer('nz', 1, () => 0),
    layer('_INTENSITY', 1, (at) => at / 8),
    layer('_OTHER', 3, (at) => at),
  ],
} // prettier-ignore
const metres = { unitMeters: 1, upAxis: 'y', frontAxis: 'z', handedness: 'right' } as const
const scene = { ...sceneOf([cloud]), space: metres }
const written = (of = scene) => writeGltf(of, 'x.glb')

describe('a cloud of points', () => {
  test('comes back as it was: places, colours, normals and what a program named itself', () => {
    const again = readGltf(written().files[0]!, []).scene
    const [mesh] = again.meshes
    expect(mesh!.pointElements).toBeNull()
    expect([...mesh!.points]).toEqual([...cloud.points])
    expect(mesh!.colorSets).toEqual(cloud.colorSets)
    expect(mesh!.layers).toEqual(cloud.layers)
    expect(mesh!.kept ?? null).toBeNull()
    expect(written().findings).toEqual([])
    const of = (own: typeof scene) => fingerprintScene(completeIds(own))
    expect(of(readGltf(written(again as typeof scene).files[0]!, []).scene as typeof scene)).toEqual(
      of(again as typeof scene),
    )
  })
  test('the validator finds nothing, and three draws points', async () => {
    const { files } = written()
    expect(await validatorComplaints(files)).toEqual([])
    const { bytes } = files[0]!
    const buffer = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer
    const seen: Points[] = []
    const loaded = await new GLTFLoader().parseAsync(buffer, '')
    loaded.scene.traverse((object) => (object as Points).isPoints && seen.push(object as Points))
    expect(seen).toHaveLength(1)
    const { position, color } = seen[0]!.geometry.attributes
    expect([...position!.array]).toEqual([...cloud.points])
    expect(Array.from(color!.array, (value) => Math.round(value * 100))).toEqual(
      Array.from(cloud.colorSets[0]!.values, (value) => Math.round(value * 100)),
    )
  })
  test('of another program has its points as elements, and its colours', () => {
    const [file] = written().files
    const { bytes } = file!
    const length = new DataView(bytes.buffer, bytes.byteOffset).getUint32(12, true)
    const text = new TextDecoder().decode(bytes.subarray(20, 20 + length))
    const bare = text.replace(/"extras":\{[^}]*\}/, '"extras":{}')
    expect(bare).not.toBe(text)
    const copy = bytes.slice()
    copy.set(encodeUtf8(bare.padEnd(length)), 20)
    const [mesh] = readGltf({ name: 'x.glb', bytes: copy }, []).scene.meshes
    expect([...mesh!.pointElements!]).toEqual([0, 1, 2, 3, 4])
    expect(mesh!.colorSets.map(({ name, per }) => [name, per])).toEqual([
      ['colour', 'points'],
      ['colour2', 'points'],
    ])
  })
  test('beside polygons leaves too, and what it can’t hold is told', () => {
    const odd: Mesh = {
      ...cloud,
      pointWeights: numbers(1, () => 2),
      colorSets: [{ ...cloud.colorSets[0]!, values: numbers(4, (at) => at) }],
      layers: [layer('density', 1, (at) => at), layer('nx', 1, () => 1)],
    }
    const { files, findings } = written({ ...sceneOf([cubeOf(), odd]), space: metres })
    expect(readGltf(files[0]!, []).scene.meshes.map(({ points }) => points.length / 3)).toEqual([8, COUNT])
    expect(findings.map(({ parameters }) => String(parameters.what ?? '')).sort()).toEqual([
      'rational weights of points',
      'the values “density” that its file has beside the mesh',
      'the values “nx” that its file has beside the mesh',
      'vertex colours beyond 0 and 1; they are the nearest of these in it',
    ])
  })
  test('with normals goes from PLY to glTF and back', () => {
    const body = `ply\nformat ascii 1.0\nelement vertex 2\nproperty float x\nproperty float y\nproperty float z\nproperty float nx\nproperty float ny\nproperty float nz\nend_header\n0 0 0 1 0 0\n1 2 3 0 0 1\n`
    const scan = readPly({ name: 'scan.ply', bytes: encodeUtf8(body) }, []).scene
    const home = readGltf(writeGltf(scan, 'scan.glb').files[0]!, []).scene
    const again = readPly(writePly(home, 'scan.ply').files[0]!, []).scene
    expect(again.meshes[0]!.layers!.map(({ kind, values }) => [kind, ...values])).toEqual([
      ['nx', 1, 0],
      ['ny', 0, 0],
      ['nz', 0, 1],
    ])
  })
})
