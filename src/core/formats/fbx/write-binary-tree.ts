/**
 * Records to the binary form of FBX. The same records give the same bytes: times and identities are fixed.
 *
 * Source: the layout as published by several open-source writers, from memory: records end with a record of
 * nothing where they have children, arrays are packed with zlib, and the file closes with a fixed footer.
 */
import { encodeUtf8 } from '../../base/bytes/text.ts'
import type { ZlibCodec } from '../../base/bytes/zlib.ts'
import { isTyped, isTypedArray, type WriteRecord, type WriteValue } from './write-tree.ts'

/** Arrays shorter than this gain nothing by packing. */
const LEAST_PACKED_BYTES = 128

const FOOTER_ID = [
  0xfa, 0xbc, 0xab, 0x09, 0xd0, 0xc8, 0xd4, 0x66, 0xb1, 0x76, 0xfb, 0x83, 0x1c, 0xf7, 0x26, 0x7e,
]
const FOOTER_END = [
  0xf8, 0x5a, 0x8c, 0x6a, 0xde, 0xf5, 0xd9, 0x7e, 0xec, 0xe9, 0x0c, 0xe3, 0x75, 0x8f, 0x29, 0x0b,
]

/** The 23 bytes that every binary file begins with; the first word is the format's own mark, spelled by number. */
const HEADER = [
  0x4b, 0x61, 0x79, 0x64, 0x61, 0x72, 0x61, 0x20, 0x46, 0x42, 0x58, 0x20, 0x42, 0x69, 0x6e, 0x61, 0x72, 0x79,
  0x20, 0x20, 0x00, 0x1a, 0x00,
]

/** An array's elements as the file stores them, and the letter of their kind. */
function rawArray(value: WriteValue): RawArray | null {
  const plain = (letter: string, array: Float64Array | Int32Array | Float32Array | BigInt64Array) => ({
    letter,
    length: array.length,
    raw: new Uint8Array(array.buffer, array.byteOffset, array.byteLength),
  })
  if (value instanceof Float64Array) return plain('d', value)
  if (value instanceof Int32Array) return plain('i', value)
  if (!isTypedArray(value)) return null
  if (value.kind === 'floats') return plain('f', Float32Array.from(value.values))
  if (value.kind === 'longs')
    return plain('l', BigInt64Array.from(Array.from(value.values, (number) => BigInt(Math.round(number)))))
  return { letter: 'b', length: value.values.length, raw: Uint8Array.from(value.values) }
}

function withLength(letter: string, content: Uint8Array): Uint8Array {
  const bytes = new Uint8Array(5 + content.length)
  bytes[0] = letter.charCodeAt(0)
  new DataView(bytes.buffer).setUint32(1, content.length, true)
  bytes.set(content, 5)
  return bytes
}

/** Arrays larger than this are tried on a piece first. */
const TRIED_BYTES = 2 ** 18
const PIECE_BYTES = 2 ** 15
/** What saves less than a quarter isn't packed: it takes three times as long as what packs well, both ways. */
const WORTH_PACKING = 0.75

/** Whole numbers that pack no better than this hold no patterns: lists of indices, which have runs of zeros alone. */
const PATTERNED = 0.3

/** What packing a piece from the middle leaves of it; 0 for arrays that are too small to try. */
function tryPacking(raw: Uint8Array, codec: ZlibCodec): number {
  if (raw.length < TRIED_BYTES) return 0
  const start = (raw.length >> 1) & ~7
  return codec.deflate(raw.subarray(start, start + PIECE_BYTES)).length / PIECE_BYTES
}

function sameBytes(a: Uint8Array, b: Uint8Array): boolean {
  if (a.length !== b.length) return false
  if (a.byteOffset % 4 !== 0 || b.byteOffset % 4 !== 0) return a.every((byte, at) => byte === b[at])
  // four bytes at a time
  const length = a.length >> 2
  const x = new Int32Array(a.buffer, a.byteOffset, length)
  const y = new Int32Array(b.buffer, b.byteOffset, length)
  for (let at = 0; at < length; at++) if (x[at] !== y[at]) return false
  for (let at = length << 2; at < a.length; at++) if (a[at] !== b[at]) return false
  return true
}

interface RawArray {
  readonly letter: string
  readonly length: number
  readonly raw: Uint8Array
}

/**
 * All arrays of the records with their packed bytes. Arrays of the same bytes are packed once: lists of indices
 * over corners are often the same for UVs and normals, and packing takes most of the time of writing.
 */
function packArrays(
  records: readonly WriteRecord[],
  codec: ZlibCodec,
  packAll: boolean,
): ReadonlyMap<WriteValue, { array: RawArray; packed: Uint8Array | null }> {
  const found = new Map<WriteValue, { array: RawArray; twin: number }>()
  const distinct: Uint8Array[] = []
  const runsOnly: boolean[] = []
  const byLength = new Map<number, number[]>()
  const collect = (record: WriteRecord): void => {
    for (const value of record.values) {
      if (found.has(value)) continue
      const array = rawArray(value)
      if (!array) continue
      if (array.raw.length < LEAST_PACKED_BYTES) {
        found.set(value, { array, twin: -1 })
        continue
      }
      const alike = byLength.get(array.raw.length) ?? []
      let twin = alike.find((place) => sameBytes(distinct[place]!, array.raw))
      if (twin === undefined) {
        const left = tryPacking(array.raw, codec)
        if (left >= WORTH_PACKING && !packAll) twin = -1
        else {
          twin = distinct.push(array.raw) - 1
          runsOnly.push(array.letter === 'i' && left > PATTERNED)
          // of many small ones of one length the first few are looked at
          if (alike.length < 8) byLength.set(array.raw.length, [...alike, twin])
        }
      }
      found.set(value, { array, twin })
    }
    record.children.forEach(collect)
  }
  records.forEach(collect)
  const packed = codec.deflateAll?.(distinct, runsOnly) ?? distinct.map((raw) => codec.deflate(raw))
  return new Map(
    [...found].map(([value, { array, twin }]) => [value, { array, packed: twin < 0 ? null : packed[twin]! }]),
  )
}

/** A value's bytes, its kind's letter first, in pieces: large arrays are copied once, into the file. */
function encodeValue(value: WriteValue, arrays: ReturnType<typeof packArrays>): Uint8Array[] {
  const small = (letter: string, length: number, set: (view: DataView) => void): Uint8Array[] => {
    const bytes = new Uint8Array(1 + length)
    bytes[0] = letter.charCodeAt(0)
    set(new DataView(bytes.buffer, 1))
    return [bytes]
  }
  if (typeof value === 'boolean') return small('C', 1, (view) => view.setUint8(0, value ? 1 : 0))
  if (typeof value === 'bigint') return small('L', 8, (view) => view.setBigInt64(0, value, true))
  if (typeof value === 'number') return small('D', 8, (view) => view.setFloat64(0, value, true))
  if (typeof value === 'string') return [withLength('S', encodeUtf8(value))]
  if (value instanceof Uint8Array) return [withLength('R', value)]
  if (isTyped(value)) {
    const number = Number(value.value)
    if (value.kind === 'int') return small('I', 4, (view) => view.setInt32(0, number, true))
    if (value.kind === 'short') return small('Y', 2, (view) => view.setInt16(0, number, true))
    if (value.kind === 'float') return small('F', 4, (view) => view.setFloat32(0, number, true))
    if (value.kind === 'long') return small('L', 8, (view) => view.setBigInt64(0, BigInt(value.value), true))
    return small('D', 8, (view) => view.setFloat64(0, number, true))
  }
  const { array, packed } = arrays.get(value)!
  const { letter, length } = array
  const stored = packed ?? array.raw
  const bytes = new Uint8Array(13)
  const view = new DataView(bytes.buffer)
  bytes[0] = letter.charCodeAt(0)
  view.setUint32(1, length, true)
  view.setUint32(5, packed ? 1 : 0, true)
  view.setUint32(9, stored.length, true)
  return [bytes, stored]
}

interface Encoded {
  readonly name: Uint8Array
  readonly valueCount: number
  readonly pieces: readonly Uint8Array[]
  readonly valueBytes: number
  readonly children: readonly Encoded[]
  /** Bytes of the whole record. */
  readonly length: number
}

/**
 * @param version 7400 (32-bit lengths) or 7500 (64-bit).
 * @param packAll pack arrays that hardly become smaller by it as well.
 */
export function writeBinaryTree(
  records: readonly WriteRecord[],
  version: 7400 | 7500,
  codec: ZlibCodec,
  packAll = false,
): Uint8Array {
  const wide = version >= 7500
  const headLength = wide ? 25 : 13
  const arrays = packArrays(records, codec, packAll)
  const encode = ({ name, values, children, opens }: WriteRecord): Encoded => {
    const encodedName = encodeUtf8(name)
    const pieces = values.flatMap((value) => encodeValue(value, arrays))
    const encodedChildren = children.map(encode)
    const valueBytes = pieces.reduce((sum, piece) => sum + piece.length, 0)
    const below = encodedChildren.reduce((sum, child) => sum + child.length, 0)
    return {
      name: encodedName,
      valueCount: values.length,
      pieces,
      valueBytes,
      children: encodedChildren,
      // a list of children ends with a record of nothing
      length: headLength + encodedName.length + valueBytes + below + (opens ? headLength : 0),
    }
  }
  const all = records.map(encode)
  const bodyEnd = 27 + all.reduce((sum, entry) => sum + entry.length, 0) + headLength
  const afterId = bodyEnd + 20
  const padding = 16 - (afterId % 16)
  const bytes = new Uint8Array(afterId + padding + 4 + 120 + 16)
  const view = new DataView(bytes.buffer)
  bytes.set(HEADER)
  view.setUint32(23, version, true)
  let at = 27
  const put = (entry: Encoded): void => {
    const end = at + entry.length
    if (wide) {
      view.setBigUint64(at, BigInt(end), true)
      view.setBigUint64(at + 8, BigInt(entry.valueCount), true)
      view.setBigUint64(at + 16, BigInt(entry.valueBytes), true)
    } else {
      view.setUint32(at, end, true)
      view.setUint32(at + 4, entry.valueCount, true)
      view.setUint32(at + 8, entry.valueBytes, true)
    }
    bytes[at + headLength - 1] = entry.name.length
    at += headLength
    bytes.set(entry.name, at)
    at += entry.name.length
    for (const piece of entry.pieces) {
      bytes.set(piece, at)
      at += piece.length
    }
    for (const child of entry.children) put(child)
    at = end
  }
  for (const entry of all) put(entry)
  at = bodyEnd
  bytes.set(FOOTER_ID, at)
  at = afterId + padding
  view.setUint32(at, version, true)
  bytes.set(FOOTER_END, at + 124)
  return bytes
}
