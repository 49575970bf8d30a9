import fc from 'fast-check'
import { expect, test } from 'vitest'
import { decodeUtf8, encodeUtf8, normalizeTextBytes } from './text.ts'

test('UTF-8 there and back', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary' }), (text) => {
      expect(decodeUtf8(encodeUtf8(text))).toBe(text)
    }),
  )
})

test('bytes that are not UTF-8 are refused: overlong, lone continuation, surrogate, cut', () => {
  for (const bytes of [[0xc0, 0x80], [0x80], [0xed, 0xa0, 0x80], [0xe2, 0x82], [0xff]])
    expect(decodeUtf8(Uint8Array.from(bytes))).toBeNull()
})

test.each([
  ['little-endian with a mark', [0xff, 0xfe], true],
  ['big-endian with a mark', [0xfe, 0xff], false],
  ['little-endian without', [], true],
  ['big-endian without', [], false],
])('UTF-16 %s', (_name, mark, little) => {
  const text = 'v 1 2 3\no kettle\n' + (mark.length ? 'ö𝄞' : '')
  const bytes = [...mark]
  for (let index = 0; index < text.length; index++) {
    const unit = text.charCodeAt(index)
    if (little) bytes.push(unit & 255, unit >> 8)
    else bytes.push(unit >> 8, unit & 255)
  }
  expect(decodeUtf8(normalizeTextBytes(Uint8Array.from(bytes)))).toBe(text)
})
