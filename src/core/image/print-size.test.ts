import { describe, expect, test } from 'vitest'
import { mapSizeFor, pixelsForPrint } from './print-size.ts'

describe('print size', () => {
  // an inch is 2.54 cm by definition
  test.each([
    [2.54, 300, 300],
    [25.4, 300, 3000],
    [10, 254, 1000],
    [10, 300, 1182],
    [20, 600, 4725],
  ])('%f cm at %i dots an inch are %i pixels', (length, dots, pixels) => {
    expect(pixelsForPrint(length, dots)).toBe(pixels)
  })
  test.each([
    [1, 1],
    [1024, 1024],
    [1025, 2048],
    [3000, 4096],
  ])('%i pixels need a map of %i', (pixels, size) => expect(mapSizeFor(pixels)).toBe(size))
})
