/** Writes 8-bit PNG images. Source: PNG (Third Edition), W3C; CRC-32 of annex D. */
import { zlibSync } from 'fflate'
import { encodeUtf8 } from '../../base/bytes/text.ts'

export interface Image8 {
  readonly width: number
  readonly height: number
  /** 1 grey, 3 colours, 4 colours with opacity. */
  readonly channels: 1 | 3 | 4
  /** width x height x channels, top row first. */
  readonly pixels: Uint8Array
  /** What the file says its values are; absent: nothing. */
  readonly colorSpace?: 'sRGB' | 'linear'
}

function crcTable(): Uint32Array {
  return Uint32Array.from({ length: 256 }, (_value, byte) => {
    let c = byte
    for (let bit = 0; bit < 8; bit++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1
    return c >>> 0
  })
}

export function writePng(image: Image8): Uint8Array {
  const table = crcTable()
  const chunk = (type: string, content: Uint8Array): Uint8Array => {
    const bytes = new Uint8Array(content.length + 12)
    const view = new DataView(bytes.buffer)
    view.setUint32(0, content.length)
    bytes.set(encodeUtf8(type), 4)
    bytes.set(content, 8)
    let crc = 0xffffffff
    for (let at = 4; at < content.length + 8; at++) crc = table[(crc ^ bytes[at]!) & 255]! ^ (crc >>> 8)
    view.setUint32(content.length + 8, (crc ^ 0xffffffff) >>> 0)
    return bytes
  }
  const header = new Uint8Array(13)
  const view = new DataView(header.buffer)
  view.setUint32(0, image.width)
  view.setUint32(4, image.height)
  header.set([8, image.channels === 1 ? 0 : image.channels === 3 ? 2 : 6, 0, 0, 0], 8)
  const stride = image.width * image.channels
  const rows = new Uint8Array((stride + 1) * image.height)
  for (let row = 0; row < image.height; row++)
    rows.set(image.pixels.subarray(row * stride, (row + 1) * stride), row * (stride + 1) + 1)
  const pieces = [
    Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a),
    chunk('IHDR', header),
    ...(image.colorSpace === 'sRGB' ? [chunk('sRGB', Uint8Array.of(0))] : []),
    // a gamma of 1, times 100 000
    ...(image.colorSpace === 'linear' ? [chunk('gAMA', Uint8Array.of(0, 1, 0x86, 0xa0))] : []),
    chunk('IDAT', zlibSync(rows, { level: 6 })),
    chunk('IEND', new Uint8Array(0)),
  ]
  const file = new Uint8Array(pieces.reduce((sum, piece) => sum + piece.length, 0))
  let at = 0
  for (const piece of pieces) {
    file.set(piece, at)
    at += piece.length
  }
  return file
}
