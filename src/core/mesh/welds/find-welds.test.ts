import { describe, expect, test } from 'vitest'
import { chanceOf } from '../../base/math/chance.ts'
import { findWelds } from './find-welds.ts'

/** The same by looking at every pair, as the description of `findWelds` has it. */
function byEveryPair(points: Float64Array, distance: number): number[] {
  const count = points.length / 3
  const target: number[] = []
  for (let point = 0; point < count; point++) {
    let best = -1
    let bestSquared = Infinity
    for (let other = 0; other < point; other++) {
      if (target[other] !== other) continue
      const squared = [0, 1, 2].reduce(
        (sum, axis) => sum + (points[3 * point + axis]! - points[3 * other + axis]!) ** 2,
        0,
      )
      if (squared <= distance * distance && squared < bestSquared) {
        best = other
        bestSquared = squared
      }
    }
    target.push(best < 0 ? point : best)
  }
  return target
}

describe('which points become one is the same as by looking at every pair', () => {
  const next = chanceOf(5)
  const spread = (count: number, place: (at: number) => [number, number, number]): Float64Array =>
    Float64Array.from(Array.from({ length: count }, (_value, at) => place(at)).flat())
  const COUNT = 3000
  const clouds: [string, Float64Array][] = [
    ['in a volume', spread(COUNT, () => [next(), next(), next()])],
    ['on a surface', spread(COUNT, () => [next(), Math.sin(next()), next()])],
    // points along a line crowd into few cells of a size that suits a surface: smaller ones are taken
    ['along a line', spread(COUNT, (at) => [at / COUNT, 0, 0])],
    ['round a circle', spread(COUNT, (at) => [Math.cos(at), Math.sin(at), 0])],
    ['on two spots', spread(COUNT, (at) => [at % 2, 0, 0])],
    ['far off', spread(COUNT, (at) => [1e6 + at / COUNT, 1e6, 0])],
  ]
  test.each(clouds)('%s', (_name, points) => {
    for (const distance of [0, 1e-9, 2e-4, 1e-3, 0.05, 10])
      expect([...findWelds(points, distance)]).toEqual(byEveryPair(points, distance))
  })
})
