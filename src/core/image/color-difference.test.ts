/** Pairs of the table that Sharma, Wu and Dalal published with the formula (2005), from memory. */
import { expect, test } from 'vitest'
import { ciede2000, labOfSrgb, pictureDifference } from './color-difference.ts'

test.each([
  [[50, 2.6772, -79.7751], [50, 0, -82.7485], 2.0425],
  [[50, 3.1571, -77.2803], [50, 0, -82.7485], 2.8615],
  [[50, 2.8361, -74.02], [50, 0, -82.7485], 3.4412],
  [[50, -1.3802, -84.2814], [50, 0, -82.7485], 1.0],
  [[60.2574, -34.0099, 36.2677], [60.4626, -34.1751, 39.4387], 1.2644],
  [[22.7233, 20.0904, -46.694], [23.0331, 14.973, -42.5619], 2.0373],
  [[2.0776, 0.0795, -1.135], [0.9033, -0.0636, -0.5514], 0.9082],
] as const)('%j and %j', (a, b, apart) => {
  expect(ciede2000(a, b)).toBeCloseTo(apart, 4)
  expect(ciede2000(b, a)).toBeCloseTo(apart, 4)
})
test('white, black and a picture', () => {
  expect(labOfSrgb(1, 1, 1).map((value) => Math.abs(Math.round(value * 100) / 100))).toEqual([100, 0, 0])
  expect(labOfSrgb(0, 0, 0)).toEqual([0, 0, 0])
  const picture = Uint8Array.of(255, 255, 255, 255, 0, 0, 0, 0)
  expect(pictureDifference(picture, picture)).toEqual({ mean: 0, largest: 0 })
  const other = Uint8Array.of(0, 0, 0, 255, 200, 0, 0, 0)
  const apart = pictureDifference(picture, other)
  expect(apart.mean).toBeCloseTo(100, 4)
  expect(apart.largest).toBeCloseTo(100, 4)
})
