/**
 * The binary form of FBX: records of 32-bit lengths below version 7500, of 64-bit lengths from there on.
 *
 * Source: the layout as published by several open-source readers, from memory; checked in tests against a
 * literal reading of the files of Debian's assimp-testmodels.
 */
import { decodeLatin1, decodeUtf8 } from '../../base/bytes/text.ts'
import type { ZlibCodec } from '../../base/bytes/zlib.ts'
import { KelboError, type MessageCollector } from '../../base/messages/collector.ts'
import { MOST_DEPTH, MOST_RECORDS, type FbxRecord, type FbxTree, type FbxValue } from './tree.ts'

/** Stands at byte 8 of every binary file; two blanks and a zero follow. */
const MARK = [...'FBX Binary'].map((letter) => letter.charCodeAt(0))

/** Bytes one array may unpack to, and all of a file together. */
const MOST_ARRAY_BYTES = 2 ** 31 - 1
const MOST_UNPACKED_BYTES = 2 ** 32

/** Whether bytes begin as the binary form does. */
export const isBinaryFbx = (bytes: Uint8Array): boolean =>
  bytes.length >= 27 && MARK.every((value, at) => bytes[8 + at] === value)

/** What a compressed array of `length` elements may at most take: deflate can't pack tighter than 1 to 1032. */
const DEFLATE_LIMIT = 1040

/** Typed arrays read memory in the machine's own order, the file is little-endian. */
const IS_LITTLE_ENDIAN = new Uint8Array(Uint32Array.of(1).buffer)[0] === 1

const EMPTY = new Float64Array(0)

/**
 * What is damaged is said with its byte, and reading goes on behind the record that holds it, as far as the
 * file's lengths still tell where that is.
 *
 * @throws KelboError `fbx.version` for files before 6.1, `fbx.header` where the beginning is damaged.
 */
export function readBinaryTree(bytes: Uint8Array, messages: MessageCollector, codec: ZlibCodec): FbxTree {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const version = view.getUint32(23, true)
  // a file copied as text has blanks where it had zeros, and nothing in it is where it was
  if (bytes[20] !== 0 || version >= 10000) throw new KelboError('fbx.header')
  if (version < 6100) throw new KelboError('fbx.version', { version: version / 1000 })
  const wide = version >= 7500
  const headLength = wide ? 25 : 13
  let recordCount = 0
  let unpackedTotal = 0
  let full = false

  const damaged = (at: number, what: string): null => {
    messages.add('fbx.damaged', { what }, null, at)
    return null
  }
  const long = (at: number): number => view.getUint32(at, true) + view.getUint32(at + 4, true) * 4294967296

  const names = new Map<number, string>()
  /** Names of records repeat: those of up to five bytes are decoded once. */
  function readName(at: number, length: number): string {
    if (length > 5) return readText(at, length)
    let key = length
    for (let k = 0; k < length; k++) key = key * 256 + bytes[at + k]!
    let name = names.get(key)
    if (name === undefined) names.set(key, (name = readText(at, length)))
    return name
  }
  function readText(at: number, length: number): string {
    if (length === 0) return ''
    const part = bytes.subarray(at, at + length)
    return decodeUtf8(part) ?? decodeLatin1(part)
  }

  /** Bytes as numbers. */
  function numbersFrom(kind: string, raw: Uint8Array, length: number): FbxValue {
    if (kind === 'b' || kind === 'c') return Int32Array.from(raw)
    const width = kind === 'd' || kind === 'l' ? 8 : 4
    if (IS_LITTLE_ENDIAN) {
      const aligned = raw.byteOffset % width === 0 ? raw : new Uint8Array(raw)
      const { buffer, byteOffset } = aligned
      if (kind === 'd') return new Float64Array(buffer, byteOffset, length)
      if (kind === 'i') return new Int32Array(buffer, byteOffset, length)
      if (kind === 'f') return Float64Array.from(new Float32Array(buffer, byteOffset, length))
      return Float64Array.from(new BigInt64Array(buffer, byteOffset, length), Number)
    }
    const data = new DataView(raw.buffer, raw.byteOffset, raw.byteLength)
    if (kind === 'i') return Int32Array.from({ length }, (_value, k) => data.getInt32(4 * k, true))
    return Float64Array.from({ length }, (_value, k) =>
      kind === 'd'
        ? data.getFloat64(8 * k, true)
        : kind === 'f'
          ? data.getFloat32(4 * k, true)
          : Number(data.getBigInt64(8 * k, true)),
    )
  }

  function readArray(kind: string, at: number, end: number): { value: FbxValue; next: number } | null {
    if (at + 12 > end) return damaged(at, 'an array’s head is cut')
    const length = view.getUint32(at, true)
    const encoding = view.getUint32(at + 4, true)
    const packed = view.getUint32(at + 8, true)
    const width = kind === 'd' || kind === 'l' ? 8 : kind === 'b' || kind === 'c' ? 1 : 4
    const start = at + 12
    const unpackedBytes = length * width
    const storedBytes = encoding === 1 ? packed : unpackedBytes
    if (start + storedBytes > end) return damaged(at, 'an array is longer than the file')
    // an array that can't be had is an empty one: what stands behind it can be read
    const without = (what: string): { value: FbxValue; next: number } => {
      damaged(at, what)
      return { value: EMPTY, next: start + storedBytes }
    }
    if (
      unpackedBytes > MOST_ARRAY_BYTES ||
      (encoding === 1 && unpackedBytes > packed * DEFLATE_LIMIT + 64) ||
      (unpackedTotal += unpackedBytes) > MOST_UNPACKED_BYTES
    )
      return without('an array claims more than it can hold')
    let raw = bytes.subarray(start, start + storedBytes)
    if (encoding === 1)
      try {
        const { bytes: unpacked, sound } = codec.inflate(raw, unpackedBytes)
        if (unpacked.length !== unpackedBytes)
          return without('a compressed array has another length than it says')
        if (!sound) messages.add('fbx.checksum', {}, null, at)
        raw = unpacked
      } catch {
        return without('a compressed array can’t be unpacked')
      }
    return { value: numbersFrom(kind, raw, length), next: start + storedBytes }
  }

  function readValue(at: number, end: number): { value: FbxValue; next: number } | null {
    const kind = String.fromCharCode(bytes[at]!)
    const start = at + 1
    const fits = (length: number): boolean => start + length <= end
    switch (kind) {
      case 'Y':
        return fits(2)
          ? { value: view.getInt16(start, true), next: start + 2 }
          : damaged(at, 'a value is cut')
      case 'C':
      case 'B':
        return fits(1) ? { value: (bytes[start]! & 1) === 1, next: start + 1 } : damaged(at, 'a value is cut')
      case 'I':
        return fits(4)
          ? { value: view.getInt32(start, true), next: start + 4 }
          : damaged(at, 'a value is cut')
      case 'F':
        return fits(4)
          ? { value: view.getFloat32(start, true), next: start + 4 }
          : damaged(at, 'a value is cut')
      case 'D':
        return fits(8)
          ? { value: view.getFloat64(start, true), next: start + 8 }
          : damaged(at, 'a value is cut')
      case 'L': {
        if (!fits(8)) return damaged(at, 'a value is cut')
        const value = view.getBigInt64(start, true)
        const plain = Number(value)
        return { value: Number.isSafeInteger(plain) ? plain : value, next: start + 8 }
      }
      case 'S':
      case 'R': {
        if (!fits(4)) return damaged(at, 'a value is cut')
        const length = view.getUint32(start, true)
        if (!fits(4 + length)) return damaged(at, 'a text is longer than the file')
        return {
          value: kind === 'S' ? readText(start + 4, length) : bytes.subarray(start + 4, start + 4 + length),
          next: start + 4 + length,
        }
      }
      case 'f':
      case 'd':
      case 'l':
      case 'i':
      case 'b':
      case 'c':
        return readArray(kind, start, end)
      default:
        return damaged(at, `a value of the unknown kind ${bytes[at]!}`)
    }
  }

  /**
   * @param cut the file ends before what holds the record does, so that its own length may lead too far.
   * @returns null at a record of nothing, which ends a list, and where the next one can't be found.
   */
  function readRecord(
    at: number,
    limit: number,
    depth: number,
    cut: boolean,
  ): { record: FbxRecord; next: number } | null {
    if (at + headLength > limit) return damaged(at, 'a record is cut')
    let end = wide ? long(at) : view.getUint32(at, true)
    if (end === 0) return null
    const valueCount = wide ? long(at + 8) : view.getUint32(at + 4, true)
    const valueBytes = wide ? long(at + 16) : view.getUint32(at + 8, true)
    const nameLength = bytes[at + headLength - 1]!
    const valuesAt = at + headLength + nameLength
    const isCut = end > limit && (cut || depth === 0)
    if (isCut) {
      damaged(at, 'the file ends inside a record')
      end = limit
    }
    if (end > limit || end <= at || valuesAt > end)
      return damaged(at, 'a record is longer than what holds it')
    if (depth > MOST_DEPTH) return damaged(at, 'records are nested too deeply')
    if (++recordCount > MOST_RECORDS) {
      if (!full) damaged(at, 'there are too many records')
      full = true
      return null
    }
    const values: FbxValue[] = []
    let kinds = ''
    const valuesEnd = Math.min(valuesAt + valueBytes, end)
    if (valuesAt + valueBytes > end && !isCut) damaged(at, 'a record’s values are longer than the record')
    let place = valuesAt
    // a value takes a byte at least
    for (let k = 0; k < valueCount && place < valuesEnd; k++) {
      const read = readValue(place, valuesEnd)
      if (!read) break
      values.push(read.value)
      kinds += String.fromCharCode(bytes[place]!)
      place = read.next
    }
    const children: FbxRecord[] = []
    let child = valuesEnd
    while (child < end) {
      const read = readRecord(child, end, depth + 1, isCut)
      if (!read) break
      children.push(read.record)
      child = read.next
    }
    return {
      record: {
        name: readName(at + headLength, nameLength),
        values,
        kinds,
        children,
        opens: valuesEnd < end,
        place: at,
      },
      next: end,
    }
  }

  const records: FbxRecord[] = []
  let at = 27
  while (at < bytes.length) {
    const read = readRecord(at, bytes.length, 0, true)
    if (!read) break
    records.push(read.record)
    at = read.next
  }
  return { form: 'binary', version, records }
}
