/** Blend shapes: what they change besides places, kept in glTF, told where it can't travel; held against the Khronos validator. */
import { expect, test } from 'vitest'
import { validatorComplaints } from '../../../../tests/gltf-validator.ts'
import { cubeOf, gridOf, scaled, sceneOf, uvsOf } from '../../../../tests/solids.ts'
import { multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import { compareScenes } from '../../compare/compare-scenes.ts'
import { fingerprintScene } from '../../compare/fingerprint.ts'
import { carryShapes } from '../../compare/traits/shapes/carry-shapes.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { computeNormals } from '../../mesh/normals/compute-normals.ts'
import type { BlendShape, Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { FORMATS } from '../registry.ts'
import { readGltf } from './read-gltf.ts'
import { writeGltf } from './write-gltf.ts'

const shape = (more: Partial<BlendShape> = {}): BlendShape => ({
  name: 'bent',
  points: Uint32Array.of(1, 3),
  offsets: Float64Array.of(0, 0.5, 0, 0, 0.25, 0),
  normals: Float64Array.of(0.5, 0, 0, 0, 0, 0.25),
  tangents: Float64Array.of(0, -0.5, 0, 0.125, 0, 0),
  ...more,
})
function sheet(shapes: readonly BlendShape[]): Mesh {
  const grid = gridOf(2, 2, { name: 'sheet' })
  const uvs = Array.from({ length: 9 }, (_uv, at): [number, number] => [(at % 3) / 2, Math.floor(at / 3) / 2])
  const mapped = { ...grid, uvSets: [{ ...uvsOf(uvs), indices: Int32Array.from(grid.faceVertices) }] }
  return { ...mapped, normals: computeNormals(mapped, null), shapes }
}
/** In metres, as glTF has it. */
const inMetres = (mesh: Mesh): Scene => ({ ...sceneOf([mesh]), space: { unitMeters: 1, upAxis: 'y', frontAxis: 'z', handedness: 'right' } }) // prettier-ignore
const there = (scene: Scene, tangents: boolean) => {
  const { files, findings } = writeGltf(scene, 'x.glb', { tangents })
  return { files, findings, read: readGltf(files[0]!, []) }
}

test('turns of tangents travel with those of normals, where vertices have tangents', async () => {
  const scene = inMetres(sheet([shape(), shape({ name: 'plain', tangents: null })]))
  const { files, findings, read } = there(scene, true)
  expect(findings).toEqual([])
  expect(await validatorComplaints(files)).toEqual([])
  const [bent, plain] = read.scene.meshes[0]!.shapes
  expect([...bent!.tangents!]).toEqual([...shape().tangents!])
  expect([...bent!.normals!]).toEqual([...shape().normals!])
  expect(plain!.tangents).toBeUndefined()
  expect(compareScenes(scene, read.scene).rows[0]!.cells.shapes!.state).toBe('same')
  expect(fingerprintScene(read.scene).shapes).toBe(fingerprintScene(scene).shapes)
})

test('without tangents what turns them can’t be said there, and that is told', async () => {
  const bare = cubeOf({ name: 'bare', shapes: [shape()] })
  const { files, findings, read } = there(inMetres({ ...bare, uvSets: [] }), false)
  expect(findings.map(({ code, parameters }) => [code, parameters.what]).sort()).toEqual([
    ['write.not-carried', 'how blend shapes turn tangents'],
  ])
  expect(await validatorComplaints(files)).toEqual([])
  expect([...read.scene.meshes[0]!.shapes[0]!.offsets]).toEqual([...shape().offsets])
})

test('a shape that changes what Kelbo has no use for is told', () => {
  const { files } = there(inMetres(sheet([shape()])), true)
  const text = new TextDecoder('latin1').decode(files[0]!.bytes)
  // as long as before, so that the container still holds
  const edited = Uint8Array.from(text.replace('"targets":[{"POSITION":', '"targets":[{"COLOR_00":'), (letter) => letter.charCodeAt(0)) // prettier-ignore
  const { findings, scene } = readGltf({ name: 'x.glb', bytes: edited }, [])
  expect(findings.filter(({ code }) => code === 'gltf.shape-values').map(({ parameters }) => parameters.what)).toEqual(['COLOR_00']) // prettier-ignore
  expect([...scene.meshes[0]!.shapes[0]!.points]).toEqual([1, 3])
})

test('every format that carries shapes carries this, or tells', () => {
  const scene = inMetres(sheet([shape()]))
  for (const format of FORMATS) {
    const { findings, files } = format.write(scene, `x${format.endings[0]!}`, {})
    const text = findings.map(({ parameters }) => Object.values(parameters).join(' ')).join('\n')
    const back = format.read(files[0]!, files, {}).scene.meshes[0]?.shapes[0]
    if (back?.tangents) expect([...back.tangents]).toEqual([...shape().tangents!])
    else expect([format.id, text]).toEqual([format.id, expect.stringMatching(/shapes/)])
  }
})

test('they turn with the mesh, and are carried point by point', () => {
  const turn: Matrix = [0, 0, -1, 0, 0, 1, 0, 0, 1, 0, 0, 0, 0, 0, 0, 1]
  const mesh = sheet([shape()])
  const turned = transformMesh(mesh, multiplyMatrices(turn, scaled(7, 7, 7))).shapes[0]!
  // along X becomes along −Z; their length stays
  expect([...turned.tangents!].map((value) => Math.round(value * 1e9) / 1e9 + 0)).toEqual([0, -0.5, 0, 0, 0, -0.125]) // prettier-ignore
  const points = Int32Array.from({ length: 9 }, (_point, at) => 8 - at)
  const carried = carryShapes(sheet([]), mesh, { points } as never).shapes[0]!
  expect([...carried.points]).toEqual([5, 7])
  expect([...carried.tangents!]).toEqual([0.125, 0, 0, 0, -0.5, 0])
  // another turn of tangents is another shape
  const other = sheet([shape({ tangents: Float64Array.of(0, -0.5, 0, 0.25, 0, 0) })])
  expect(compareScenes(sceneOf([mesh]), sceneOf([other])).rows[0]!.cells.shapes!.state).toBe('changed')
  expect(fingerprintScene(sceneOf([other])).shapes).not.toBe(fingerprintScene(sceneOf([mesh])).shapes)
})
