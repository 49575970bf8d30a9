import { describe, expect, test } from 'vitest'
import { chanceOf } from './chance.ts'
import { createHashGrid, farthestFrom0 } from './hash-grid.ts'

/** All points within reach of one, as every search in a grid looks for them. */
function within(
  points: readonly number[],
  cell: number,
  at: readonly [number, number, number],
  reach: number,
) {
  const grid = createHashGrid(points.length / 3, cell, farthestFrom0(points))
  for (let point = 0; point < points.length / 3; point++)
    grid.insert(point, points[3 * point]!, points[3 * point + 1]!, points[3 * point + 2]!)
  const found = new Set<number>()
  const [low, high] = [-reach, reach].map((by) => at.map((value) => grid.cellOf(value + by)))
  for (let x = low![0]!; x <= high![0]!; x++)
    for (let y = low![1]!; y <= high![1]!; y++)
      for (let z = low![2]!; z <= high![2]!; z++)
        for (let point = grid.heads[grid.slotOf(x, y, z)]!; point >= 0; point = grid.next[point]!)
          if (Math.hypot(...at.map((value, axis) => points[3 * point + axis]! - value)) <= reach)
            found.add(point)
  return [...found].sort((a, b) => a - b)
}

test('what is near is found, wherever it lies', () => {
  const chance = chanceOf(3)
  for (const [size, reach] of [
    [1, 0.1],
    [1e12, 1e11],
    [1e-200, 1e-201],
    [1e300, 1e299],
  ] as const) {
    const points = Array.from({ length: 300 }, () => (chance() - 0.5) * size)
    for (let at = 0; at < 100; at += 7) {
      const middle = [points[3 * at]!, points[3 * at + 1]!, points[3 * at + 2]!] as const
      const near = Array.from({ length: 100 }, (_point, other) => other).filter(
        (other) => Math.hypot(...middle.map((value, axis) => points[3 * other + axis]! - value)) <= reach,
      )
      expect(within(points, reach, middle, reach)).toEqual(near)
    }
  }
})

describe('a reach that is nothing beside where it is looked for ends, and finds what lies on the spot', () => {
  test.each([1e-17, 1e-200, Number.MIN_VALUE])('%d', (reach) => {
    const points = [1000, 0, 0, 1000, reach / 2, 0, 1000, 0.5, 0, -7, 1, 1]
    expect(within(points, reach, [1000, 0, 0], reach)).toEqual([0, 1])
  })
  test('looked for far beyond all of them, and where nothing is a number', () => {
    const points = [0, 0, 0, 1, 1, 1]
    for (const far of [1e30, 1e300, Infinity, -Infinity, NaN])
      expect(within(points, 1e-5, [far, 0, 0], 1e-5)).toEqual([])
  })
})

test('the farthest coordinate is the farthest finite one', () => {
  expect(farthestFrom0([1, -5, 3, Infinity, NaN])).toBe(5)
  expect(farthestFrom0([])).toBe(0)
})
