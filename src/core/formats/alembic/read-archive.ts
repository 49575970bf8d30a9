/** Bytes of an Ogawa file as a tree; samples are views of them. Source: as in archive-tree.ts. */
import { halfToNumber } from '../../base/bytes/half.ts'
import { decodeLatin1, decodeUtf8 } from '../../base/bytes/text.ts'
import {
  ArchiveFault,
  POD_BYTES,
  PODS,
  type AbcArchive,
  type AbcObject,
  type AbcProperty,
  type AbcSample,
  type TimeSampling,
} from './archive-tree.ts'

export const MARK = 'Ogawa'
/** Of a place: it holds data and no group. */
const DATA_BIT = 0x80000000
/** Bytes of the key before each sample’s own. */
const KEY = 16
/** Behind the headers of objects: hashes of what is beneath. */
const HASHES = 32
const DEEPEST = 200
const MOST_OBJECTS = 200_000

export const isArchive = (bytes: Uint8Array): boolean =>
  bytes.length >= 16 && decodeLatin1(bytes, 0, 5) === MARK

interface Child {
  readonly isData: boolean
  readonly at: number
}

/** @throws ArchiveFault */
export function readArchive(bytes: Uint8Array): AbcArchive {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const check = (at: number, length: number): void => {
    if (!(at >= 0) || !(length >= 0) || at + length > bytes.length)
      throw new ArchiveFault('it ends too early')
  }
  const wide = (at: number): number => {
    check(at, 8)
    return view.getUint32(at, true) + (view.getUint32(at + 4, true) & 0x7fffffff) * 2 ** 32
  }
  if (bytes[5] !== 0xff) throw new ArchiveFault('it was not written to its end')

  const groupAt = (at: number): Child[] => {
    if (at === 0) return []
    const count = wide(at)
    check(at + 8, 8 * count)
    return Array.from({ length: count }, (_none, index) => {
      const place = at + 8 + 8 * index
      return { isData: (view.getUint32(place + 4, true) & DATA_BIT) !== 0, at: wide(place) }
    })
  }
  const dataAt = (child: Child | undefined): Uint8Array => {
    if (!child?.isData) throw new ArchiveFault('data is missing')
    if (child.at === 0) return new Uint8Array(0)
    const length = wide(child.at)
    check(child.at + 8, length)
    return bytes.subarray(child.at + 8, child.at + 8 + length)
  }
  const textOf = (data: Uint8Array, start = 0, end = data.length): string =>
    decodeUtf8(data, start, end) ?? decodeLatin1(data, start, end)

  const top = groupAt(wide(8))
  if (top.length < 6) throw new ArchiveFault('its root is damaged')
  const viewOf = (data: Uint8Array): DataView => new DataView(data.buffer, data.byteOffset, data.byteLength)

  const indexed = [''] // the first has no words
  const words = dataAt(top[5])
  for (let at = 0; at < words.length;) {
    const length = words[at++]!
    indexed.push(textOf(words, at, Math.min(words.length, at + length)))
    at += length
  }
  const samplings: TimeSampling[] = []
  const stated = dataAt(top[4])
  const statedView = viewOf(stated)
  for (let at = 0; at + 16 <= stated.length;) {
    const maxSample = statedView.getUint32(at, true)
    const perCycle = statedView.getFloat64(at + 4, true)
    const count = statedView.getUint32(at + 12, true)
    at += 16
    if (at + 8 * count > stated.length) break
    const times = Array.from({ length: count }, (_none, index) => statedView.getFloat64(at + 8 * index, true))
    at += 8 * count
    samplings.push({ maxSample, perCycle, times })
  }

  const sampleAt = (data: Uint8Array, dimensions: readonly number[]): AbcSample => ({
    bytes: data.length <= KEY ? data.subarray(data.length) : data.subarray(KEY),
    dimensions,
  })

  const readProperties = (group: readonly Child[], depth: number): AbcProperty[] => {
    if (depth > DEEPEST) throw new ArchiveFault('properties lie too deep in each other')
    const last = group[group.length - 1]
    if (!last?.isData) return []
    const headers = dataAt(last)
    const headerView = viewOf(headers)
    const properties: AbcProperty[] = []
    let at = 0
    const need = (length: number): void => {
      if (at + length > headers.length) throw new ArchiveFault('a list of properties is cut')
    }
    const hinted = (hint: number): number => {
      const size = [1, 2, 4][hint]
      if (size === undefined) throw new ArchiveFault('a list of properties is damaged')
      need(size)
      const value = size === 1 ? headers[at]! : size === 2 ? headerView.getUint16(at, true) : headerView.getUint32(at, true) // prettier-ignore
      at += size
      return value
    }
    const text = (length: number): string => {
      need(length)
      at += length
      return textOf(headers, at - length, at)
    }
    while (at < headers.length) {
      need(4)
      const info = headerView.getUint32(at, true)
      at += 4
      const type = info & 3
      const hint = (info >> 2) & 3
      let [count, firstChanged, lastChanged, timeSampling] = [0, 0, 0, 0]
      if (type !== 0) {
        count = hinted(hint)
        firstChanged = 1
        lastChanged = Math.max(0, count - 1)
        if (info & 0x200) {
          firstChanged = hinted(hint)
          lastChanged = hinted(hint)
        } else if (info & 0x800) firstChanged = lastChanged = 0
        if (info & 0x100) timeSampling = hinted(hint)
      }
      const name = text(hinted(hint))
      const number = (info >>> 20) & 0xff
      const metadata = number === 0xff ? text(hinted(hint)) : (indexed[number] ?? '')
      const child = group[properties.length]
      if (!child || child.isData) throw new ArchiveFault('a property is missing')
      const own = groupAt(child.at)
      if (type === 0) {
        properties.push({ kind: 'compound', name, metadata, properties: readProperties(own, depth + 1) })
        continue
      }
      const pod = PODS[(info >> 4) & 15]
      if (!pod) throw new ArchiveFault('a property is of an unknown kind')
      const extent = (info >> 12) & 0xff
      const isArray = type !== 1
      const stored =
        count === 0 ? 0 : firstChanged === 0 && lastChanged === 0 ? 1 : lastChanged - firstChanged + 2
      const present = isArray ? own.length >> 1 : own.length
      const samples: AbcSample[] = []
      for (let index = 0; index < Math.min(stored, present); index++) {
        if (!isArray) {
          samples.push(sampleAt(dataAt(own[index]), []))
          continue
        }
        const lengths = dataAt(own[2 * index + 1])
        const lengthView = viewOf(lengths)
        const dimensions = Array.from({ length: lengths.length >> 3 }, (_none, dimension) =>
          Number(lengthView.getBigUint64(8 * dimension, true)),
        )
        samples.push(sampleAt(dataAt(own[2 * index]), dimensions))
      }
      properties.push({
        kind: isArray ? 'array' : 'scalar',
        name,
        metadata,
        pod,
        extent: Math.max(1, extent),
        samples,
        count,
        firstChanged,
        lastChanged,
        timeSampling,
      })
    }
    return properties
  }

  let objects = 0
  const readObject = (group: readonly Child[], name: string, metadata: string, depth: number): AbcObject => {
    if (depth > DEEPEST) throw new ArchiveFault('objects lie too deep in each other')
    if (++objects > MOST_OBJECTS) throw new ArchiveFault('it has more objects than can be')
    const [first] = group
    const properties = first && !first.isData ? readProperties(groupAt(first.at), depth) : []
    const children: AbcObject[] = []
    const last = group[group.length - 1]
    if (last?.isData) {
      const headers = dataAt(last)
      const headerView = viewOf(headers)
      const end = headers.length - HASHES
      const need = (from: number, length: number): void => {
        if (from + length > end) throw new ArchiveFault('a list of objects is cut')
      }
      for (let at = 0; at < end;) {
        need(at, 4)
        const length = headerView.getUint32(at, true)
        need(at + 4, length + 1)
        const own = textOf(headers, at + 4, at + 4 + length)
        at += 4 + length
        const number = headers[at++]!
        let words = indexed[number] ?? ''
        if (number === 0xff) {
          need(at, 4)
          const size = headerView.getUint32(at, true)
          need(at + 4, size)
          words = textOf(headers, at + 4, at + 4 + size)
          at += 4 + size
        }
        const child = group[children.length + 1]
        if (!child || child.isData) throw new ArchiveFault('an object is missing')
        children.push(readObject(groupAt(child.at), own, words, depth + 1))
      }
    }
    return { name, metadata, properties, children }
  }
  const versions = viewOf(dataAt(top[1]))
  return {
    version: versions.byteLength >= 4 ? versions.getInt32(0, true) : 0,
    metadata: textOf(dataAt(top[3])),
    samplings,
    root: readObject(groupAt(top[2]!.isData ? 0 : top[2]!.at), '', '', 0),
  }
}

/** Kinds that the language has arrays of (little-endian, as the layout is and all that Node runs on). */
const WHOLE: Partial<Record<keyof typeof POD_BYTES, typeof Float32Array | typeof Int32Array | typeof Uint32Array | typeof Float64Array>> = { float32: Float32Array, float64: Float64Array, int32: Int32Array, uint32: Uint32Array } // prettier-ignore

/** Numbers as they lie in a sample, of its own kind: not to be held on to. */
function asTheyLie(
  kind: NonNullable<(typeof WHOLE)['int32']>,
  bytes: Uint8Array,
): Float32Array | Float64Array | Int32Array | Uint32Array {
  // prettier-ignore
  const size = kind.BYTES_PER_ELEMENT
  // the layout aligns nothing: what lies between words is copied first
  const aligned = bytes.byteOffset % size === 0 ? bytes : new Uint8Array(bytes)
  return new kind(aligned.buffer as ArrayBuffer, aligned.byteOffset, Math.floor(bytes.length / size))
}

/** Whole numbers of a sample, in the file's own memory where they can be: not to be held on to. @throws ArchiveFault for texts. */
export function wholesOf(
  pod: keyof typeof POD_BYTES,
  bytes: Uint8Array,
): Int32Array | Uint32Array | Float64Array {
  // prettier-ignore
  return pod === 'int32' || pod === 'uint32'
    ? (asTheyLie(WHOLE[pod]!, bytes) as Int32Array | Uint32Array)
    : numbersOf(pod, bytes)
}

/** Numbers of a sample, flat. @throws ArchiveFault for texts. */
export function numbersOf(pod: keyof typeof POD_BYTES, bytes: Uint8Array): Float64Array {
  const size = POD_BYTES[pod]
  if (size === 0) throw new ArchiveFault('numbers are asked for where there is text')
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const values = new Float64Array(Math.floor(bytes.length / size))
  const whole = WHOLE[pod]
  if (whole) {
    values.set(asTheyLie(whole, bytes))
    return values
  }
  for (let index = 0; index < values.length; index++) {
    const at = size * index
    switch (pod) {
      case 'bool':
      case 'uint8':
        values[index] = bytes[at]!
        break
      case 'int8':
        values[index] = view.getInt8(at)
        break
      case 'uint16':
        values[index] = view.getUint16(at, true)
        break
      case 'int16':
        values[index] = view.getInt16(at, true)
        break
      case 'uint64':
        values[index] = Number(view.getBigUint64(at, true))
        break
      case 'int64':
        values[index] = Number(view.getBigInt64(at, true))
        break
      default:
        values[index] = halfToNumber(view.getUint16(at, true))
    }
  }
  return values
}

/** Texts of a sample: each ends with a zero. */
export function textsOf(bytes: Uint8Array): string[] {
  const texts: string[] = []
  let from = 0
  for (let at = 0; at < bytes.length; at++)
    if (bytes[at] === 0) {
      texts.push(decodeUtf8(bytes, from, at) ?? decodeLatin1(bytes, from, at))
      from = at + 1
    }
  if (from < bytes.length) texts.push(decodeUtf8(bytes, from, bytes.length) ?? '')
  return texts
}
