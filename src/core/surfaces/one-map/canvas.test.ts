import { expect, test } from 'vitest'
import { chanceOf } from '../../base/math/chance.ts'
import { encodeSrgb } from '../../image/transfer.ts'
import { createCanvas } from './canvas.ts'

const STEPS = 65535

test('light is written as the curve has it, to the nearest step, dark as well as bright', () => {
  const { encode } = createCanvas(1, 1, 3, 'sRGB')
  const chance = chanceOf(3)
  for (let at = 0; at < 5000; at++) {
    const light = at % 2 ? chance() : chance() ** 6
    expect(Math.abs(encode(light) - encodeSrgb(light) * STEPS)).toBeLessThan(0.6)
  }
  expect([0, 1, -1, 2, NaN].map(encode)).toEqual([0, STEPS, 0, STEPS, 0])
})

test('numbers are written as they are', () => {
  const { encode } = createCanvas(1, 1, 1, 'linear')
  expect([0, 0.25, 0.5, 1, -1, 2, NaN].map(encode)).toEqual([0, 16384, 32768, STEPS, 0, STEPS, 0])
})
