/** Against closed forms: points that were sized, turned, mirrored and moved by what is known. */
import { describe, expect, test } from 'vitest'
import { turnedAbout } from '../../../../tests/solids.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { transformPoints } from '../../base/math/matrix.ts'
import {
  determinant,
  fitAround,
  fitSimilarity,
  leftOver,
  rootMeanSquare,
  similarityMatrix,
} from './similarity.ts'

const cloud = (count: number, seed: number): Float64Array => {
  const chance = chanceOf(seed)
  return Float64Array.from({ length: 3 * count }, (_value, at) => (chance() - 0.5) * (at % 3 === 0 ? 9 : 4))
}
/** Factor 2.54, turned by 33° about a slant, moved. */
function placed(points: Float64Array, mirrored: boolean): Float64Array {
  const turn = turnedAbout([1, 2, -0.5], 33)
  const there = transformPoints(
    mirrored ? points.map((value, at) => (at % 3 === 0 ? -value : value)) : points,
    turn,
  )
  return there.map((value, at) => 2.54 * value + [3, -1, 7][at % 3]!)
}

describe.each([
  ['few', 40],
  ['many, of which some are looked at', 5000],
] as const)('%s points', (_name, count) => {
  test.each([false, true])('mirrored: %s', (mirrored) => {
    const before = cloud(count, 3)
    const after = placed(before, mirrored)
    const fit = fitSimilarity(before, after)!
    expect(fit.factor).toBeCloseTo(2.54, 9)
    expect(Math.sign(determinant(fit.turn))).toBe(mirrored ? -1 : 1)
    expect(fit.off).toBeLessThan(1e-9)
    const brought = transformPoints(before, similarityMatrix(fit))
    expect(Math.max(...brought.map((value, at) => Math.abs(value - after[at]!)))).toBeLessThan(1e-8)
    expect(fit.kept.every(Boolean)).toBe(true)
  })

  test('a third of them went elsewhere meanwhile: it is fitted over the others', () => {
    const before = cloud(count, 5)
    const chance = chanceOf(8)
    const after = placed(before, false).map((value, at) => (Math.floor(at / 3) % 3 === 0 ? value + 4 * chance() : value)) // prettier-ignore
    const fit = fitSimilarity(before, after)!
    expect(fit.factor).toBeCloseTo(2.54, 6)
    expect(fit.kept.filter((kept, point) => kept === 1 && point % 3 === 0).length).toBeLessThan(count * 0.05)
    expect(fit.off).toBeLessThan(1e-5)
  })
})

test('nearly half of them went far off together: a sample finds the others all the same', () => {
  const before = cloud(400, 21)
  const elsewhere = transformPoints(before, turnedAbout([0, 1, 1], 70))
  const after = placed(before, false).map((value, at) =>
    Math.floor(at / 3) % 20 < 9 ? 40 + 5 * elsewhere[at]! : value,
  )
  const fit = fitSimilarity(before, after)!
  expect(fit.factor).toBeCloseTo(2.54, 6)
  expect([...fit.kept].filter(Boolean)).toHaveLength(220)
})

test('what lies on a line, in one point, or is fewer than four says nothing', () => {
  for (const [x, y, z] of [
    [1, 1, 1],
    [0, 3, 0],
    [0.3, -1.7, 0.011],
    [100, 0.1, 7],
  ] as const) {
    const line = Float64Array.from(
      { length: 30 },
      (_value, at) => 5 + Math.floor(at / 3) * [x, y, z][at % 3]!,
    )
    expect(fitSimilarity(line, line)).toBeNull()
  }
  expect(fitSimilarity(new Float64Array(30), new Float64Array(30))).toBeNull()
  expect(fitSimilarity(cloud(3, 1), cloud(3, 1))).toBeNull()
})

test('what is flat is its own mirror image: no mirror is assumed', () => {
  const flat = cloud(60, 9).map((value, at) => (at % 3 === 1 ? 0 : value))
  const fit = fitSimilarity(flat, flat.map((value) => 3 * value))! // prettier-ignore
  expect(determinant(fit.turn)).toBeCloseTo(1, 9)
  expect(fit.factor).toBeCloseTo(3, 9)
})

describe('more than half of them lie on one line, which says nothing of how it turned about that', () => {
  const lined = (seed: number): { points: Float64Array; count: number } => {
    const chance = chanceOf(seed)
    const count = 5 + Math.floor(30 * chance())
    const along = [0, 1, 2].map(() => chance() - 0.5)
    const points = cloud(count, 100 + seed)
    for (let point = 0; point < Math.ceil(0.65 * count); point++) {
      const at = (point % 3 === 1 ? -1 : 1) * 4 * chance()
      for (const axis of [0, 1, 2]) points[3 * point + axis] = at * along[axis]!
    }
    return { points, count }
  }
  const offTurn = (turn: readonly number[], wanted: readonly number[]): number =>
    Math.max(...turn.map((value, at) => Math.abs(value - wanted[at]!)))
  const IDENTITY = [1, 0, 0, 0, 1, 0, 0, 0, 1]

  test('as it stood it was not turned', () => {
    for (let seed = 1; seed <= 60; seed++) {
      const { points } = lined(seed)
      // what a file loses of its digits
      const after = points.map((value) => Number(value.toPrecision(15)))
      expect([seed, offTurn(fitSimilarity(points, after)!.turn, IDENTITY) < 1e-6]).toEqual([seed, true])
    }
  })
  test('what was done to it is found by the others', () => {
    for (let seed = 1; seed <= 60; seed++) {
      const { points, count } = lined(seed)
      const fit = fitSimilarity(points, placed(points, false))!
      expect(fit.factor).toBeCloseTo(2.54, 6)
      const left = leftOver(points, placed(points, false), fit)
      expect([seed, Math.max(...left) < 1e-6, left.length]).toEqual([seed, true, count])
    }
  })
})

test('a factor that is known leaves the move alone to be found', () => {
  const before = cloud(20, 2)
  const after = before.map((value, at) => value + [1, 2, 3][at % 3]!)
  const known = fitAround(before, after, new Uint8Array(20).fill(1), [1, 0, 0, 0, 1, 0, 0, 0, 1], 1)
  expect(known.move.map((value) => Number(value.toFixed(9)))).toEqual([1, 2, 3])
  expect(rootMeanSquare(leftOver(before, after, known), new Uint8Array(20).fill(1))).toBeLessThan(1e-12)
})

test.each([NaN, Infinity, 1e160, -1e300])('points that lie at %s say nothing of the whole', (far) => {
  const before = cloud(40, 3)
  const [own, other] = [before.slice(), placed(before, false)]
  other[3] = far
  own[3 * 17 + 1] = far
  const fit = fitSimilarity(own, other)!
  expect(fit.factor).toBeCloseTo(2.54, 9)
  expect([fit.kept.length, fit.kept[1], fit.kept[17], fit.kept[2]]).toEqual([40, 0, 0, 1])
  expect(fitSimilarity(own, other.map(() => far))).toBeNull() // prettier-ignore
})
