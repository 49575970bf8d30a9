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

test('long lists have the hash that they have word by word', () => {
  // the same mixing in its plainest form, from the published one
  const plainly = (words: readonly number[]): string => {
    let lanes = [0x243f6a88, 0x85a308d3, 0x13198a2e, 0x03707344]
    for (const value of [...words, ...Array.from({ length: 8 }, () => 0x5bd1e995)]) {
      const k = Math.imul(value, 0xcc9e2d51)
      const mixed = lanes[0]! ^ Math.imul((k << 15) | (k >>> 17), 0x1b873593)
      const [, b, c, d] = lanes as [number, number, number, number]
      const last = Math.imul((mixed << 13) | (mixed >>> 19), 5) + 0xe6546b64 + Math.imul(b, 0x9e3779b1)
      lanes = [b, c, d, last | 0]
    }
    return lanes
      .map((lane) => {
        let h = Math.imul(lane ^ (lane >>> 16), 0x85ebca6b)
        h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
        return ((h ^ (h >>> 16)) >>> 0).toString(16).padStart(8, '0')
      })
      .join('')
  }
  for (let length = 0; length < 20; length++) {
    const whole = Uint32Array.from({ length }, (_value, at) => Math.imul(at + 1, 0x9e3779b1))
    expect(createContentHash().integer(7).numbers(whole).digest()).toBe(plainly([7, length, ...whole]))
    const doubles = Float64Array.from({ length }, (_value, at) => (at % 3 ? Math.sin(at) : -0))
    const words = new Uint32Array(doubles.map((value) => value + 0).buffer)
    expect(createContentHash().numbers(doubles).integer(7).digest()).toBe(plainly([length, ...words, 7]))
  }
})
