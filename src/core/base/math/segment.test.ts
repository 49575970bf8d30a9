import { expect, test } from 'vitest'
import { distanceToEdge, distanceToSegment } from './segment.ts'

test.each([
  // beside its middle, beyond either end, on it, and of a segment without length
  [[0.5, 3, 4], [0, 0, 0], [1, 0, 0], 5],
  [[-3, 4, 0], [0, 0, 0], [1, 0, 0], 5],
  [[4, 0, 4], [0, 0, 0], [1, 0, 0], 5],
  [[0.25, 0.25, 0.25], [0, 0, 0], [1, 1, 1], 0],
  [[3, 4, 0], [0, 0, 0], [0, 0, 0], 5],
])('%j to %j – %j', (place, a, b, wanted) => {
  expect(distanceToSegment(place, a, b)).toBeCloseTo(wanted, 12)
  expect(distanceToEdge(place, Float64Array.from([9, 9, 9, ...b, ...a]), 2, 1)).toBeCloseTo(wanted, 12)
})
