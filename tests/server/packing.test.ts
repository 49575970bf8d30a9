/** Chunks of content: packed and unpacked, and what a file of unknown origin may ask for. */
import { randomBytes } from 'node:crypto'
import { deflateRawSync } from 'node:zlib'
import { Encoder } from '@toondepauw/node-zstd'
import { describe, expect, test } from 'vitest'
import {
  CHUNK_BYTES,
  packChunk,
  unpackChunk,
  unpackForeign,
  type PackedChunk,
} from '../../src/server/content/packing.ts'
import { chanceOf } from '../../src/core/base/math/chance.ts'

const words = (length: number): Buffer => Buffer.alloc(length, 'v 0.5 1.25 -0.75\n')
const zstd = (plain: Buffer): PackedChunk => ({ packing: 'zstd', bytes: new Encoder(1).encodeSync(plain) })

describe('a chunk', () => {
  test('of any length and kind comes back the same, smaller where it can be', async () => {
    for (const length of [0, 1, 63, 64, 65, 1000, 2 ** 14, 2 ** 14 + 1, 2 ** 17, 10 ** 6, CHUNK_BYTES])
      for (const plain of [words(length), Buffer.alloc(length), randomBytes(length)]) {
        const chunk = await packChunk(plain)
        expect(chunk.bytes.length).toBeLessThanOrEqual(plain.length)
        expect((await unpackChunk(chunk)).equals(plain)).toBe(true)
        expect(unpackForeign(chunk).equals(plain)).toBe(true)
      }
    expect((await packChunk(words(10 ** 6))).packing).toBe('zstd')
    expect((await packChunk(randomBytes(10 ** 6))).packing).toBe('plain')
  })
  test('that was deflated before is read', async () => {
    for (const length of [100, 10 ** 6]) {
      const chunk: PackedChunk = { packing: 'deflate', bytes: deflateRawSync(words(length)) }
      expect((await unpackChunk(chunk)).equals(words(length))).toBe(true)
      expect(unpackForeign(chunk).equals(words(length))).toBe(true)
    }
  })
})

describe('a chunk of unknown origin', () => {
  test('that would be larger than a chunk is refused before it is unpacked', () => {
    const before = process.memoryUsage().rss
    const bomb = zstd(Buffer.alloc(2 ** 29))
    expect(bomb.bytes.length).toBeLessThan(2 ** 16)
    const made = process.memoryUsage().rss
    for (let round = 0; round < 20; round++) expect(() => unpackForeign(bomb)).toThrow('larger than a chunk')
    expect(process.memoryUsage().rss - Math.max(before, made)).toBeLessThan(2 ** 28)
    // two frames in a row, one that lacks its end, a length of deflate, plain bytes
    const half = zstd(words(CHUNK_BYTES))
    const two = Buffer.concat([half.bytes, half.bytes])
    for (const bytes of [two, half.bytes.subarray(0, -1), Buffer.alloc(0)])
      expect(() => unpackForeign({ packing: 'zstd', bytes })).toThrow()
    const long = deflateRawSync(Buffer.alloc(CHUNK_BYTES + 1))
    expect(() => unpackForeign({ packing: 'deflate', bytes: long })).toThrow()
    expect(() => unpackForeign({ packing: 'plain', bytes: Buffer.alloc(CHUNK_BYTES + 1) })).toThrow()
    expect(() => unpackForeign(zstd(words(CHUNK_BYTES + 1)))).toThrow('larger than a chunk')
  })
  test('that is damaged is refused or is of a chunk’s size, whatever is changed in it', () => {
    const { bytes } = zstd(Buffer.concat([words(300_000), randomBytes(1000), Buffer.alloc(100_000)]))
    let refused = 0
    for (let seed = 1; seed <= 1500; seed++) {
      const chance = chanceOf(seed)
      const changed = Buffer.from(bytes)
      for (let change = 0; change <= seed % 4; change++) {
        const within = chance() < 0.5 ? Math.min(30, bytes.length) : bytes.length
        changed[Math.floor(chance() * within)] = Math.floor(chance() * 256)
      }
      const cut = chance() < 0.2 ? changed.subarray(0, Math.floor(chance() * changed.length)) : changed
      try {
        expect(unpackForeign({ packing: 'zstd', bytes: cut }).length).toBeLessThanOrEqual(CHUNK_BYTES)
      } catch (error) {
        if (!(error instanceof Error) || error.name === 'AssertionError') throw error
        refused++
      }
    }
    expect(refused).toBeGreaterThan(300)
  })
})
