import { expect, test } from 'vitest'
import { chanceOf } from './chance.ts'
import { isNearly, transformNormals } from './matrix.ts'

const diagonal = (x: number, y: number, z: number): number[] => [
  x,
  0,
  0,
  0,
  0,
  y,
  0,
  0,
  0,
  0,
  z,
  0,
  5,
  6,
  7,
  1,
]

test('another size and place leave normals as they are, to the last bit', () => {
  const chance = chanceOf(1)
  const normals = Float64Array.from({ length: 30 }, () => 3 * chance() - 1)
  for (const size of [0.01, 1, 39.37])
    expect(transformNormals(normals, diagonal(size, size, size))).toEqual(normals)
})

test('what makes one axis longer, mirrors or turns moves them, and they are of unit length', () => {
  const normals = Float64Array.of(2, 2, 0, 0, 0, 3)
  const half = Math.SQRT1_2
  const near = (matrix: number[], wanted: number[]): void => {
    const found = transformNormals(normals, matrix)
    wanted.forEach((value, at) => expect(found[at]).toBeCloseTo(value, 12))
  }
  // a plane that is twice as long along x leans less towards it
  near(diagonal(2, 1, 1), [1 / Math.hypot(1, 2), 2 / Math.hypot(1, 2), 0, 0, 0, 1])
  near(diagonal(1, 1, 2), [half, half, 0, 0, 0, 1])
  near(diagonal(1, 2, 1), [2 / Math.hypot(1, 2), 1 / Math.hypot(1, 2), 0, 0, 0, 1])
  near(diagonal(-1, -1, -1), [-half, -half, 0, 0, 0, -1])
  near([0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1], [-half, half, 0, 0, 0, 1])
  // every single entry beside the diagonal counts
  for (const at of [1, 2, 4, 6, 8, 9]) {
    const matrix = diagonal(1, 1, 1)
    matrix[at] = 0.5
    const slanted = transformNormals(Float64Array.of(1, 2, 3, 3, 1, 2), matrix)
    expect(slanted).not.toEqual(Float64Array.of(1, 2, 3, 3, 1, 2))
    expect(Math.hypot(slanted[0]!, slanted[1]!, slanted[2]!)).toBeCloseTo(1, 12)
  }
})

test('matrices are nearly alike where no entry differs by more, and no move by more than that may', () => {
  const one = diagonal(1, 2, 3)
  const other = (at: number, by: number): number[] =>
    one.map((value, entry) => (entry === at ? value + by : value))
  expect(isNearly(one, one, 0)).toBe(true)
  for (let at = 0; at < 16; at++)
    for (const sign of [1, -1]) {
      const isMove = at > 11
      expect([at, isNearly(one, other(at, 0.25 * sign), 0.25)]).toEqual([at, true])
      expect([at, isNearly(one, other(at, 0.375 * sign), 0.25)]).toEqual([at, false])
      expect([at, isNearly(one, other(at, 0.375 * sign), 0.25, 0.5)]).toEqual([at, isMove])
      expect([at, isNearly(one, other(at, 0.5 * sign), 0.5, 0.25)]).toEqual([at, !isMove])
    }
})
