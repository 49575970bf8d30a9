/** Entries of a PLY, element by element: each property a column of numbers. */
import { withDecimalPoint } from '../../base/bytes/decimal-commas.ts'
import { createNumberScan, parseNumbers } from '../../base/bytes/parse-number.ts'
import { decodeLatin1, firstLetters } from '../../base/bytes/text.ts'
import type { MessageCollector } from '../../base/messages/collector.ts'
import { TYPE_BYTES, type PlyElement, type PlyHeader, type PlyProperty, type PlyType } from './header.ts'

/** A property's values, one an entry, or a list an entry. */
export interface PlyColumn {
  readonly property: PlyProperty
  /** Of a list: where the values of each entry begin, entry count + 1. */
  readonly offsets: Uint32Array | null
  /** Doubles, but for polygons as most binary files have them. */
  readonly values: Float64Array | Int32Array | Uint32Array
}
export interface PlyEntries {
  readonly element: PlyElement
  /** Entries that are there. */
  readonly count: number
  readonly columns: readonly PlyColumn[]
}

/** Numbers one after the other, from text or bytes. */
interface NumberSource {
  /** Whether the line, or the file, has a number more. */
  readonly isThere: () => boolean
  /** NaN at the end. */
  readonly next: (type: PlyType) => number
  readonly ended: () => boolean
  /** How many more there can be. */
  readonly left: (type: PlyType) => number
}

function binarySource(bytes: Uint8Array, start: number, isLittle: boolean): NumberSource {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  let at = start
  let ended = false
  return {
    next: (type) => {
      const size = TYPE_BYTES[type]
      if (at + size > bytes.length) {
        ended = true
        return NaN
      }
      const from = at
      at += size
      switch (type) {
        case 'int8':
          return view.getInt8(from)
        case 'uint8':
          return view.getUint8(from)
        case 'int16':
          return view.getInt16(from, isLittle)
        case 'uint16':
          return view.getUint16(from, isLittle)
        case 'int32':
          return view.getInt32(from, isLittle)
        case 'uint32':
          return view.getUint32(from, isLittle)
        case 'float32':
          return view.getFloat32(from, isLittle)
        case 'float64':
          return view.getFloat64(from, isLittle)
      }
    },
    isThere: () => true,
    ended: () => ended,
    left: (type) => Math.floor((bytes.length - at) / TYPE_BYTES[type]),
  }
}

const isBlank = (byte: number): boolean => byte === 32 || (byte > 8 && byte < 14)

/** Numbers of a text, an entry a line, as all programs write it: what a line lacks is not taken from the next. */
interface LineSource extends NumberSource {
  /** Goes to the next line that holds anything; false at the end. */
  readonly nextLine: () => boolean
}

function textSource(bytes: Uint8Array, { end, line }: PlyHeader, messages: MessageCollector): LineSource {
  let at = end
  let lineEnd = end
  let lines = line - 1
  // a line at a time where all of it is numbers; one by one where something else stands among them
  let row = new Float64Array(64)
  let rowLength = -1
  let rowAt = 0
  const scan = createNumberScan()
  const missing = (): number => {
    messages.add('ply.few-numbers', {}, lines)
    return NaN
  }
  return {
    nextLine: () => {
      for (at = lineEnd; at < bytes.length; at = lineEnd) {
        lines++
        lineEnd = at
        while (lineEnd < bytes.length && bytes[lineEnd] !== 10 && bytes[lineEnd] !== 13) lineEnd++
        const stop = lineEnd
        lineEnd += bytes[lineEnd] === 13 && bytes[lineEnd + 1] === 10 ? 2 : 1
        while (at < stop && isBlank(bytes[at]!)) at++
        if (at >= stop) continue
        let found = parseNumbers(bytes, at, stop, row, scan)
        if (found > row.length) {
          row = new Float64Array(2 * found)
          found = parseNumbers(bytes, at, stop, row, scan)
        }
        rowLength = scan.badStart < 0 ? found : -1
        rowAt = 0
        return true
      }
      return false
    },
    next: () => {
      if (rowLength >= 0) return rowAt < rowLength ? row[rowAt++]! : missing()
      while (at < lineEnd && isBlank(bytes[at] ?? 10)) at++
      if (at >= lineEnd || at >= bytes.length) return missing()
      const from = at
      while (at < bytes.length && !isBlank(bytes[at]!)) at++
      const text = decodeLatin1(bytes, from, Math.min(at, from + 60))
      const pointed = withDecimalPoint(text)
      if (pointed) messages.add('file.commas', {}, lines)
      const value = Number(pointed ?? text)
      if (value === value) return value
      // what other programs write for numbers that are none
      if (/^[-+]?(nan|inf(inity)?)(\(.*\))?$/i.test(text))
        return /nan/i.test(text) ? NaN : text.startsWith('-') ? -Infinity : Infinity
      messages.add('ply.number', { text: firstLetters(text, 30) }, lines)
      return 0
    },
    isThere: () => {
      if (rowLength >= 0) return rowAt < rowLength
      while (at < lineEnd && isBlank(bytes[at] ?? 10)) at++
      return at < lineEnd && at < bytes.length
    },
    ended: () => false,
    left: () => Math.ceil((bytes.length - at) / 2),
  }
}

const growing = (expected: number): { push: (value: number) => void; done: () => Float64Array } => {
  let values = new Float64Array(Math.max(16, expected))
  let used = 0
  return {
    push: (value) => {
      if (used === values.length) {
        const larger = new Float64Array(2 * used)
        larger.set(values)
        values = larger
      }
      values[used++] = value
    },
    done: () => values.subarray(0, used),
  }
}

/** Values of a column, `from` to `to`. @param place of the first of them. */
function readColumn(
  view: DataView,
  type: PlyType,
  place: number,
  stride: number,
  isLittle: boolean,
  values: Float64Array,
  from: number,
  to: number,
): void {
  switch (type) {
    case 'float32':
      for (let at = from; at < to; at++, place += stride) values[at] = view.getFloat32(place, isLittle)
      break
    case 'float64':
      for (let at = from; at < to; at++, place += stride) values[at] = view.getFloat64(place, isLittle)
      break
    case 'uint8':
      for (let at = from; at < to; at++, place += stride) values[at] = view.getUint8(place)
      break
    case 'int8':
      for (let at = from; at < to; at++, place += stride) values[at] = view.getInt8(place)
      break
    case 'uint16':
      for (let at = from; at < to; at++, place += stride) values[at] = view.getUint16(place, isLittle)
      break
    case 'int16':
      for (let at = from; at < to; at++, place += stride) values[at] = view.getInt16(place, isLittle)
      break
    case 'uint32':
      for (let at = from; at < to; at++, place += stride) values[at] = view.getUint32(place, isLittle)
      break
    case 'int32':
      for (let at = from; at < to; at++, place += stride) values[at] = view.getInt32(place, isLittle)
  }
}

/** Bytes of entries that are read before the next column is. */
const BLOCK_BYTES = 16_384

/**
 * Columns of binary elements without lists are read in one go: with a call a number a million points take ten times as
 * long.
 */
function readFixed(
  element: PlyElement,
  bytes: Uint8Array,
  start: number,
  isLittle: boolean,
): { entries: PlyEntries; end: number } {
  const stride = element.properties.reduce((sum, { type }) => sum + TYPE_BYTES[type], 0)
  const there = stride === 0 ? 0 : Math.floor((bytes.length - start) / stride)
  const count = Math.min(element.count, there)
  const view = new DataView(bytes.buffer, bytes.byteOffset + start, count * stride)
  let offset = 0
  const places = element.properties.map(({ type }) => {
    const own = offset
    offset += TYPE_BYTES[type]
    return own
  })
  const columns = element.properties.map((property): PlyColumn & { values: Float64Array } => ({
    property,
    offsets: null,
    values: new Float64Array(count),
  }))
  // some entries at a time, so that those of the second column are still at hand after the first
  const step = Math.max(1, Math.floor(BLOCK_BYTES / Math.max(1, stride)))
  for (let from = 0; from < count; from += step)
    for (let column = 0; column < columns.length; column++)
      readColumn(
        view,
        columns[column]!.property.type,
        stride * from + places[column]!,
        stride,
        isLittle,
        columns[column]!.values,
        from,
        Math.min(count, from + step),
      )
  return { entries: { element, count, columns }, end: start + count * stride }
}

/** One list of few bytes a number, as polygons are written in nearly every binary file. */
function readPlainList(
  element: PlyElement,
  bytes: Uint8Array,
  start: number,
  isLittle: boolean,
): { entries: PlyEntries; end: number } | null {
  const [property] = element.properties
  if (element.properties.length !== 1 || property!.listType !== 'uint8') return null
  const { type } = property!
  if (type !== 'int32' && type !== 'uint32') return null
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const most = Math.min(element.count, bytes.length - start)
  const offsets = new Uint32Array(most + 1)
  const Numbers = type === 'int32' ? Int32Array : Uint32Array
  let values = new Numbers(Math.min(4 * most, Math.floor((bytes.length - start) / 4)))
  let used = 0
  let at = start
  let count = 0
  for (; count < most; count++) {
    const size = bytes[at]!
    if (at + 1 + 4 * size > bytes.length || at >= bytes.length) break
    if (used + size > values.length) {
      const larger = new Numbers(2 * values.length + size)
      larger.set(values)
      values = larger
    }
    at++
    // bits alone: what they stand for is the array's
    for (let k = 0; k < size; k++, at += 4) values[used++] = view.getInt32(at, isLittle)
    offsets[count + 1] = used
  }
  return {
    entries: {
      element,
      count,
      columns: [
        { property: property!, offsets: offsets.subarray(0, count + 1), values: values.subarray(0, used) },
      ],
    },
    end: at,
  }
}

/** @param messages told of elements that break off (`ply.cut`) and of what is no number (`ply.number`). */
export function readElements(bytes: Uint8Array, header: PlyHeader, messages: MessageCollector): PlyEntries[] {
  const isLittle = header.form === 'little'
  const found: PlyEntries[] = []
  const told = (element: PlyElement, count: number): void => {
    if (count < element.count)
      messages.add('ply.cut', { element: element.name, found: count, stated: element.count })
  }
  const text = header.form === 'ascii' ? textSource(bytes, header, messages) : null
  let at = header.end
  for (const element of header.elements) {
    if (!text) {
      const quick = element.properties.every(({ listType }) => listType === null)
        ? readFixed(element, bytes, at, isLittle)
        : readPlainList(element, bytes, at, isLittle)
      if (quick) {
        found.push(quick.entries)
        at = quick.end
        told(element, quick.entries.count)
        if (quick.entries.count < element.count) break
        continue
      }
    }
    const source = text ?? binarySource(bytes, at, isLittle)
    const lists = element.properties.map(({ listType, type }) => ({
      offsets: listType ? growing(Math.min(element.count, source.left(listType)) + 1) : null,
      values: growing(Math.min(element.count, source.left(type))),
    }))
    for (const { offsets } of lists) offsets?.push(0)
    let count = 0
    let bytesUsed = 0
    const totals = lists.map(() => 0)
    entries: for (; count < element.count; count++) {
      if (text && !text.nextLine()) break
      const row: number[][] = []
      let rowBytes = 0
      for (const { type, listType } of element.properties) {
        // a line may lack the lists that the head promises
        // a list that a line leaves out is an empty one
        const size = listType ? (source.isThere() ? source.next(listType) || 0 : 0) : 1
        if (source.ended()) break entries
        // a list of more than there is left is one that breaks off
        if (!(size >= 0) || size > source.left(type) || !Number.isInteger(size)) break entries
        const values: number[] = []
        for (let k = 0; k < size; k++) values.push(source.next(type))
        if (source.ended()) break entries
        row.push(values)
        rowBytes += (listType ? TYPE_BYTES[listType] : 0) + size * TYPE_BYTES[type]
      }
      if (element.properties.length === 0) break
      row.forEach((values, column) => {
        for (const value of values) lists[column]!.values.push(value)
        totals[column]! += values.length
        lists[column]!.offsets?.push(totals[column]!)
      })
      bytesUsed += rowBytes
    }
    at += bytesUsed
    found.push({
      element,
      count,
      columns: element.properties.map((property, column) => ({
        property,
        offsets: lists[column]!.offsets ? Uint32Array.from(lists[column]!.offsets!.done()) : null,
        values: lists[column]!.values.done(),
      })),
    })
    told(element, element.properties.length ? count : element.count)
    if (count < element.count && element.properties.length) break
  }
  return found
}
