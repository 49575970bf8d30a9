import { describe, expect, test } from 'vitest'
import { changePixelBits } from './change-bits.ts'
import type { Pixels } from '../pixels.ts'

const SIDE = 64
/** 16 bits of one grey that lies between two steps of 8. */
const grey = (value: number): Pixels =>
  ({
    width: SIDE,
    height: SIDE,
    channels: 1,
    bits: 16,
    values: new Uint16Array(SIDE * SIDE).fill(value),
  }) as Pixels
const mean = (values: ArrayLike<number>): number =>
  Array.from(values).reduce((sum, value) => sum + value, 0) / values.length

describe('fewer bits', () => {
  test('without noise each value is the nearest step', () => {
    const { values, bits } = changePixelBits(grey(257 * 100 + 70), 8, false)
    expect(bits).toBe(8)
    expect(new Set(values)).toEqual(new Set([100]))
  })
  test('with noise what lies between two steps stays in the mean, no more than a step away', () => {
    const { values } = changePixelBits(grey(257 * 100 + 128), 8, true)
    expect(mean(values)).toBeGreaterThan(100.4)
    expect(mean(values)).toBeLessThan(100.6)
    expect(Math.min(...values)).toBeGreaterThanOrEqual(99)
    expect(Math.max(...values)).toBeLessThanOrEqual(102)
    expect(new Set(values).size).toBeGreaterThan(1)
  })
  test('rows one by one have the noise of the whole', () => {
    const whole = changePixelBits(grey(30000), 8, true).values
    const row = { ...grey(30000), height: 1, values: new Uint16Array(SIDE).fill(30000) } as Pixels
    for (const at of [0, 1, 17])
      expect([...changePixelBits(row, 8, true, at * SIDE).values]).toEqual([
        ...whole.slice(at * SIDE, (at + 1) * SIDE),
      ])
  })
  test('black and white stay, and more bits have nothing between', () => {
    expect(new Set(changePixelBits(grey(0), 8, true).values)).toEqual(new Set([0]))
    expect(new Set(changePixelBits(grey(65535), 8, true).values)).toEqual(new Set([255]))
    const small = { ...grey(0), bits: 8, values: new Uint8Array(SIDE * SIDE).fill(77) } as Pixels
    expect(new Set(changePixelBits(small, 16, true).values)).toEqual(new Set([77 * 257]))
  })
})
