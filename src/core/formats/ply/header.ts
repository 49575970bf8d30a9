/** The head of a PLY: which elements it has, with which properties. Source: G. Turk, “The PLY Polygon File Format” (1994). */
import { decodeLatin1, decodeUtf8 } from '../../base/bytes/text.ts'
import { KelboError } from '../../base/messages/collector.ts'

/** Numbers as the format names them, in both of its spellings. */
export type PlyType = 'int8' | 'uint8' | 'int16' | 'uint16' | 'int32' | 'uint32' | 'float32' | 'float64'

const TYPES: Readonly<Record<string, PlyType>> = {
  char: 'int8',
  uchar: 'uint8',
  short: 'int16',
  ushort: 'uint16',
  int: 'int32',
  uint: 'uint32',
  float: 'float32',
  double: 'float64',
  int8: 'int8',
  uint8: 'uint8',
  int16: 'int16',
  uint16: 'uint16',
  int32: 'int32',
  uint32: 'uint32',
  float32: 'float32',
  float64: 'float64',
}
export const TYPE_BYTES: Readonly<Record<PlyType, number>> = {
  int8: 1,
  uint8: 1,
  int16: 2,
  uint16: 2,
  int32: 4,
  uint32: 4,
  float32: 4,
  float64: 8,
}

export interface PlyProperty {
  readonly name: string
  readonly type: PlyType
  /** Type of the number of values before them; null: one value. */
  readonly listType: PlyType | null
}
export interface PlyElement {
  readonly name: string
  readonly count: number
  readonly properties: readonly PlyProperty[]
}
export interface PlyHeader {
  readonly form: 'ascii' | 'little' | 'big'
  readonly comments: readonly string[]
  readonly elements: readonly PlyElement[]
  /** Where the entries begin. */
  readonly end: number
  /** Number of the line that the entries begin in. */
  readonly line: number
}

/** Lines and bytes that a head has at most; what goes on is none. */
const MOST_BYTES = 1 << 20
const FORMS: Readonly<Record<string, PlyHeader['form']>> = {
  ascii: 'ascii',
  binary_little_endian: 'little',
  binary_big_endian: 'big',
}

/** @throws KelboError `file.empty`, `file.not-a-model`, `ply.header`. */
export function readHeader(bytes: Uint8Array, fileName: string): PlyHeader {
  if (bytes.length === 0) throw new KelboError('file.empty', {}, fileName)
  const unreadable = (what: string): KelboError => new KelboError('ply.header', { what }, fileName)
  let form: PlyHeader['form'] | null = null
  const comments: string[] = []
  const elements: { name: string; count: number; properties: PlyProperty[] }[] = []
  let at = 0
  for (let line = 1; at < Math.min(bytes.length, MOST_BYTES); line++) {
    let end = at
    while (end < bytes.length && bytes[end] !== 10 && bytes[end] !== 13) end++
    const stop = Math.min(end, at + 4096)
    const text = (decodeUtf8(bytes, at, stop) ?? decodeLatin1(bytes, at, stop)).trim()
    // lines end as on any system, once for the whole head
    at = bytes[end] === 13 && bytes[end + 1] === 10 ? end + 2 : end + 1
    const [word, ...rest] = text.split(/\s+/)
    if (line === 1) {
      if (word !== 'ply') throw new KelboError('file.not-a-model', {}, fileName)
      continue
    }
    if (word === 'end_header') {
      if (!form) throw unreadable('it doesn’t say whether it is text or binary')
      if (elements.length === 0) throw unreadable('it names nothing that would follow')
      // a file may end with its head, whose last line is then not ended
      return { form, comments, elements, end: Math.min(at, bytes.length), line: line + 1 }
    }
    if (word === 'comment' || word === 'obj_info') comments.push(text.slice(word.length).trim())
    else if (word === 'format') {
      form = FORMS[rest[0] ?? ''] ?? null
      if (!form) throw unreadable(`“${rest[0] ?? ''}” is no form that is known`)
    } else if (word === 'element') {
      const count = Number(rest[1])
      if (!rest[0] || !Number.isSafeInteger(count) || count < 0)
        throw unreadable(`line ${line} doesn’t say how many of what follow`)
      elements.push({ name: rest[0], count, properties: [] })
    } else if (word === 'property') {
      const isList = rest[0] === 'list'
      const type = TYPES[(isList ? rest[2] : rest[0]) ?? '']
      const listType = isList ? TYPES[rest[1] ?? ''] : null
      const name = isList ? rest[3] : rest[1]
      const element = elements.at(-1)
      if (!type || listType === undefined || !name || !element)
        throw unreadable(`line ${line} names no property that is known`)
      element.properties.push({ name, type, listType })
    }
    // some programs forget the word before what they say of themselves
    else if (text) comments.push(text)
  }
  throw unreadable('it has no end')
}
