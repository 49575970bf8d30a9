/** Against functions whose least place is known. */
import { describe, expect, test } from 'vitest'
import { minimise } from './minimise.ts'

const options = { mostSteps: 400, mostMove: 1, firstStep: 0.01, isEnough: () => false }

describe('minimise', () => {
  test('finds the floor of a bent valley (Rosenbrock 1960)', () => {
    const { at, value } = minimise(
      Float64Array.of(-1.2, 1),
      ([x, y], slope) => {
        slope[0] = -2 * (1 - x!) - 400 * x! * (y! - x! * x!)
        slope[1] = 200 * (y! - x! * x!)
        return (1 - x!) ** 2 + 100 * (y! - x! * x!) ** 2
      },
      options,
    )
    expect(value).toBeLessThan(1e-12)
    expect(at[0]).toBeCloseTo(1, 5)
    expect(at[1]).toBeCloseTo(1, 5)
  })
  test('solves squares of very different weight', () => {
    const count = 30
    const start = new Float64Array(count)
    const { at } = minimise(
      start,
      (place, slope) =>
        place.reduce((sum, one, k) => {
          const weight = 1.5 ** (k % 10)
          slope[k] = 2 * weight * (one - k)
          return sum + weight * (one - k) ** 2
        }, 0),
      { ...options, mostMove: 100 },
    )
    at.forEach((one, k) => expect(one).toBeCloseTo(k, 4))
    expect([...start]).toEqual(new Array(count).fill(0))
  })
  test('never climbs, moves no farther in a step than it may, and ends when told', () => {
    const seen: number[] = []
    let last = 0
    let farthest = 0
    const { value } = minimise(
      Float64Array.of(5),
      ([x], slope) => {
        slope[0] = 2 * x!
        return x! * x!
      },
      {
        ...options,
        mostMove: 0.5,
        isEnough: (own, step) => {
          expect(step).toBe(seen.length)
          if (seen.length) farthest = Math.max(farthest, Math.sqrt(last) - Math.sqrt(own))
          seen.push(own)
          last = own
          return step === 4
        },
      },
    )
    expect(seen).toHaveLength(5)
    expect(farthest).toBeLessThanOrEqual(0.5 + 1e-12)
    for (let k = 1; k < seen.length; k++) expect(seen[k]).toBeLessThan(seen[k - 1]!)
    expect(value).toBe(seen.at(-1))
  })
  test('stays where it is already least', () => {
    const { at, value } = minimise(Float64Array.of(0, 0), (_, slope) => (slope.fill(0), 3), options)
    expect([...at, value]).toEqual([0, 0, 3])
  })
})
