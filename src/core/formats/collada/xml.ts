/**
 * XML of a COLLADA as elements. Lists of numbers, which are nearly all of a file, are not taken through the parser: their
 * bytes are cut out first and read as numbers when they are asked for. Entities are not resolved, nothing is fetched.
 */
import { SaxesParser } from 'saxes'
import { withDecimalPoints } from '../../base/bytes/decimal-commas.ts'
import { growingFloat64, reserveFloat64 } from '../../base/bytes/growing.ts'
import { parseReals } from '../../base/bytes/number-lists.ts'
import { createNumberScan, parseNumbers } from '../../base/bytes/parse-number.ts'
import {
  decodeLatin1,
  decodeUtf8,
  encodeUtf8,
  normalizeTextBytes,
  firstLetters,
} from '../../base/bytes/text.ts'
import { KelboError, type MessageCollector } from '../../base/messages/collector.ts'
import type { PieceReader } from '../descriptor.ts'
import { createListReader, type NumberList, type Range } from './list-reader.ts'

export interface XmlElement {
  readonly name: string
  readonly attributes: Readonly<Record<string, string>>
  readonly children: XmlElement[]
  /** Text directly inside. */
  text: string
  /** Bytes of a list of numbers: where it begins and ends. */
  readonly range: Range | null
  readonly line: number
}

export interface XmlDocument {
  readonly root: XmlElement
  /** Numbers of a list; what is none is 0 and told. */
  readonly numbers: (element: XmlElement | null) => Float64Array
  /** The same of a list that should hold whole numbers alone. */
  readonly indices: (element: XmlElement | null) => NumberList
  /** An element of the file as it stands there; null where it can't be found. */
  readonly source: (name: string) => string[]
  /** No list is asked for any more. */
  readonly end: () => void
}

/** Elements of a document at most, and how deep they lie. */
const MOST_ELEMENTS = 2_000_000
const DEEPEST = 300

const LISTS = ['float_array', 'int_array', 'vcount', 'p', 'h', 'v']
const [LESS, GREATER, SLASH, BANG, QUOTE, APOSTROPHE] = [60, 62, 47, 33, 34, 39]

/** Where lists of numbers lie, in the order of their elements. Comments and blocks of characters are passed over. */
function listRanges(bytes: Uint8Array): [number, number][] {
  const ranges: [number, number][] = []
  const starts = (at: number, word: string): boolean => {
    for (let k = 0; k < word.length; k++) if (bytes[at + k] !== word.charCodeAt(k)) return false
    return true
  }
  const after = (at: number, word: string): number => {
    for (let place = at; place < bytes.length; place++) if (starts(place, word)) return place + word.length
    return bytes.length
  }
  for (let at = 0; at < bytes.length;) {
    at = bytes.indexOf(LESS, at)
    if (at < 0) break
    if (bytes[at + 1] === BANG) {
      at = starts(at, '<!--') ? after(at, '-->') : starts(at, '<![CDATA[') ? after(at, ']]>') : at + 2
      continue
    }
    let name = at + 1
    while (name < bytes.length && bytes[name]! > 32 && bytes[name] !== GREATER && bytes[name] !== SLASH)
      name++
    const word = decodeLatin1(bytes, at + 1, Math.min(name, at + 40)).replace(/^.*:/, '')
    // a sign may stand in a value
    let quote = 0
    let end = name
    for (; end < bytes.length; end++) {
      const byte = bytes[end]!
      if (quote) {
        if (byte === quote) quote = 0
      } else if (byte === QUOTE || byte === APOSTROPHE) quote = byte
      else if (byte === GREATER) break
    }
    if (LISTS.includes(word) && bytes[end - 1] !== SLASH) {
      let stop = bytes.indexOf(LESS, end)
      if (stop < 0) stop = bytes.length
      // polygons with holes have their lists inside
      if (end + 1 < stop || word !== 'p') ranges.push([end + 1, stop])
      else ranges.push([end + 1, end + 1])
    }
    at = end + 1
  }
  return ranges
}

/**
 * @param pieces reads long lists of large files on several threads; null: in this one.
 * @throws KelboError `file.empty`, `collada.xml`.
 */
export function readXml(
  given: Uint8Array,
  fileName: string,
  messages: MessageCollector,
  pieces: PieceReader | null = null,
): XmlDocument {
  if (given.length === 0) throw new KelboError('file.empty', {}, fileName)
  const bytes = normalizeTextBytes(given)
  const ranges = listRanges(bytes)
  const root: XmlElement = { name: '', attributes: {}, children: [], text: '', range: null, line: 0 }
  const path = [root]
  let count = 0
  let nextRange = 0
  const refused = (what: string): KelboError => new KelboError('collada.xml', { what }, fileName)
  const parser = new SaxesParser({ xmlns: false, position: true })
  parser.on('error', (error) => {
    throw refused(`its XML is broken (${error.message.replace(/^\d+:\d+: /, '')}) in line ${parser.line}`)
  })
  parser.on('opentag', ({ name, attributes, isSelfClosing }) => {
    if (++count > MOST_ELEMENTS) throw refused(`it has more than ${MOST_ELEMENTS} elements`)
    if (path.length > DEEPEST) throw refused(`its elements lie more than ${DEEPEST} deep in each other`)
    const bare = name.replace(/^.*:/, '')
    const isList = LISTS.includes(bare) && !isSelfClosing
    const element: XmlElement = {
      name: bare,
      attributes,
      children: [],
      text: '',
      range: isList ? (ranges[nextRange++] ?? null) : null,
      line: parser.line,
    }
    path.at(-1)!.children.push(element)
    path.push(element)
  })
  parser.on('text', (text) => {
    path.at(-1)!.text += text
  })
  parser.on('cdata', (text) => {
    path.at(-1)!.text += text
  })
  parser.on('closetag', () => void path.pop())
  const feed = (from: number, to: number): void => {
    const text = decodeUtf8(bytes, from, to)
    parser.write(text ?? decodeLatin1(bytes, from, to))
  }
  let at = 0
  for (const [start, end] of ranges) {
    feed(at, start)
    at = end
  }
  feed(at, bytes.length)
  parser.close()
  if (root.children.length === 0) throw new KelboError('file.not-a-model', {}, fileName)

  const lists = createListReader(bytes, ranges, pieces)
  const indices = (element: XmlElement | null): NumberList =>
    element?.range
      ? (lists.read(element.range) ?? parseList(bytes, element.range, element.line, messages))
      : new Float64Array(0)
  return {
    root: root.children[0]!,
    numbers: (element) => {
      const found = indices(element)
      return found instanceof Float64Array ? found : new Float64Array(found)
    },
    indices,
    end: lists.end,
    source: (name) => {
      const found: string[] = []
      const text = (from: number, to: number): string =>
        decodeUtf8(bytes, from, to) ?? decodeLatin1(bytes, from, to)
      const close = encodeUtf8(`</${name}>`)
      const open = encodeUtf8(`<${name}`)
      const indexOf = (bytesOf: Uint8Array, from: number): number => {
        for (let place = bytes.indexOf(LESS, from); place >= 0; place = bytes.indexOf(LESS, place + 1))
          if (bytesOf.every((byte, k) => bytes[place + k] === byte)) return place
        return -1
      }
      for (let from = indexOf(open, 0); from >= 0;) {
        const next = bytes[from + open.length]!
        const isWhole = next === GREATER || next === SLASH || next <= 32
        const end = isWhole ? indexOf(close, from) : -1
        if (end < 0) break
        found.push(text(from, end + close.length))
        from = indexOf(open, end + close.length)
      }
      return found
    },
  }
}

/** A list in which something is no number, line by line. */
function parseList(
  bytes: Uint8Array,
  [start, end]: Range,
  line: number,
  messages: MessageCollector,
): Float64Array {
  const values = growingFloat64()
  const scan = createNumberScan()
  for (let at = start; at < end;) {
    const room = values.array.subarray(values.length)
    const found = parseNumbers(bytes, at, end, room, scan)
    if (found > room.length) {
      reserveFloat64(values, found)
      continue
    }
    if (scan.badStart >= 0) {
      const text = decodeLatin1(bytes, scan.badStart, Math.min(scan.badEnd, scan.badStart + 40))
      const own = text.includes(',') ? withDecimalPoints(bytes, start, end) : null
      if (own) {
        messages.add('file.commas', {}, line)
        return parseReals(own, 0, own.length) ?? parseList(own, [0, own.length], line, messages)
      }
      // NaN and INF are numbers of XML schema
      if (!/^-?(inf|nan)/i.test(text)) messages.add('collada.number', { text: firstLetters(text, 30) }, line)
    }
    values.length += found
    at = Math.max(scan.end + 1, at + 1)
  }
  return values.array.slice(0, values.length)
}

/** Children of a name. */
export const childrenOf = (element: XmlElement | null, name: string): XmlElement[] =>
  element?.children.filter((child) => child.name === name) ?? []
export const childOf = (element: XmlElement | null, name: string): XmlElement | null =>
  element?.children.find((child) => child.name === name) ?? null
/** The child at a path of names. */
export const descend = (element: XmlElement | null, ...names: readonly string[]): XmlElement | null =>
  names.reduce<XmlElement | null>((held, name) => childOf(held, name), element)
/** Numbers of a short text; empty where it has none. */
export const shortNumbers = (element: XmlElement | null): number[] =>
  // some programs write numbers as their system does, with a decimal comma
  (element?.text ?? '')
    .trim()
    .replace(/(\d),(\d)/g, '$1.$2')
    .split(/\s+/)
    .filter(Boolean)
    .map(Number)
    .filter(Number.isFinite)
/** Every element below one, itself first. */
export function* walk(element: XmlElement): Generator<XmlElement> {
  yield element
  for (const child of element.children) yield* walk(child)
}
