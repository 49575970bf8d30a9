/**
 * PNG row by row, so that an image of any size needs the memory of a few of its rows. Packages unpack and pack whole
 * images only (sharp and fast-png were looked at). Source: PNG (Third Edition), W3C, 7 (filters), 11.2.
 */
import { once } from 'node:events'
import { Readable } from 'node:stream'
import { crc32, createDeflate, createInflate } from 'node:zlib'
import { COLOR_CHUNKS } from '../../core/image/codecs/write-png.ts'
import { BrokenRows, type ImageForm, type RowPacker, type RowReader } from '../../core/image/image-reader.ts'

const SIGNATURE = Uint8Array.of(137, 80, 78, 71, 13, 10, 26, 10)
/** By the header's colour type: grey, colours, grey with opacity, colours with opacity. */
const CHANNELS: Readonly<Record<number, 1 | 2 | 3 | 4>> = { 0: 1, 2: 3, 4: 2, 6: 4 }
const COLOR_TYPES = { 1: 0, 2: 4, 3: 2, 4: 6 } as const
const LEVEL = 3
/** Bytes of compressed data that are packed into one chunk. */
const CHUNK = 2 ** 20

interface Chunk {
  readonly type: string
  readonly data: Uint8Array
}

function chunksOf(bytes: Uint8Array): Chunk[] | null {
  if (!SIGNATURE.every((byte, at) => bytes[at] === byte)) return null
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const chunks: Chunk[] = []
  for (let at = 8; at + 12 <= bytes.length;) {
    const length = view.getUint32(at)
    if (at + 12 + length > bytes.length) return null
    chunks.push({
      type: String.fromCharCode(...bytes.subarray(at + 4, at + 8)),
      data: bytes.subarray(at + 8, at + 8 + length),
    })
    at += 12 + length
  }
  return chunks
}

/** @returns null for what is no PNG, or one with a palette, fewer than 8 bits, a colour that is see-through, or interlaced. */
export function rowsOfPng(bytes: Uint8Array): RowReader | null {
  const chunks = chunksOf(bytes)
  const header = chunks?.[0]
  if (!chunks || header?.type !== 'IHDR' || header.data.length !== 13) return null
  const view = new DataView(header.data.buffer, header.data.byteOffset, 13)
  const [width, height, depth, color, interlace] = [
    view.getUint32(0),
    view.getUint32(4),
    view.getUint8(8),
    view.getUint8(9),
    view.getUint8(12),
  ]
  const channels = CHANNELS[color]
  if (!channels || (depth !== 8 && depth !== 16) || interlace !== 0 || width === 0 || height === 0)
    return null
  if (chunks.some(({ type }) => type === 'tRNS' || type === 'acTL')) return null
  if (!chunks.some(({ type }) => type === 'IDAT')) return null
  const form: ImageForm = { width, height, channels, bits: depth }
  const unpacked = unpack(chunks.filter(({ type }) => type === 'IDAT').map(({ data }) => data))
  const step = (channels * depth) / 8
  const line = width * step
  let before: Uint8Array = new Uint8Array(line)
  let done = 0
  return {
    form,
    async next(rowCount) {
      const rows = Math.min(rowCount, height - done)
      if (rows <= 0) return null
      const values = new Uint8Array(rows * line)
      for (let row = 0; row < rows; row++) {
        const [filter] = await unpacked.take(1)
        const own = values.subarray(row * line, (row + 1) * line)
        own.set(await unpacked.take(line))
        unfilter(own, before, filter!, step)
        before = own
      }
      before = before.slice()
      done += rows
      return { ...form, height: rows, values: depth === 8 ? values : fromBigEndian(values) }
    },
  }
}

/** Bytes of a deflated stream, as many as are asked for. */
function unpack(packed: readonly Uint8Array[]): { take: (length: number) => Promise<Uint8Array> } {
  function* fed(): Generator<Uint8Array> {
    for (const data of packed)
      for (let at = 0; at < data.length; at += CHUNK) yield data.subarray(at, at + CHUNK)
  }
  /** Begun when rows are asked for: an error of a stream that nobody reads would end the process. */
  let pieces: AsyncIterator<Uint8Array> | null = null
  const begin = (): AsyncIterator<Uint8Array> => {
    const stream = Readable.from(fed()).pipe(createInflate({ chunkSize: CHUNK }))
    // whoever reads is told of it; whoever has stopped reading doesn't want to know
    stream.on('error', () => undefined)
    return (stream as AsyncIterable<Uint8Array>)[Symbol.asyncIterator]()
  }
  let held: Uint8Array = new Uint8Array(0)
  return {
    async take(length) {
      if (held.length >= length) {
        const own = held.subarray(0, length)
        held = held.subarray(length)
        return own
      }
      const out = new Uint8Array(length)
      let filled = 0
      while (filled < length) {
        if (held.length === 0) {
          pieces ??= begin()
          const { value, done } = await pieces.next().catch((error: Error) => {
            throw new BrokenRows(error.message)
          })
          if (done) throw new BrokenRows('it ends early')
          held = value
          continue
        }
        const part = held.subarray(0, length - filled)
        out.set(part, filled)
        filled += part.length
        held = held.subarray(part.length)
      }
      return out
    },
  }
}

const paeth = (a: number, b: number, c: number): number => {
  const p = a + b - c
  const [pa, pb, pc] = [Math.abs(p - a), Math.abs(p - b), Math.abs(p - c)]
  return pa <= pb && pa <= pc ? a : pb <= pc ? b : c
}

function unfilter(own: Uint8Array, above: Uint8Array, filter: number, step: number): void {
  switch (filter) {
    case 0:
      return
    case 1:
      for (let at = step; at < own.length; at++) own[at] = own[at]! + own[at - step]!
      return
    case 2:
      for (let at = 0; at < own.length; at++) own[at] = own[at]! + above[at]!
      return
    case 3:
      for (let at = 0; at < own.length; at++)
        own[at] = own[at]! + (((at < step ? 0 : own[at - step]!) + above[at]!) >> 1)
      return
    case 4:
      for (let at = 0; at < own.length; at++)
        own[at] =
          own[at]! + paeth(at < step ? 0 : own[at - step]!, above[at]!, at < step ? 0 : above[at - step]!)
      return
    default:
      throw new BrokenRows('a row of it is packed in a way that isn’t known')
  }
}

function fromBigEndian(bytes: Uint8Array): Uint16Array {
  const values = new Uint16Array(bytes.length / 2)
  for (let at = 0; at < values.length; at++) values[at] = (bytes[2 * at]! << 8) | bytes[2 * at + 1]!
  return values
}

function toBigEndian(values: Uint16Array): Uint8Array {
  const bytes = new Uint8Array(values.length * 2)
  for (let at = 0; at < values.length; at++) {
    bytes[2 * at] = values[at]! >> 8
    bytes[2 * at + 1] = values[at]! & 255
  }
  return bytes
}

function chunk(type: string, data: Uint8Array): Uint8Array {
  const bytes = new Uint8Array(12 + data.length)
  const view = new DataView(bytes.buffer)
  view.setUint32(0, data.length)
  for (let at = 0; at < 4; at++) bytes[4 + at] = type.charCodeAt(at)
  bytes.set(data, 8)
  view.setUint32(8 + data.length, crc32(bytes.subarray(4, 8 + data.length)))
  return bytes
}

/** The row as it is predicted from the left, from above, or from both, whichever leaves least. */
function filtered(
  own: Uint8Array,
  above: Uint8Array,
  step: number,
  scratch: readonly Uint8Array[],
): Uint8Array {
  let best = scratch[0]!
  let least = Infinity
  for (const [kind, out] of scratch.entries()) {
    let sum = 0
    out[0] = kind === 0 ? 1 : kind === 1 ? 2 : 4
    for (let at = 0; at < own.length; at++) {
      const left = at < step ? 0 : own[at - step]!
      const guess =
        kind === 0
          ? left
          : kind === 1
            ? above[at]!
            : paeth(left, above[at]!, at < step ? 0 : above[at - step]!)
      const rest = (own[at]! - guess) & 255
      out[at + 1] = rest
      sum += rest < 128 ? rest : 256 - rest
    }
    if (sum < least) [least, best] = [sum, out]
  }
  return best
}

/** @param form of 8 or 16 bits. @param space said in the file for colours; what holds numbers says nothing. */
export function packPngRows(form: ImageForm, space: 'sRGB' | 'linear'): RowPacker {
  const { width, height, channels, bits } = form
  if (bits === 32) throw new Error('floats have no place in a PNG')
  const step = (channels * bits) / 8
  const line = width * step
  const stream = createDeflate({ level: LEVEL, chunkSize: CHUNK })
  const parts: Uint8Array[] = []
  stream.on('data', (piece: Buffer) => parts.push(chunk('IDAT', piece)))
  const over = once(stream, 'end')
  let before: Uint8Array = new Uint8Array(line)
  const scratch = [0, 1, 2].map(() => new Uint8Array(line + 1))
  return {
    async add({ values, height: rows }) {
      const bytes = bits === 16 ? toBigEndian(values as Uint16Array) : (values as Uint8Array)
      const out = Buffer.allocUnsafe(rows * (line + 1))
      for (let row = 0; row < rows; row++) {
        const own = bytes.subarray(row * line, (row + 1) * line)
        out.set(filtered(own, before, step, scratch), row * (line + 1))
        before = own
      }
      before = before.slice()
      if (!stream.write(out)) await once(stream, 'drain')
    },
    async end() {
      stream.end()
      await over
      const header = new Uint8Array(13)
      const view = new DataView(header.buffer)
      view.setUint32(0, width)
      view.setUint32(4, height)
      header[8] = bits
      header[9] = COLOR_TYPES[channels]
      const all = [
        SIGNATURE,
        chunk('IHDR', header),
        ...(space === 'sRGB' ? [COLOR_CHUNKS.sRGB] : []),
        ...parts,
        chunk('IEND', new Uint8Array(0)),
      ]
      const file = new Uint8Array(all.reduce((sum, { length }) => sum + length, 0))
      let at = 0
      for (const part of all) {
        file.set(part, at)
        at += part.length
      }
      return file
    },
  }
}
