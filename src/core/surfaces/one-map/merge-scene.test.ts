import { expect, test } from 'vitest'
import { gridOf, materialOf, sceneOf, uvsOf } from '../../../../tests/solids.ts'
import type { DrawnSurface } from './drawn-surface.ts'
import { mergeScene } from './merge-scene.ts'

const laid = gridOf(3, 1)
const uvs = uvsOf(Array.from(laid.faceVertices, (point) => [point / 8, point / 8] as const))
const scene = {
  ...sceneOf([
    { ...laid, uvSets: [uvs], faceMaterials: Int32Array.of(0, 1, -1) },
    { ...laid, name: 'bare', faceMaterials: Int32Array.of(2, -1, 2) },
    { ...laid, name: 'plain' },
  ]),
  materials: ['paint', 'glass', 'wood'].map((name) => materialOf(name)),
}
const drawn = (...faces: (readonly number[] | null)[]) =>
  ({ set: uvs.name, drawnFaces: faces.map((own) => own && Uint8Array.from(own)) }) as unknown as DrawnSurface

test('what is not drawn keeps its material, the first as well; what had none has none', () => {
  const { scene: made, kept } = mergeScene(scene, drawn([0, 1, 0], null, null), 'one')
  expect(kept).toEqual([0, 2])
  expect([...made.meshes[0]!.faceMaterials!]).toEqual([1, 0, -1])
  expect([...made.meshes[1]!.faceMaterials!]).toEqual([2, -1, 2])
  expect(made.meshes[2]!.faceMaterials).toBeNull()
})

test('what is drawn whole has the new one alone', () => {
  const { scene: made, kept, isFirst } = mergeScene(scene, drawn([1, 1, 1], null, null), 'one')
  expect(kept).toEqual([2])
  expect(isFirst).toBe(true)
  expect([...made.meshes[0]!.faceMaterials!]).toEqual([0, 0, 0])
  expect(made.meshes[0]!.uvSets.map(({ name }) => name)).toEqual([uvs.name])
})
