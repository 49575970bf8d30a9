/** Sizes of images from their first bytes, against bytes laid out as the formats' publications say. */
import { describe, expect, test } from 'vitest'
import { encodeUtf8 } from '../base/bytes/text.ts'
import { writePng } from './codecs/write-png.ts'
import { readImageSize } from './read-image-size.ts'

const bytes = (...parts: (string | readonly number[])[]): Uint8Array =>
  Uint8Array.from(
    parts.flatMap((part) =>
      typeof part === 'string' ? [...part].map((letter) => letter.charCodeAt(0)) : [...part],
    ),
  )
const zeros = (count: number): number[] => new Array<number>(count).fill(0)
const little32 = (value: number): number[] => [
  value & 255,
  (value >> 8) & 255,
  (value >> 16) & 255,
  (value >>> 24) & 255,
]
const big16 = (value: number): number[] => [value >> 8, value & 255]
const little16 = (value: number): number[] => [value & 255, value >> 8]

const FILES: Record<string, Uint8Array> = {
  png: writePng({ width: 300, height: 200, channels: 3, pixels: new Uint8Array(300 * 200 * 3) }),
  // a comment, a quantization table, then a progressive frame
  jpeg: bytes(
    [0xff, 0xd8, 0xff, 0xfe],
    big16(4),
    [1, 2],
    [0xff, 0xdb],
    big16(3),
    [0],
    [0xff, 0xff, 0xc2],
    big16(17),
    [8],
    big16(200),
    big16(300),
    [3],
    zeros(12),
  ),
  gif: bytes('GIF89a', little16(300), little16(200), zeros(10)),
  // rows from the top down have a negative height
  bmp: bytes('BM', zeros(12), little32(40), little32(300), little32(-200), zeros(20)),
  webp: bytes('RIFF', little32(50), 'WEBPVP8X', little32(10), zeros(4), [43, 1, 0], [199, 0, 0], zeros(8)),
  tiff: bytes(
    [0x49, 0x49, 42, 0],
    little32(8),
    little16(2),
    little16(256),
    little16(3),
    little32(1),
    little16(300),
    [0, 0],
    little16(257),
    little16(4),
    little32(1),
    little32(200),
    zeros(4),
  ),
  hdr: bytes('#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 200 +X 300\n', zeros(8)),
  exr: bytes(
    [0x76, 0x2f, 0x31, 0x01, 2, 0, 0, 0],
    'compression',
    [0],
    'compression',
    [0],
    little32(1),
    [3],
    'dataWindow',
    [0],
    'box2i',
    [0],
    little32(16),
    little32(10),
    little32(20),
    little32(309),
    little32(219),
    [0],
  ),
  tga: bytes([0, 0, 2], zeros(9), little16(300), little16(200), [24, 0], zeros(9)),
}

describe.each(Object.keys(FILES))('%s', (kind) => {
  const file = FILES[kind]!
  test('its size', () => expect(readImageSize(file)).toEqual({ kind, width: 300, height: 200 }))
  test('cut anywhere it is told apart or not, and nothing is read beyond its end', () => {
    for (let length = 0; length < Math.min(file.length, 200); length++) {
      const size = readImageSize(file.slice(0, length))
      if (size) expect([size.width > 0, size.height > 0]).toEqual([true, true])
    }
  })
})

test('what is no image is none', () => {
  for (const text of ['', 'hello', '<svg width="300" height="200"/>', '#?RADIANCE\n\nno size', 'BM', 'GIF8'])
    expect(readImageSize(encodeUtf8(text))).toBeNull()
})
