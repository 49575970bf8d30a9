/**
 * The binary form of FBX: records of 32-bit lengths below version 7500, of 64-bit lengths from there on.
 *
 * Source: the layout as published by several open-source readers, from memory; checked in tests against a
 * literal reading of the files of Debian's assimp-testmodels.
 */
import { unzlibSync } from 'fflate'
import { decodeLatin1, decodeUtf8 } from '../../bytes/text.ts'
import { KelboError, type MessageCollector } from '../../messages/collector.ts'
import { MOST_DEPTH, MOST_RECORDS, type FbxRecord, type FbxTree, type FbxValue } from './tree.ts'

/** Stands at byte 8 of every binary file; two blanks and a zero follow. */
const MARK = [...'FBX Binary'].map((letter) => letter.charCodeAt(0))

/** Bytes one array may unpack to. */
const MOST_ARRAY_BYTES = 2 ** 31 - 1

export const isBinaryFbx = (bytes: Uint8Array): boolean =>
  bytes.length >= 27 && MARK.every((value, at) => bytes[8 + at] === value)

/** What a compressed array of `length` elements may at most take: deflate can't pack tighter than 1 to 1032. */
const DEFLATE_LIMIT = 1040

/**
 * @throws KelboError `fbx.version` for files before 6.1, `fbx.header` where the beginning is damaged. What is damaged ends the reading where it stands,
 * with a finding; what was read until then is kept.
 */
export function readBinaryTree(bytes: Uint8Array, messages: MessageCollector): FbxTree {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const version = view.getUint32(23, true)
  // a file copied as text has blanks where it had zeros, and nothing in it is where it was
  if (bytes[20] !== 0 || version >= 10000) throw new KelboError('fbx.header')
  if (version < 6100) throw new KelboError('fbx.version', { version: version / 1000 })
  const wide = version >= 7500
  const headLength = wide ? 25 : 13
  let recordCount = 0
  let broken = false

  const damaged = (at: number, what: string): null => {
    if (!broken) messages.add('fbx.damaged', { what }, null, at)
    broken = true
    return null
  }
  const long = (at: number): number => Number(view.getBigUint64(at, true))

  function readText(at: number, length: number): string {
    const part = bytes.subarray(at, at + length)
    return decodeUtf8(part) ?? decodeLatin1(part)
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
    if (unpackedBytes > MOST_ARRAY_BYTES || (encoding === 1 && unpackedBytes > packed * DEFLATE_LIMIT + 64))
      return damaged(at, 'an array claims more than it can hold')
    let raw = bytes.subarray(start, start + storedBytes)
    if (encoding === 1)
      try {
        raw = unzlibSync(raw, { out: new Uint8Array(unpackedBytes) })
      } catch {
        return damaged(at, 'a compressed array can’t be unpacked')
      }
    if (raw.length !== unpackedBytes) return damaged(at, 'a compressed array has another length than it says')
    const data = new DataView(raw.buffer, raw.byteOffset, raw.byteLength)
    if (kind === 'i' || kind === 'b' || kind === 'c') {
      const values = new Int32Array(length)
      for (let k = 0; k < length; k++) values[k] = kind === 'i' ? data.getInt32(4 * k, true) : raw[k]!
      return { value: values, next: start + storedBytes }
    }
    const values = new Float64Array(length)
    for (let k = 0; k < length; k++)
      values[k] =
        kind === 'd'
          ? data.getFloat64(8 * k, true)
          : kind === 'f'
            ? data.getFloat32(4 * k, true)
            : Number(data.getBigInt64(8 * k, true))
    return { value: values, next: start + storedBytes }
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

  /** @returns null at a record of nothing, which ends a list, and where the file is damaged. */
  function readRecord(at: number, limit: number, depth: number): { record: FbxRecord; next: number } | null {
    if (at + headLength > limit) return damaged(at, 'a record is cut')
    const end = wide ? long(at) : view.getUint32(at, true)
    if (end === 0) return null
    const valueCount = wide ? long(at + 8) : view.getUint32(at + 4, true)
    const valueBytes = wide ? long(at + 16) : view.getUint32(at + 8, true)
    const nameLength = bytes[at + headLength - 1]!
    const valuesAt = at + headLength + nameLength
    if (end > limit || end <= at || valuesAt + valueBytes > end)
      return damaged(at, 'a record is longer than what holds it')
    if (depth > MOST_DEPTH) return damaged(at, 'records are nested too deeply')
    if (++recordCount > MOST_RECORDS) return damaged(at, 'there are too many records')
    const values: FbxValue[] = []
    const valuesEnd = valuesAt + valueBytes
    let place = valuesAt
    // a value takes a byte at least
    for (let k = 0; k < valueCount && place < valuesEnd && !broken; k++) {
      const read = readValue(place, valuesEnd)
      if (!read) break
      values.push(read.value)
      place = read.next
    }
    const children: FbxRecord[] = []
    let child = valuesEnd
    while (child < end && !broken) {
      const read = readRecord(child, end, depth + 1)
      if (!read) break
      children.push(read.record)
      child = read.next
    }
    return { record: { name: readText(at + headLength, nameLength), values, children, place: at }, next: end }
  }

  const records: FbxRecord[] = []
  let at = 27
  while (at < bytes.length && !broken) {
    const read = readRecord(at, bytes.length, 0)
    if (!read) break
    records.push(read.record)
    at = read.next
  }
  return { form: 'binary', version, records }
}
