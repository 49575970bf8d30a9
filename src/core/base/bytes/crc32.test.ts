import { expect, test } from 'vitest'
import { crc32 } from './crc32.ts'
import { encodeUtf8 } from './text.ts'

test('CRC-32 gives the check value that its catalogue has for “123456789”', () => {
  // Source: ISO 3309; the check value 0xcbf43926 is common practice
  expect(crc32(encodeUtf8('123456789'))).toBe(0xcbf43926)
  expect(crc32(new Uint8Array())).toBe(0)
})
