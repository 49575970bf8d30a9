import { describe, expect, test } from 'vitest'
import { bumpNormals, lightNormals, liveliestSquare, turnedGreen } from './normal-relief.ts'

const SIZE = 64
const at = (picture: Uint8ClampedArray, column: number, row: number, channel = 0): number =>
  picture[4 * (row * SIZE + column) + channel]!
const MIDDLE = SIZE / 2

describe('a bump that rises', () => {
  test.each(['up', 'down'] as const)('is lit above and dark below, its green pointing %s', (green) => {
    const lit = lightNormals(bumpNormals(SIZE, green), green)
    const [above, below] = [at(lit, MIDDLE, MIDDLE - 16), at(lit, MIDDLE, MIDDLE + 16)]
    const plane = at(lit, 1, 1)
    expect(above).toBeGreaterThan(plane + 20)
    expect(below).toBeLessThan(plane - 20)
  })
  test('read the wrong way it is a dent', () => {
    const lit = lightNormals(bumpNormals(SIZE, 'up'), 'down')
    expect(at(lit, MIDDLE, MIDDLE - 16)).toBeLessThan(at(lit, MIDDLE, MIDDLE + 16))
  })
  test('in its colours green is more above where it points up, and less where it points down', () => {
    const [up, down] = [bumpNormals(SIZE, 'up'), bumpNormals(SIZE, 'down')]
    expect(at(up, MIDDLE, MIDDLE - 16, 1)).toBeGreaterThan(160)
    expect(at(down, MIDDLE, MIDDLE - 16, 1)).toBeLessThan(95)
    // every normal has the length 1, to what a byte can say
    for (let pixel = 0; pixel < up.length; pixel += 4)
      expect(
        Math.hypot(up[pixel]! / 127.5 - 1, up[pixel + 1]! / 127.5 - 1, up[pixel + 2]! / 127.5 - 1),
      ).toBeCloseTo(1, 1)
  })
  test('turned round, one is nearly the other', () => {
    const turned = turnedGreen(bumpNormals(SIZE, 'up'))
    const down = bumpNormals(SIZE, 'down')
    turned.forEach((value, index) => expect(Math.abs(value - down[index]!)).toBeLessThanOrEqual(1))
  })
})

test('the liveliest square is the one that has the bump', () => {
  const [width, height] = [200, 160]
  const picture = new Uint8ClampedArray(4 * width * height)
  for (let pixel = 0; pixel < picture.length; pixel += 4) picture.set([128, 128, 255, 255], pixel)
  const bump = bumpNormals(SIZE, 'up')
  for (let row = 0; row < SIZE; row++)
    picture.set(bump.subarray(4 * row * SIZE, 4 * (row + 1) * SIZE), 4 * ((row + 64) * width + 96))
  expect(liveliestSquare(picture, width, height, SIZE)).toEqual([96, 64])
  expect(liveliestSquare(bump, SIZE, SIZE, 96)).toEqual([0, 0])
})
