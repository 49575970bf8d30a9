/** Charts are remembered by their faces: two that are taken for one would be laid over each other, and one would be lost. */
import { expect, test } from 'vitest'
import { howMany } from '../../../../tests/how-many.ts'
import { cubeOf, sceneOf } from '../../../../tests/solids.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { runStep } from '../../steps/run-steps.ts'
import { memoKey } from './join-charts.ts'

test('all pairs and triples of faces have keys of their own, whatever their order', () => {
  const keys = new Set<string>()
  let count = 0
  for (let a = 0; a < 40; a++)
    for (let b = a + 1; b < 40; b++) {
      keys.add(memoKey([a, b]))
      count++
      for (let c = b + 1; c < 40; c++) {
        keys.add(memoKey([a, b, c]))
        count++
      }
    }
  expect(keys.size).toBe(count)
  expect(memoKey([3, 1, 2])).toBe(memoKey([1, 2, 3]))
  expect(memoKey(Uint32Array.of(7, 5))).toBe(memoKey([5, 7]))
})

test('faces of long runs of numbers have, too', () => {
  const keys = new Set<string>()
  for (let from = 0; from < 3000; from++)
    keys.add(memoKey(Array.from({ length: 16 }, (_, at) => from + 7 * at)))
  expect(keys.size).toBe(3000)
})

test('a cube that is bent anyhow: each of its polygons gets UVs', () => {
  for (let seed = 0; seed < howMany(60, 1000); seed++) {
    const chance = chanceOf(seed)
    const cube = cubeOf()
    const bent = { ...cube, points: cube.points.map((value) => value + 0.02 * (chance() - 0.5)) }
    const cut = runStep(sceneOf([bent]), { step: 'triangulate', params: {} }).scene
    const { scene } = runStep(cut, { step: 'unwrap', params: { pack: chance() < 0.5, halve: chance() < 0.5, distortion: 2 + 20 * chance() } }) // prettier-ignore
    const [mesh] = scene.meshes
    expect(mesh!.uvSets[0]!.indices.includes(-1), `seed ${seed}`).toBe(false)
  }
})
