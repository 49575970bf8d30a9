import { expect, test } from 'vitest'
import { square } from '../../../../../tests/check-shapes.ts'
import type { CarryMap } from '../trait.ts'
import { carryPoints } from './carry-points.ts'

const map = (points: readonly number[]): CarryMap => ({
  points: Int32Array.from(points),
  sourcePoints: Int32Array.from(points),
  faces: Int32Array.of(0),
  corners: Int32Array.of(0, 1, 2, 3),
})
const none = () => 0
const weighted = (...weights: number[]) => square({ pointWeights: Float64Array.from(weights) })

test('a point goes where the source has it, and stays to the last bit within the tolerance', () => {
  const target = square()
  const source = { ...target, points: target.points.map((value, at) => value + (at < 3 ? 0.5 : at < 6 ? 1e-9 : 0)) } // prettier-ignore
  const { points } = carryPoints(target, source, map([0, 1, 2, -1]), () => 1e-6)
  expect([...points.subarray(0, 3)]).toEqual([...source.points.subarray(0, 3)])
  expect([...points.subarray(3)]).toEqual([...target.points.subarray(3)])
})

test('rational weights come along; a point without counterpart keeps its own', () => {
  const carried = carryPoints(weighted(1, 2, 3, 4), weighted(5, 6, 7, 8), map([0, -1, 3, 2]), none)
  expect([...carried.pointWeights!]).toEqual([5, 2, 8, 7])
})

test('weights that are all one are none', () => {
  expect(carryPoints(weighted(2, 2, 2, 2), square(), map([0, 1, 2, 3]), none).pointWeights).toBeNull()
  expect(carryPoints(square(), square(), map([0, 1, 2, 3]), none).pointWeights).toBeNull()
  expect([...carryPoints(weighted(2, 2, 2, 2), square(), map([0, 1, 2, -1]), none).pointWeights!]).toEqual([1, 1, 1, 2]) // prettier-ignore
})
