import { describe, expect, test } from 'vitest'
import type { Pixels } from './pixels.ts'
import { createSampler, type SampleOptions } from './sample-image.ts'

const AS_IT_IS = { level: 0, looks: 1, stepU: 0, stepV: 0 }
/** 2 x 2 of one channel, rows from the top: 0 and 1, 0.25 and 0.5. */
const pixels = {
  width: 2,
  height: 2,
  channels: 1,
  bits: 32,
  values: Float32Array.of(0, 1, 0.25, 0.5),
} as Pixels
const lookAt = (options: Partial<SampleOptions>, u: number, v: number): number => {
  const into = new Float64Array(1)
  createSampler(pixels, {
    space: 'linear',
    wrapU: 'repeat',
    wrapV: 'repeat',
    isPremultiplied: false,
    ...options,
  }).sample(u, v, AS_IT_IS, into)
  return into[0]!
}

describe('a look at an image', () => {
  test('in the middle of a pixel is the pixel, V up', () => {
    expect(lookAt({}, 0.25, 0.75)).toBeCloseTo(0)
    expect(lookAt({}, 0.75, 0.75)).toBeCloseTo(1)
    expect(lookAt({}, 0.25, 0.25)).toBeCloseTo(0.25)
    expect(lookAt({}, 0.75, 0.25)).toBeCloseTo(0.5)
  })
  test('between pixels is between them', () => {
    expect(lookAt({}, 0.5, 0.75)).toBeCloseTo(0.5)
    expect(lookAt({}, 0.5, 0.5)).toBeCloseTo(1.75 / 4)
  })
  test('at an edge goes on at the other side, or stays', () => {
    expect(lookAt({}, 0, 0.75)).toBeCloseTo(0.5)
    expect(lookAt({ wrapU: 'clamp' }, 0, 0.75)).toBeCloseTo(0)
    expect(lookAt({ wrapV: 'clamp' }, 0, 0.75)).toBeCloseTo(0.5)
    expect(lookAt({}, 0.25, 1)).toBeCloseTo(0.125)
    expect(lookAt({ wrapV: 'clamp' }, 0.25, 1)).toBeCloseTo(0)
    expect(lookAt({ wrapU: 'clamp' }, 0.25, 1)).toBeCloseTo(0.125)
  })
  test('beyond the image is the image again, or its edge', () => {
    expect(lookAt({}, 1.75, 0.75)).toBeCloseTo(1)
    expect(lookAt({}, -0.75, 0.75)).toBeCloseTo(0)
    expect(lookAt({ wrapU: 'clamp' }, -0.75, 0.75)).toBeCloseTo(0)
    expect(lookAt({ wrapU: 'clamp' }, 3.25, 0.75)).toBeCloseTo(1)
    expect(lookAt({ wrapU: 'clamp', wrapV: 'clamp' }, 3.25, -9)).toBeCloseTo(0.5)
  })
})
