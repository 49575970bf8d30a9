/** Points of two clouds that lie near each other, against looking at all of them. */
import { describe, expect, test } from 'vitest'
import { howMany } from '../../../../tests/how-many.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { matchPositions } from './match-positions.ts'

/** Each of the master's in turn: the nearest that is not taken, of several the lowest. Squares as there, so that ties are ties. */
function byLookingAtAll(master: Float64Array, returned: Float64Array, reach: number): number[] {
  const taken = new Set<number>()
  return Array.from({ length: master.length / 3 }, (_point, point) => {
    let [best, least] = [-1, reach * reach]
    for (let other = 0; other < returned.length / 3; other++) {
      const [dx, dy, dz] = [0, 1, 2].map((axis) => returned[3 * other + axis]! - master[3 * point + axis]!) as [number, number, number] // prettier-ignore
      const squared = dx * dx + dy * dy + dz * dz
      if (taken.has(other) || !(squared < least || (best < 0 && squared === least))) continue
      best = other
      least = squared
    }
    taken.add(best)
    return best
  })
}

const cloud = (count: number, place: () => number): Float64Array => Float64Array.from({ length: 3 * count }, place) // prettier-ignore

describe('as by looking at all', () => {
  test.each([
    // even numbers beside odd ones: as far from several, and just as far as may be
    ['on a lattice, one step aside', 1, (chance: () => number) => 2 * Math.floor(chance() * 4), [1, 0, 0]],
    [
      'on a lattice, aside along all axes',
      2,
      (chance: () => number) => 2 * Math.floor(chance() * 4),
      [1, 1, 1],
    ],
    ['far apart', 0.3, (chance: () => number) => chance() * 4, [0.1, 0, 0]],
    ['crowded', 0.3, (chance: () => number) => chance() * 1.2, [0.2, 0.1, 0.1]],
    ['many on one spot', 0.3, (chance: () => number) => (chance() < 0.6 ? 0 : chance()), [0.1, 0, 0.2]],
  ] as const)('%s', (_name, reach, place, aside) => {
    let [found, left] = [0, 0]
    for (let seed = 0; seed < howMany(60, 3000); seed++) {
      const chance = chanceOf(seed)
      const master = cloud(1 + Math.floor(chance() * 60), () => place(chance))
      const returned = cloud(1 + Math.floor(chance() * 60), () => place(chance)).map((value, at) => value + aside[at % 3]!) // prettier-ignore
      const pairs = [...matchPositions(master, returned, reach)]
      expect([seed, pairs]).toEqual([seed, byLookingAtAll(master, returned, reach)])
      for (const other of pairs)
        if (other < 0) left++
        else found++
    }
    expect(Math.min(found, left)).toBeGreaterThan(100)
  })
})

test('what stands at the very same place goes together first, doubles in their order, whatever lies nearer to others', () => {
  for (let seed = 0; seed < howMany(60, 3000); seed++) {
    const chance = chanceOf(seed)
    const count = 2 + Math.floor(chance() * 40)
    const master = cloud(count, () => Math.floor(chance() * 3))
    const order = Array.from({ length: count }, (_point, at) => at).sort(() => chance() - 0.5)
    const returned = Float64Array.from(
      order.flatMap((point) => [...master.subarray(3 * point, 3 * point + 3)]),
    )
    const text = (points: Float64Array, point: number): string => points.subarray(3 * point, 3 * point + 3).join() // prettier-ignore
    const queues = new Map<string, number[]>()
    order.forEach((_point, at) => queues.set(text(returned, at), [...(queues.get(text(returned, at)) ?? []), at])) // prettier-ignore
    const expected = order.map((_point, point) => queues.get(text(master, point))!.shift()!)
    expect([seed, [...matchPositions(master, returned, 5)]]).toEqual([seed, expected])
  }
})

test('nothing lies near where there is no reach, or nothing', () => {
  const points = Float64Array.of(0, 0, 0, 1, 1, 1)
  for (const reach of [0, -1, NaN]) expect([...matchPositions(points, points, reach)]).toEqual([-1, -1])
  expect([...matchPositions(points, new Float64Array(0), 1)]).toEqual([-1, -1])
  expect([...matchPositions(new Float64Array(0), points, 1)]).toEqual([])
  expect([...matchPositions(points, Float64Array.of(NaN, 0, 0, 1, 1, 1), 1)]).toEqual([-1, 1])
  // 0 and −0 are one place
  expect([...matchPositions(Float64Array.of(-0, 0, 0), Float64Array.of(0, -0, 0), 1e-9)]).toEqual([0])
})
