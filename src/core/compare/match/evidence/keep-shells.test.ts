/** What hangs together when it comes back was of one piece, unless whole pieces were joined. */
import { expect, test } from 'vitest'
import { gridOf, meshOf, type Point } from '../../../../../tests/solids.ts'
import type { Mesh } from '../../../scene/mesh.ts'
import { neighboursOf } from '../neighbours.ts'
import { keepShells } from './keep-shells.ts'

const sheet = gridOf(7, 5)
const own = sheet.points.length / 3
/** Two sheets side by side in one mesh, with polygons between them where they are joined. */
function twoSheets(joined: boolean): Mesh {
  const points: Point[] = []
  const faces: number[][] = []
  for (const part of [0, 1]) {
    for (let at = 0; at < own; at++)
      points.push([sheet.points[3 * at]! + 20 * part, sheet.points[3 * at + 1]!, sheet.points[3 * at + 2]!])
    for (let face = 0; face + 1 < sheet.faceOffsets.length; face++)
      faces.push(
        [...sheet.faceVertices.subarray(sheet.faceOffsets[face]!, sheet.faceOffsets[face + 1]!)].map(
          (point) => point + own * part,
        ),
      )
  }
  if (joined) faces.push([0, 1, own])
  return meshOf(points, faces)
}
const kept = (returned: Mesh, pairs: number[]): { pairs: number[]; taken: number[] } => {
  const numbers = Int32Array.from(pairs)
  const taken = new Uint8Array(2 * own)
  for (const pair of pairs) if (pair >= 0) taken[pair] = 1
  keepShells(numbers, taken, neighboursOf(twoSheets(false)), neighboursOf(returned))
  return { pairs: [...numbers], taken: [...taken] }
}
const same = Array.from({ length: 2 * own }, (_point, at) => at)
const takenBy = (pairs: readonly number[]): number[] => same.map((point) => Number(pairs.includes(point)))

test('two that a tool joined are there as a whole: all stays, though one point has no counterpart', () => {
  for (const missing of [0, 3, own + 2, 2 * own - 1]) {
    const pairs = same.map((point) => (point === missing ? -1 : point))
    expect(kept(twoSheets(true), pairs)).toEqual({ pairs, taken: takenBy(pairs) })
  }
  expect(kept(twoSheets(true), same).pairs).toEqual(same)
})

test('a few points of one sheet that are said to lie on the other are let go, and their places are free', () => {
  const pairs = same.map((point) =>
    point === 1 || point === 2 ? own + point : point === own + 1 || point === own + 2 ? -1 : point,
  )
  const wanted = pairs.map((pair, point) => (point === 1 || point === 2 ? -1 : pair))
  expect(kept(twoSheets(false), pairs)).toEqual({ pairs: wanted, taken: takenBy(wanted) })
})

test('half of two sheets in one that came back: neither is believed', () => {
  const pairs = same.map((point) =>
    point < own / 2 || (point >= own && point < 1.5 * own) ? point % own : -1,
  )
  const distinct = pairs.map((pair, point) => (point >= own && pair >= 0 ? pair + Math.floor(own / 2) : pair))
  expect(kept(twoSheets(false), distinct).pairs.every((pair) => pair < 0)).toBe(true)
})
