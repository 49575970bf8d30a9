import { expect, test } from 'vitest'
import { decodeBase64, encodeBase64 } from './base64.ts'

// RFC 4648, section 10: test vectors
test.each([
  ['', ''],
  ['f', 'Zg=='],
  ['fo', 'Zm8='],
  ['foo', 'Zm9v'],
  ['foob', 'Zm9vYg=='],
  ['fooba', 'Zm9vYmE='],
  ['foobar', 'Zm9vYmFy'],
])('“%s” is “%s”', (text, coded) => {
  const bytes = new TextEncoder().encode(text)
  expect(encodeBase64(bytes)).toBe(coded)
  expect(decodeBase64(coded)).toEqual(bytes)
})
test('line breaks are passed over, another letter is refused', () => {
  expect(decodeBase64('Zm9v\r\nYmFy')).toEqual(new TextEncoder().encode('foobar'))
  expect(decodeBase64('Zm9v*mFy')).toBeNull()
})
