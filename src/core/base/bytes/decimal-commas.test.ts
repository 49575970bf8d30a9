import fc from 'fast-check'
import { expect, test } from 'vitest'
import { withDecimalPoint, withDecimalPoints } from './decimal-commas.ts'
import { decodeLatin1, encodeUtf8 } from './text.ts'

const pointed = (text: string): string | null => {
  const bytes = encodeUtf8(`9,9 ${text} 9,9`)
  const found = withDecimalPoints(bytes, 4, bytes.length - 4)
  return found && decodeLatin1(found, 0, found.length)
}

test.each([
  ['0,5', '0.5'],
  ['-1,25e-3 4', '-1.25e-3 4'],
  ['v 0,5 1 +2,0E5', 'v 0.5 1 +2.0E5'],
  [',5', '.5'],
  ['1\t2,5\n3,5', '1\t2.5\n3.5'],
])('%s is %s', (text, wanted) => expect(pointed(text)).toBe(wanted))

test.each([
  '1,2,3',
  '0.5,1',
  '1,5.0',
  '5,',
  'a,5',
  'e,5',
  '1_5',
  '1,2-3',
  'part1,2b',
  '1e5,3',
  '1,5e2e3',
  '',
  '1 2 3',
  ',',
])('“%s” has no decimal comma', (text) => expect(pointed(text)).toBeNull())

test('any number is the same with a comma for its point', () => {
  fc.assert(
    fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), (value) => {
      const text = Number.isInteger(value) && !String(value).includes('e') ? `${value}.0` : String(value)
      if (!text.includes('.') || value === 0) return
      expect(Number(withDecimalPoint(text.replace('.', ',')))).toBe(value)
    }),
  )
})
