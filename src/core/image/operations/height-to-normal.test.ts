/** Against closed forms, and the test of direction that is checked elsewhere against maps from outside. */
import { describe, expect, test } from 'vitest'
import type { Pixels } from '../pixels.ts'
import { heightToNormal } from './height-to-normal.ts'
import { normalFacts } from './normal-direction.ts'

const fieldOf = (side: number, height: (column: number, row: number) => number): Pixels => ({
  width: side,
  height: side,
  channels: 1,
  bits: 32,
  values: Float32Array.from({ length: side * side }, (_, at) => height(at % side, Math.floor(at / side))),
})

describe('heights as normals', () => {
  test('a plane has one normal everywhere, its borders too', () => {
    // rises by 0.3 a pixel to the right and by 0.4 a pixel upwards
    const { values } = heightToNormal(
      fieldOf(9, (column, row) => 0.3 * column - 0.4 * row),
      1,
    )
    const length = Math.hypot(0.3, 0.4, 1)
    const expected = [-0.3, -0.4, 1].map((part) => Math.round(((part / length) * 0.5 + 0.5) * 65535))
    for (let at = 0; at < values.length; at++)
      expect(Math.abs(values[at]! - expected[at % 3]!)).toBeLessThanOrEqual(1)
  })
  test('waves as their derivative says, within what differences of pixels can', () => {
    const wave = 0.05
    const { values, width } = heightToNormal(
      fieldOf(64, (column, row) => Math.sin(wave * column) * Math.cos(wave * row)),
      4,
    )
    for (const [column, row] of [
      [10, 20],
      [31, 40],
      [50, 7],
    ] as const) {
      const dx = 4 * wave * Math.cos(wave * column) * Math.cos(wave * row)
      const dv = 4 * wave * Math.sin(wave * column) * Math.sin(wave * row)
      const length = Math.hypot(dx, dv, 1)
      const at = (row * width + column) * 3
      expect(values[at]! / 65535).toBeCloseTo((-dx / length) * 0.5 + 0.5, 3)
      expect(values[at + 1]! / 65535).toBeCloseTo((-dv / length) * 0.5 + 0.5, 3)
    }
  })
  test('green points up by the test of direction, and flat heights give flat normals', () => {
    const bump = fieldOf(
      64,
      (column, row) =>
        12 * Math.exp(-((column - 30) ** 2 + (row - 34) ** 2 + (column - 30) * (row - 34)) / 160),
    )
    expect(normalFacts(heightToNormal(bump, 1))).toMatchObject({ looksLikeNormals: true, direction: 'up' })
    const flat = heightToNormal(
      { width: 3, height: 1, channels: 1, bits: 8, values: Uint8Array.of(7, 7, 7) },
      5,
    )
    expect([...flat.values]).toEqual([128, 128, 255, 128, 128, 255, 128, 128, 255])
  })
})
