import { expect, test } from 'vitest'
import { chanceOf } from '../../../base/math/chance.ts'
import type { UvSet } from '../../../scene/mesh.ts'
import { stepsOf, uvKey } from './uv-keys.ts'

const setOf = (values: readonly number[]): UvSet => ({
  name: 'uv',
  values: Float64Array.from(values),
  indices: new Int32Array(0),
  depths: null,
})
const chance = chanceOf(11)
const random = Array.from({ length: 400 }, () => 3 * chance() - 1)
const rounded = (digits: number): number[] => random.map((value) => Number(value.toFixed(digits)))

test('what was rounded is told apart by as many steps as it has digits', () => {
  for (const digits of [3, 4, 5]) expect(stepsOf(setOf(random), setOf(rounded(digits)))).toBe(10 ** digits)
  expect(stepsOf(setOf(random), setOf(rounded(6)))).toBe(1e6)
  expect(stepsOf(setOf(random), setOf(rounded(2)))).toBe(1e3)
  // single precision has the same digits
  expect(stepsOf(setOf(random), setOf([...Float32Array.from(rounded(4))]))).toBe(1e4)
})

test('a layout that has no more digits itself was not rounded, and few values say nothing', () => {
  expect(stepsOf(setOf(rounded(4)), setOf(rounded(4)))).toBe(1e6)
  expect(stepsOf(setOf(rounded(3)), setOf(random))).toBe(1e6)
  expect(stepsOf(setOf(random), setOf(rounded(4).slice(0, 15)))).toBe(1e6)
  expect(stepsOf(setOf(random), setOf(rounded(4).slice(0, 16)))).toBe(1e4)
  // one value that has more of them is enough
  expect(stepsOf(setOf(random), setOf([...rounded(4), 0.123456]))).toBe(1e6)
})

test('UVs are one where they are the same to that many steps', () => {
  const [own, other] = [setOf([0.123456, 0.654321]), setOf([0.1235, 0.6543])]
  expect(uvKey(own, 0)).not.toBe(uvKey(other, 0))
  expect(uvKey(own, 0, 1e4)).toBe(uvKey(other, 0, 1e4))
  expect(uvKey(own, 0, 1e4)).not.toBe(uvKey(setOf([0.1236, 0.6543]), 0, 1e4))
  expect(uvKey(own, 0, 1e4)).not.toBe(uvKey(setOf([0.1235, 0.6544]), 0, 1e4))
  expect(uvKey(setOf([0.5, 61]), 0)).toBeNull()
  expect(uvKey(setOf([NaN, 0.5]), 0)).toBeNull()
})
