import { expect, test } from 'vitest'
import type { Pixels } from '../pixels.ts'
import { writeHdr } from './write-hdr.ts'

const bytesOf = (channels: 1 | 2 | 3 | 4, ...values: number[]): number[] => {
  const pixels = { width: values.length / channels, height: 1, channels, bits: 32, values: Float32Array.from(values) } as Pixels // prettier-ignore
  const bytes = writeHdr(pixels)
  return [...bytes.slice(bytes.length - 4 * pixels.width)]
}

// Source of the form: G. Ward, “Real Pixels” (Graphics Gems II): a share of 256 by a power of two, 128 for 1.
test.each([
  ['one, a half, a quarter', [1, 0.5, 0.25], [128, 64, 32, 129]],
  ['what is nothing', [0, 0, 0], [0, 0, 0, 0]],
  ['what is less than nothing and no number', [-3, NaN, 2], [0, 0, 128, 130]],
  ['just below a power of two is rounded up to it', [0.9999, 0.5, 0], [128, 64, 0, 129]],
  ['a power of two and a little', [255, 128, 1], [255, 128, 1, 136]],
  ['bright light', [1000, 10, 0], [250, 3, 0, 138]],
])('%s', (_what, values, wanted) => {
  expect(bytesOf(3, ...values)).toEqual(wanted)
})

test('grey fills all three, opacity has no place, pixels follow each other', () => {
  expect(bytesOf(1, 1, 0.5)).toEqual([128, 128, 128, 129, 128, 128, 128, 128])
  expect(bytesOf(2, 1, 0.1)).toEqual([128, 128, 128, 129])
  expect(bytesOf(4, 1, 0.5, 0.25, 0.7, 0, 2, 0, 0)).toEqual([128, 64, 32, 129, 0, 128, 0, 130])
})
