import { describe, expect, test } from 'vitest'
import { chanceOf } from '../../base/math/chance.ts'
import { SurfaceMoments } from './moments.ts'

/** The six sides of a box, two triangles each; 3 x 8 points. */
const SIDES = [[0, 1, 3, 2], [4, 6, 7, 5], [0, 4, 5, 1], [2, 3, 7, 6], [0, 2, 6, 4], [1, 5, 7, 3]] // prettier-ignore
const corners = ([a, b, c]: readonly number[]): number[] =>
  Array.from({ length: 8 }, (_corner, at) => [a! * (at & 4 ? 1 : -1), b! * (at & 2 ? 1 : -1), c! * (at & 1 ? 1 : -1)]).flat() // prettier-ignore
const gathered = (points: Float64Array): SurfaceMoments => {
  const moments = new SurfaceMoments()
  for (const [a, b, c, d] of SIDES) {
    moments.addTriangle(points, a!, b!, c!)
    moments.addTriangle(points, a!, c!, d!)
  }
  return moments
}

describe('a box of half sides a, b, c: area and mean squares in closed form', () => {
  const [a, b, c] = [3, 2, 1]
  const area = 8 * (a * b + b * c + c * a)
  // over the two sides across an axis its square, over the other four a third of it
  const square = (own: number, one: number, two: number): number =>
    (8 * one * two * own ** 2 + (8 * own * (one + two) * own ** 2) / 3) / area
  const spreads = [square(a, b, c), square(b, c, a), square(c, a, b)].map(Math.sqrt)

  test('along the axes', () => {
    const moments = gathered(Float64Array.from(corners([a, b, c])))
    expect(moments.area).toBeCloseTo(area, 10)
    const found = moments.axes()!
    found.middle.forEach((value) => expect(value).toBeCloseTo(0, 12))
    found.spread.forEach((value, at) => expect(value).toBeCloseTo(spreads[at]!, 10))
  })

  test('turned and moved anyhow: its axes turn along', () => {
    const chance = chanceOf(5)
    for (let run = 0; run < 20; run++) {
      const angle = chance() * 6
      const [x, y] = [Math.cos(angle), Math.sin(angle)]
      const move = [chance() * 50, chance() * 50 - 25, chance() * 9]
      const points = Float64Array.from(corners([a, b, c]))
      for (let at = 0; at < points.length; at += 3) {
        const [px, py] = [points[at]!, points[at + 1]!]
        points[at] = x * px - y * py + move[0]!
        points[at + 1] = y * px + x * py + move[1]!
        points[at + 2]! += move[2]!
      }
      const found = gathered(points).axes()!
      found.middle.forEach((value, axis) => expect(value).toBeCloseTo(move[axis]!, 8))
      found.spread.forEach((value, at) => expect(value).toBeCloseTo(spreads[at]!, 8))
      expect(Math.abs(found.axes[0]! * x + found.axes[1]! * y)).toBeCloseTo(1, 8)
      expect(Math.abs(found.axes[8]!)).toBeCloseTo(1, 8)
    }
  })
})

test('what has no area says nothing', () => {
  const moments = new SurfaceMoments()
  moments.addTriangle(Float64Array.from([0, 0, 0, 1, 1, 1, 2, 2, 2]), 0, 1, 2)
  moments.addTriangle(Float64Array.from([0, 0, 0, NaN, 1, 1, 2, 0, 2]), 0, 1, 2)
  expect(moments.axes()).toBeNull()
})
