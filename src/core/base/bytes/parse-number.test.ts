import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { createNumberScan, parseNumbers } from './parse-number.ts'
import { encodeUtf8 } from './text.ts'
import { howMany } from '../../../../tests/how-many.ts'

const out = new Float64Array(8)
const parse = (text: string) => {
  const scan = createNumberScan()
  const bytes = encodeUtf8(text)
  const found = parseNumbers(bytes, 0, bytes.length, out, scan)
  return { found, values: [...out.subarray(0, Math.min(found, 8))], scan }
}

describe('parseNumbers gives what ECMAScript gives', () => {
  test('for the shortest text of any double', () => {
    fc.assert(
      fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), (value) => {
        const text = Object.is(value, -0) ? '-0' : String(value)
        expect(Object.is(parse(text).values[0], value)).toBe(true)
      }),
      { numRuns: howMany(8000, 200_000) },
    )
  })
  test('for decimals of 1 to 25 digits, where rounding is hardest', () => {
    fc.assert(
      fc.property(
        fc.bigInt({ min: 0n, max: 10n ** 25n }),
        fc.integer({ min: 0, max: 24 }),
        fc.integer({ min: -8, max: 8 }),
        fc.boolean(),
        (digits, point, exponent, negative) => {
          const padded = String(digits).padStart(point + 1, '0')
          const text = `${negative ? '-' : ''}${padded.slice(0, padded.length - point)}.${padded.slice(padded.length - point)}${exponent ? `e${exponent}` : ''}`
          expect(Object.is(parse(text).values[0], Number(text))).toBe(true)
        },
      ),
      { numRuns: howMany(8000, 200_000) },
    )
  })
  test('for halfway cases', () => {
    // 2^53 + 1 lies halfway between two doubles; from memory
    for (const text of ['9007199254740993', '9007199254740992.9999999', '1.00000000000000011102230246251565'])
      expect(parse(text).values[0]).toBe(Number(text))
  })
})

test('separators, signs and forms of numbers', () => {
  expect(parse('\t1  +2. -.5\t1E3 1e-2  ').values).toEqual([1, 2, -0.5, 1000, 0.01])
  expect(parse('1 2\\\n3').values).toEqual([1, 2, 3])
  expect(parse('1 2\n3').found).toBe(2)
})

test('ill-formed pieces give their well-formed beginning and are told', () => {
  const { values, scan } = parse('1 3.1+e2 4')
  expect(values).toEqual([1, 3.1, 4])
  expect([scan.badStart, scan.badEnd, scan.badIndex]).toEqual([2, 8, 1])
  expect(parse('1 2 3').scan.badStart).toBe(-1)
  expect(parse('nan inf -inf 1.#QNAN').values).toEqual([NaN, Infinity, -Infinity, 1])
})

test('a number of thousands of digits is read, one of a million is cut and told', () => {
  expect(parse('1' + '0'.repeat(300)).values[0]).toBe(1e300)
  expect(parse('0.' + '3'.repeat(1500)).values[0]).toBe(1 / 3)
  const { scan, found } = parse('7'.repeat(1e6) + ' 5')
  expect(scan.badIndex).toBe(0)
  expect(found).toBe(2)
})
