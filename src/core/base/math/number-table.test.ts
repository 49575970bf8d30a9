import { expect, test } from 'vitest'
import { chanceOf } from './chance.ts'
import { createNumberTable } from './number-table.ts'

test('what a Map would hold, however many keys come, whatever their size', () => {
  for (const expected of [0, 10, 5000]) {
    const chance = chanceOf(expected + 1)
    const table = createNumberTable(expected)
    const map = new Map<number, number>()
    for (let round = 0; round < 4000; round++) {
      const range = [40, 2 ** 31, 2 ** 52][round % 3]!
      const key = Math.floor((chance() - 0.5) * range)
      const value = Math.floor(chance() * 1000) - 500
      expect(table.get(key)).toBe(map.get(key))
      expect(table.has(key)).toBe(map.has(key))
      table.set(key, value)
      map.set(key, value)
    }
    expect(table.size()).toBe(map.size)
    const seen = new Map<number, number>()
    table.forEach((value, key) => seen.set(key, value))
    expect([...seen].sort((a, b) => a[0] - b[0])).toEqual([...map].sort((a, b) => a[0] - b[0]))
  }
})

test('keys that differ in their upper half alone are told apart', () => {
  const table = createNumberTable()
  for (let at = 0; at < 1000; at++) table.set(at * 2 ** 32 + 7, at)
  for (let at = 0; at < 1000; at++) expect(table.get(at * 2 ** 32 + 7)).toBe(at)
  expect(table.get(7 + 1000 * 2 ** 32)).toBeUndefined()
  expect(table.has(0)).toBe(false)
})
