import { expect, test } from 'vitest'
import { gridOf } from '../../../../tests/solids.ts'
import { howMany } from '../../../../tests/how-many.ts'
import { heldAll } from '../../../../tests/file-returns/hold-return.ts'
import { anyReturn } from '../../../../tests/file-returns/make-return.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { matchPositions } from './match-positions.ts'
import { roundedPositions } from './rounded-positions.ts'

const REACH = 1e-4
const master = gridOf(12, 9, {}, (x, z) => 0.3 * Math.sin(x) + 0.2 * Math.cos(z))
/** Every coordinate off by up to so much. */
const off = (by: number): Float64Array => {
  const chance = chanceOf(3)
  return master.points.map((value) => value + by * (2 * chance() - 1))
}
const pairsOf = (points: Float64Array): Int32Array => matchPositions(master.points, points, REACH)
const allOf = (pairs: Int32Array): boolean => pairs.every((other, point) => other === point)

test('what a few digits moved is found where it lay', () => {
  const returned = { ...master, points: off(1.2 * REACH) }
  const strict = pairsOf(returned.points)
  expect(allOf(strict)).toBe(false)
  expect(strict.some((other) => other >= 0)).toBe(true)
  expect(allOf(roundedPositions(master, returned, strict, REACH))).toBe(true)
})

test('what was moved farther, or nearly all of it, is left to other evidence', () => {
  for (const points of [off(60 * REACH), off(1.2 * REACH).map((value, at) => value + (at < 150 ? 5 : 0))]) {
    const strict = pairsOf(points)
    expect(roundedPositions(master, { ...master, points }, strict, REACH)).toBe(strict)
  }
  // and what lies there to the last digits has nothing missing
  const strict = pairsOf(master.points)
  expect(roundedPositions(master, master, strict, REACH)).toBe(strict)
})

test('cards that lost polygons and were mirrored, in four digits', () => {
  const seeds = [4197, ...Array.from({ length: howMany(0, 300) }, (_seed, at) => 50_000 + at)]
  const { faults } = heldAll(seeds.map((seed) => [String(seed), anyReturn(seed)] as const))
  expect(faults.length).toBeLessThan(Math.max(1, seeds.length * 0.01))
})
