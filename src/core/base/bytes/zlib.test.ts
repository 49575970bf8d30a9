import { deflateSync } from 'node:zlib'
import { describe, expect, test } from 'vitest'
import { adler32, PURE_CODEC } from './zlib.ts'

const letters = (text: string): Uint8Array => new TextEncoder().encode(text)

describe('zlib streams', () => {
  test('Adler-32 of known texts', () => {
    // "Wikipedia" is the worked example of the checksum's article there; the empty sum is 1 by RFC 1950
    expect(adler32(letters('Wikipedia'))).toBe(0x11e60398)
    expect(adler32(new Uint8Array(0))).toBe(1)
  })
  test('a long run doesn’t leave 32 bits', () => {
    const bytes = new Uint8Array(100000).fill(255)
    const packed = deflateSync(bytes)
    expect(adler32(bytes)).toBe(packed.readUInt32BE(packed.length - 4))
  })
  test('Node’s packing is unpacked, and ours by it', () => {
    const bytes = Uint8Array.from({ length: 5000 }, (_value, at) => (at * at) % 251)
    expect(PURE_CODEC.inflate(deflateSync(bytes), 5000)).toEqual({ bytes, sound: true })
    expect(PURE_CODEC.inflate(PURE_CODEC.deflate(bytes), 5000)).toEqual({ bytes, sound: true })
  })
  test('a wrong checksum is told, and the bytes are given', () => {
    const packed = Uint8Array.from(deflateSync(letters('hull')))
    packed[packed.length - 1]! ^= 1
    expect(PURE_CODEC.inflate(packed, 4)).toEqual({ bytes: letters('hull'), sound: false })
  })
})
