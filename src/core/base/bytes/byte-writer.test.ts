import fc from 'fast-check'
import { expect, test } from 'vitest'
import { createByteWriter, joinBytes } from './byte-writer.ts'
import { decodeLatin1 } from './text.ts'
import { howMany } from '../../../../tests/how-many.ts'

const written = (write: (out: ReturnType<typeof createByteWriter>) => void): string => {
  const out = createByteWriter()
  write(out)
  return decodeLatin1(joinBytes(out.blocks()))
}

test('a real reads back to the same double and is never longer than the shortest text', () => {
  const values = fc.oneof(
    fc.double({ noNaN: true, noDefaultInfinity: true }),
    fc.integer({ min: -1e9, max: 1e9 }).map((value) => value / 1e6),
    fc.integer({ min: -1e6, max: 1e6 }).map((value) => value / 1e10),
  )
  fc.assert(
    fc.property(values, (value) => {
      const text = written((out) => out.real(value, null))
      expect(Object.is(Number(text), value)).toBe(true)
      // plain decimals may be longer than an exponent, by their zeros only
      if (!String(value).includes('e')) expect(text.length).toBeLessThanOrEqual(String(value).length + 1)
    }),
    { numRuns: howMany(8000, 200_000) },
  )
})

test('digits after the point', () => {
  expect(written((out) => out.real(1 / 3, 4))).toBe('0.3333')
  expect(written((out) => out.real(-2, 2))).toBe('-2.00')
})

test('integers of all lengths', () => {
  fc.assert(
    fc.property(fc.maxSafeInteger(), (value) => {
      expect(written((out) => out.integer(value))).toBe(String(value))
    }),
  )
})

test('text longer than a block keeps every byte', () => {
  const line = 'ä'.repeat(1000)
  const text = written((out) => {
    for (let index = 0; index < 200; index++) out.text(line)
  })
  expect(text.length).toBe(200 * 2000)
})
