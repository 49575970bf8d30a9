/** What Node packs for the core: on one thread and on several, read by zlib itself, which looks at the checksum. */
import { inflateSync } from 'node:zlib'
import { expect, test } from 'vitest'
import { NODE_CODEC } from '../../src/host/node-codec.ts'

const numbers = (bytes: number, step: number): Uint8Array =>
  new Uint8Array(Float64Array.from({ length: bytes / 8 }, (_value, at) => Math.round(at * step) / 64).buffer)
const same = (a: Uint8Array, b: Uint8Array): boolean => Buffer.from(a).equals(Buffer.from(b))

test('many large arrays at once come back each as it was, in their order', () => {
  // large ones for several threads, small ones and an empty one
  const arrays = [24e6, 9000008, 4 * 2 ** 20, 800, 0, 12e6].map((bytes, at) =>
    numbers(bytes - (bytes % 8), at + 0.3),
  )
  const runsOnly = arrays.map((_array, at) => at % 2 === 1)
  const packed = NODE_CODEC.deflateAll!(arrays, runsOnly)
  expect(packed).toHaveLength(arrays.length)
  arrays.forEach((array, at) => {
    expect(same(inflateSync(packed[at]!), array)).toBe(true)
    expect(NODE_CODEC.inflate(packed[at]!, array.length).sound).toBe(true)
    expect(packed[at]!.length).toBeLessThan(Math.max(64, array.length))
  })
  // and the same bytes each time
  const again = NODE_CODEC.deflateAll!(arrays, runsOnly)
  packed.forEach((stream, at) => expect(same(stream, again[at]!)).toBe(true))
})

test('what zlib refuses is given all the same, as not sound', () => {
  const [packed] = NODE_CODEC.deflateAll!([numbers(1600, 1)], [false])
  const wrong = Uint8Array.from(packed!)
  wrong[wrong.length - 1]! ^= 1
  const { bytes, sound } = NODE_CODEC.inflate(wrong, 1600)
  expect([sound, same(bytes, numbers(1600, 1))]).toEqual([false, true])
  expect(() => NODE_CODEC.inflate(Uint8Array.of(1, 2, 3, 4, 5, 6), 100)).toThrow()
})
