import { describe, expect, test } from 'vitest'
import { gridOf } from '../../../../../tests/solids.ts'
import { pointToleranceOf, POINT_TOLERANCE } from './compare-points.ts'

const sheet = gridOf(3, 4)

describe('how far a point may come back from where it was', () => {
  test('a share of the part, near where numbers count from', () => {
    const tolerance = pointToleranceOf(sheet)
    expect(tolerance(0, 0, 0)).toBeCloseTo(5 * POINT_TOLERANCE, 12)
    expect(tolerance(1, 0, 1)).toBe(tolerance(0, 0, 0))
  })
  test('as much as 32 bits round it, far from there', () => {
    const tolerance = pointToleranceOf(sheet)
    // neighbours of a 32-bit number
    const next = new Float32Array(new Uint32Array([new Uint32Array(Float32Array.of(1000).buffer)[0]! + 2]).buffer)[0]! // prettier-ignore
    expect(tolerance(1000, 0, 0)).toBeGreaterThan(next - 1000)
    expect(tolerance(1000, 0, 0)).toBeLessThan(3 * (next - 1000))
    // a part that stands far off in a file that knows no parts
    expect(
      pointToleranceOf(sheet, { countedFrom: [-1000, 0, 0], placedOtherwise: false })(0, 0, 0),
    ).toBeCloseTo(tolerance(1000, 0, 0), 12)
  })
  test('a point astray that no polygon has makes nothing of the part larger', () => {
    const points = Float64Array.from([...sheet.points, 1e9, 1e9, 1e9])
    expect(pointToleranceOf({ ...sheet, points })(1, 1, 1)).toBe(pointToleranceOf(sheet)(1, 1, 1))
  })
  test.each([NaN, Infinity, -Infinity])('a number that is none (%s) lets nothing pass', (broken) => {
    const points = sheet.points.slice()
    points[4] = broken
    expect(pointToleranceOf({ ...sheet, points })(1, 0, 1)).toBeLessThan(1e-5)
    expect(
      pointToleranceOf(sheet, { countedFrom: [broken, 0, 0], placedOtherwise: false })(1, 0, 1),
    ).toBeLessThan(1e-5)
    expect(pointToleranceOf(sheet)(broken, 0, 1)).toBeLessThan(1e-5)
  })
})
