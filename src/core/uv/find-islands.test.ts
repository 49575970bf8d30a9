import { expect, test } from 'vitest'
import { readText } from '../../../tests/meshes.ts'
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
