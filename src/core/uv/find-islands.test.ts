import { expect, test } from 'vitest'
import { readText } from '../../../tests/meshes.ts'
import { chanceOf } from '../base/math/chance.ts'
import { EMPTY_MESH, type Mesh } from '../scene/mesh.ts'
import { findIslands } from './find-islands.ts'

const islands = (text: string) => {
  const mesh = readText(text).scene.meshes[0]!
  const found = findIslands(mesh, mesh.uvSets[0]!)
  return [found.islandCount, [...found.faceIslands]]
}
const STRIP =
  'v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nv 2 0 0\nv 2 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nvt 2 0\nvt 2 1\n'

test('faces that share UVs are one island, a seam parts them', () => {
  expect(islands(STRIP + 'f 1/1 2/2 3/3 4/4\nf 2/2 5/5 6/6 3/3\n')).toEqual([1, [0, 0]])
  expect(islands(STRIP + 'f 1/1 2/2 3/3 4/4\nf 2/1 5/5 6/6 3/4\n')).toEqual([2, [0, 1]])
})

test('a UV written for every corner splits nothing; the same place at other points joins nothing', () => {
  const each = STRIP + 'vt 1 0\nvt 1 1\nf 1/1 2/2 3/3 4/4\nf 2/7 5/5 6/6 3/8\n'
  expect(islands(each)).toEqual([1, [0, 0]])
  const stacked = STRIP + 'v 5 0 0\nv 6 0 0\nv 6 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nf 1/1 2/2 3/3\nf 7/7 8/8 9/9\n'
  expect(islands(stacked)).toEqual([2, [0, 1]])
})

test('a face that is not wholly mapped is in no island', () => {
  expect(islands(STRIP + 'f 1/1 2/2 3/3 4/4\nf 2/2 5/5 6 3/3\n')).toEqual([1, [0, -1]])
})

test('however many UVs a point has, and in whatever order: as by comparing all corners with each other', () => {
  for (let seed = 1; seed <= 24; seed++) {
    const chance = chanceOf(seed)
    const pick = (count: number): number => Math.floor(chance() * count)
    // few points and many UVs, or as many of both; doubles and -0 among the values
    const [points, uvs, faces] = seed % 2 ? [3, 90, 120] : [30, 40, 60]
    const some = [0, -0, 0.25, 0.5, 1, NaN]
    const values = Float64Array.from({ length: 2 * uvs }, () => (seed % 3 ? chance() : some[pick(6)]!))
    const mesh: Mesh = {
      ...EMPTY_MESH,
      points: new Float64Array(3 * points),
      faceOffsets: Uint32Array.from({ length: faces + 1 }, (_face, at) => 3 * at),
      faceVertices: Uint32Array.from({ length: 3 * faces }, () => pick(points)),
    }
    const indices = Int32Array.from({ length: 3 * faces }, () => pick(uvs + 1) - 1)
    const same = (a: number, b: number): boolean =>
      mesh.faceVertices[a] === mesh.faceVertices[b] &&
      indices[a]! >= 0 &&
      indices[b]! >= 0 &&
      (indices[a] === indices[b] ||
        [0, 1].every((axis) => values[2 * indices[a]! + axis] === values[2 * indices[b]! + axis]))
    const island = Array.from({ length: faces }, (_face, at) => at)
    for (let a = 0; a < 3 * faces; a++)
      for (let b = 0; b < a; b++) {
        const [low, high] = [island[Math.floor(b / 3)]!, island[Math.floor(a / 3)]!].sort((x, y) => x - y)
        if (same(a, b) && low !== high) island.forEach((own, at) => own === high && (island[at] = low!))
      }
    const isMapped = (face: number): boolean => [0, 1, 2].every((k) => indices[3 * face + k]! >= 0)
    const numbers = new Map<number, number>()
    const expected = island.map((own, face) => {
      if (!isMapped(face)) return -1
      if (!numbers.has(own)) numbers.set(own, numbers.size)
      return numbers.get(own)!
    })
    const found = findIslands(mesh, { name: 'st', depths: null, values, indices })
    expect([...found.faceIslands], `seed ${seed}`).toEqual(expected)
    expect(found.islandCount).toBe(numbers.size)
  }
})

test('a point with a hundred thousand UVs is no product of their number', () => {
  const faces = 100_000
  const mesh: Mesh = {
    ...EMPTY_MESH,
    points: new Float64Array(3 * (faces + 2)),
    faceOffsets: Uint32Array.from({ length: faces + 1 }, (_face, at) => 3 * at),
    faceVertices: Uint32Array.from({ length: 3 * faces }, (_corner, at) =>
      at % 3 === 0 ? 0 : Math.floor(at / 3) + (at % 3),
    ),
  }
  const values = Float64Array.from({ length: 6 * faces }, (_value, at) => at)
  const indices = Int32Array.from({ length: 3 * faces }, (_corner, at) => at)
  expect(findIslands(mesh, { name: 'st', depths: null, values, indices }).islandCount).toBe(faces)
})
