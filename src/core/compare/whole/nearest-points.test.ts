/** The nearest point of a cloud, against looking at all of them. */
import { expect, test } from 'vitest'
import { howMany } from '../../../../tests/how-many.ts'
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { nearestIn } from './nearest-points.ts'

test('as by looking at all, as far as a cell reaches; what is farther is near none, or what it is', () => {
  let [found, none] = [0, 0]
  for (let seed = 0; seed < howMany(40, 2000); seed++) {
    const chance = chanceOf(seed)
    const flat = chance() < 0.3 ? 0 : 1
    const points = Float64Array.from({ length: 3 * (1 + Math.floor(chance() * 200)) }, (_value, at) => (at % 3 === 2 ? flat : 1) * (chance() * 8 - 4)) // prettier-ignore
    const broken = Float64Array.from([...points, NaN, 0, 0, 0, Infinity, 0])
    const box = boundsOf(points)!
    const cells = 2 + Math.floor(chance() * 12)
    const size = diagonalOf(box) / cells
    const near = nearestIn(chance() < 0.5 ? points : broken, box, cells)
    for (let look = 0; look < 20; look++) {
      const place = [0, 1, 2].map(() => chance() * 10 - 5) as [number, number, number]
      let [point, away] = [-1, Infinity]
      for (let at = 0; at < points.length / 3; at++) {
        const off = Math.hypot(...place.map((value, axis) => value - points[3 * at + axis]!))
        if (off < away) [point, away] = [at, off]
      }
      const answer = near.of(...place)
      const inside = place.every((value, axis) => value >= box.min[axis]! && value <= box.max[axis]!)
      if (inside && away < size && away < 0.25 * diagonalOf(box)) expect([seed, answer.point]).toEqual([seed, point]) // prettier-ignore
      if (answer.point < 0) {
        none++
        expect(answer.away).toBeCloseTo(0.25 * diagonalOf(box), 9)
      } else {
        found++
        expect(answer.away).toBeGreaterThanOrEqual(away - 1e-12)
        expect(answer.away).toBeCloseTo(Math.hypot(...place.map((value, axis) => value - points[3 * answer.point + axis]!)), 9) // prettier-ignore
      }
    }
  }
  expect(Math.min(found, none)).toBeGreaterThan(20)
})

test('one point, and none', () => {
  const one = Float64Array.of(1, 2, 3)
  expect(nearestIn(one, boundsOf(one)!, 8).of(1, 2, 3).point).toBe(-1)
  const two = Float64Array.of(0, 0, 0, 1, 0, 0)
  expect(nearestIn(two, boundsOf(two)!, 8).of(1, 0, 0)).toEqual({ point: 1, away: 0 })
})
