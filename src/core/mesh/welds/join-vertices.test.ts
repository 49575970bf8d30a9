/** Points that a file has split are one again; shells that only touch are not. */
import { expect, test } from 'vitest'
import { joinVertices } from './join-vertices.ts'

/** Every corner a vertex of its own, as files have that split at hard edges. */
function exploded(points: readonly (readonly number[])[], faces: readonly (readonly number[])[]) {
  const positions = Float64Array.from(faces.flatMap((face) => face.flatMap((point) => points[point]!)))
  const sizes = faces.map((face) => face.length)
  const vertices = Uint32Array.from(faces.flat().keys())
  return joinVertices(positions, sizes, vertices)
}
const box = (x: number, y = 0, z = 0): number[][] =>
  [0, 1, 2, 3, 4, 5, 6, 7].map((k) => [x + (k & 1), y + ((k >> 1) & 1), z + ((k >> 2) & 1)])
const BOX = [
  [0, 2, 3, 1],
  [4, 5, 7, 6],
  [0, 1, 5, 4],
  [2, 6, 7, 3],
  [0, 4, 6, 2],
  [1, 3, 7, 5],
]
const shifted = (faces: readonly (readonly number[])[], by: number): number[][] =>
  faces.map((face) => face.map((point) => point + by))

test('a box of six loose squares has eight points', () => {
  expect(exploded(box(0), BOX).pointCount).toBe(8)
})
test('two boxes that stand side by side stay two, though four of their corners lie on each other', () => {
  const { pointCount, vertexPoints } = exploded([...box(0), ...box(1)], [...BOX, ...shifted(BOX, 8)])
  expect(pointCount).toBe(16)
  const first = new Set(vertexPoints.subarray(0, 24))
  expect([...vertexPoints.subarray(24)].some((point) => first.has(point))).toBe(false)
})
test('four boxes round one edge stay four', () => {
  const four = [box(0), box(1), box(0, 1), box(1, 1)]
  const { pointCount } = exploded(
    four.flat(),
    four.flatMap((_points, at) => shifted(BOX, 8 * at)),
  )
  expect(pointCount).toBe(32)
})
test('two squares that meet in one corner stay apart there', () => {
  const points = [[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0], [2, 1, 0], [2, 2, 0], [1, 2, 0]] // prettier-ignore
  expect(exploded(points, [[0, 1, 2, 3], [2, 4, 5, 6]]).pointCount).toBe(8) // prettier-ignore
})
test('a square that lies turned against its neighbour is joined all the same', () => {
  const points = [[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0], [2, 0, 0], [2, 1, 0]] // prettier-ignore
  expect(exploded(points, [[0, 1, 2, 3], [1, 2, 5, 4]]).pointCount).toBe(6) // prettier-ignore
})
test('a sheet that is drawn once more from behind is two sheets', () => {
  const points = [[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0], [2, 0, 0], [2, 1, 0]] // prettier-ignore
  const front = [[0, 1, 2, 3], [1, 4, 5, 2]] // prettier-ignore
  const { vertexPoints, pointCount } = exploded(points, [
    ...front,
    ...front.map((face) => [...face].reverse()),
  ])
  expect(pointCount).toBe(12)
  expect(vertexPoints[1]).toBe(vertexPoints[4])
  expect(Math.max(...vertexPoints.subarray(0, 8))).toBeLessThan(Math.min(...vertexPoints.subarray(8)))
})
test('a file that shares its vertices keeps their numbers', () => {
  const positions = Float64Array.from(box(0).flat())
  const { vertexPoints, pointCount } = joinVertices(
    positions,
    BOX.map((face) => face.length),
    Uint32Array.from(BOX.flat()),
  )
  expect([...vertexPoints]).toEqual([0, 1, 2, 3, 4, 5, 6, 7])
  expect(pointCount).toBe(8)
})
test('a thousand polygons on one place are read in no time', () => {
  const points = [[0, 0, 0], [1, 0, 0], [0, 1, 0]] // prettier-ignore
  expect(
    exploded(
      points,
      Array.from({ length: 20000 }, () => [0, 1, 2]),
    ).pointCount,
  ).toBeLessThan(60000)
})

test('what is nowhere is joined with nothing, and a million of such in no time', () => {
  const count = 1_000_000
  const positions = new Float64Array(3 * count).fill(NaN)
  positions.set([0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0, -1, 0])
  const vertices = Uint32Array.from({ length: count - (count % 3) }, (_vertex, at) => at)
  const { pointCount, vertexPoints } = joinVertices(
    positions,
    new Uint32Array(vertices.length / 3).fill(3),
    vertices,
  )
  // two triangles of the first six meet along a side
  expect(pointCount).toBe(count - 2)
  expect([...vertexPoints.subarray(0, 6)]).toEqual([0, 1, 2, 1, 0, 3])
})
