import { describe, expect, test } from 'vitest'
import { readColorSpace } from './read-color-space.ts'
import { writePng } from './codecs/write-png.ts'

const image = { width: 2, height: 1, channels: 1, pixels: Uint8Array.of(0, 255) } as const

describe('what an image says of its values', () => {
  test('PNG: colours, numbers, nothing', () => {
    expect(readColorSpace(writePng({ ...image, colorSpace: 'sRGB' }))).toBe('sRGB')
    expect(readColorSpace(writePng({ ...image, colorSpace: 'linear' }))).toBe('linear')
    expect(readColorSpace(writePng(image))).toBeNull()
  })
  test('other kinds, and what is cut', () => {
    expect(readColorSpace(Uint8Array.of(0xff, 0xd8, 0xff))).toBe('sRGB')
    expect(readColorSpace(Uint8Array.of(1, 2, 3))).toBeNull()
    expect(readColorSpace(writePng({ ...image, colorSpace: 'sRGB' }).subarray(0, 40))).toBeNull()
  })
})
