import { expect, test } from 'vitest'
import { createContentHash } from './hash.ts'

const of = (...values: number[]): string => createContentHash().numbers(Float64Array.from(values)).digest()

test('numbers that are the same have the same hash, and others another', () => {
  expect(of(1, -0, 2)).toBe(of(1, 0, 2))
  expect(of(-0)).toBe(of(0))
  const others = [
    of(0),
    of(0, 0),
    of(5e-324),
    of(-5e-324),
    of(1),
    of(-1),
    of(NaN),
    of(Infinity),
    of(-Infinity),
    of(1, 2),
    of(2, 1),
  ]
  expect(new Set(others).size).toBe(others.length)
  // what looks like it in whole numbers is another one
  const whole = (...values: number[]): string =>
    createContentHash().numbers(Uint32Array.from(values)).digest()
  expect(whole(0, 0x80000000)).not.toBe(whole(0, 0))
})
