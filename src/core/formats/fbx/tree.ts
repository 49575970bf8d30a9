/** An FBX file as it stands: named records with values, in a tree. What they mean is decided elsewhere. */
import { decodeBase64 } from '../../base/bytes/base64.ts'
import { joinBytes } from '../../base/bytes/byte-writer.ts'
import type { KeptRecord } from '../../scene/kept.ts'

/** Integers beyond what a double holds exactly stay bigint. */
export type FbxValue = number | bigint | boolean | string | Uint8Array | Float64Array | Int32Array

export interface FbxRecord {
  readonly name: string
  readonly values: readonly FbxValue[]
  /** The letter of each value's kind as the binary form has it; empty in the text form, which doesn't say. */
  readonly kinds: string
  readonly children: readonly FbxRecord[]
  /** It opens a list of its own, were it an empty one; a record of values alone has none. */
  readonly opens: boolean
  /** Byte offset (binary) or line (text) where it begins. */
  readonly place: number
}

export interface FbxTree {
  readonly form: 'binary' | 'text'
  /** 7400 is 7.4. */
  readonly version: number
  readonly records: readonly FbxRecord[]
}

/** Deeper nesting is no file that a tool writes. */
export const MOST_DEPTH = 64
/** Records of one file; an object of a scene takes about thirty. */
export const MOST_RECORDS = 4000000

/** The first child of a name; null for none. */
export const childOf = (record: FbxRecord | null | undefined, name: string): FbxRecord | null =>
  record?.children.find((child) => child.name === name) ?? null

/** All children of a name, in order. */
export const childrenOf = (record: FbxRecord, name: string): FbxRecord[] =>
  record.children.filter((child) => child.name === name)

/** A value as a number; null where it is none. */
export function numberValue(value: FbxValue | undefined): number | null {
  if (typeof value === 'number') return value
  if (typeof value === 'bigint') return Number(value)
  if (typeof value === 'boolean') return value ? 1 : 0
  return null
}

/** All numbers of a record, whether they stand in one array (7.x) or one by one (6.x). */
export function numbersOf(record: FbxRecord | null): Float64Array {
  if (!record) return new Float64Array(0)
  const [first] = record.values
  if (first instanceof Float64Array) return first
  if (first instanceof Int32Array) return Float64Array.from(first)
  const listed = childOf(record, 'a')
  if (listed) return numbersOf(listed)
  return Float64Array.from(record.values.flatMap((value) => numberValue(value) ?? []))
}

/** The same as whole numbers; what is none or beyond 32 bits becomes -1, which is no index. */
export function indicesOf(record: FbxRecord | null): Int32Array {
  const [first] = record?.values ?? []
  if (first instanceof Int32Array) return first
  const numbers = numbersOf(record)
  const indices = new Int32Array(numbers.length)
  for (let at = 0; at < numbers.length; at++) {
    const whole = numbers[at]! | 0
    indices[at] = whole === numbers[at] ? whole : -1
  }
  return indices
}

/** "name\0\1class" (binary) or "class::name" (text): the name alone. */
export function objectName(text: string): string {
  const binary = text.indexOf('\0\x01')
  if (binary >= 0) return text.slice(0, binary)
  const parted = text.indexOf('::')
  return parted >= 0 ? text.slice(parted + 2) : text
}

/** A text that is the same in both forms: "class::name" turned to "name\0\1class". */
const binaryText = (text: string): string => {
  const parted = text.indexOf('::')
  return parted > 0 && /^\w+$/.test(text.slice(0, parted))
    ? `${text.slice(parted + 2)}\0\x01${text.slice(0, parted)}`
    : text
}

/** Property types whose numbers are whole; the text form writes doubles without a point as well. */
const WHOLE_TYPES = /^(int|integer|enum|bool|visibility inheritance|short)$/i
const LONG_TYPES = /^(ktime|time|ulonglong|longlong|long)$/i

/** Arrays that binary files have in other kinds than their numbers would suggest. From memory. */
const ARRAY_KINDS: Readonly<Record<string, string>> = {
  KeyTime: 'l',
  KeyValueFloat: 'f',
  KeyAttrDataFloat: 'f',
}
/** Records whose numbers are real in binary files, however whole they are in a text; other readers insist. From memory. */
const REAL_RECORDS = new Set([
  'ModelUVTranslation',
  'ModelUVScaling',
  'Default',
  'Position',
  'Up',
  'LookAt',
  'DeformPercent',
  'Link_DeformAcuracy',
  'FullWeights',
  'Alphas',
  'Matrix',
  'Transform',
  'TransformLink',
  'TransformAssociateModel',
  'Weights',
  'Vertices',
  'Normals',
  'NormalsW',
  'Binormals',
  'Tangents',
  'Colors',
  'UV',
  'Points',
  'KnotVector',
  'KnotVectorU',
  'KnotVectorV',
])

/** The kinds of a text record's values, as a binary file would have them. */
function guessKinds(record: FbxRecord): string {
  const isReal = REAL_RECORDS.has(record.name)
  const type = record.name === 'P' && typeof record.values[1] === 'string' ? record.values[1] : ''
  return record.values
    .map((value, at) => {
      if (value instanceof Float64Array) {
        const byName = ARRAY_KINDS[record.name]
        if (byName) return byName
        if (isReal || !value.every((number) => Number.isInteger(number))) return 'd'
        return value.every((number) => Math.abs(number) < 2 ** 31) ? 'i' : 'l'
      }
      if (value instanceof Int32Array) return 'i'
      if (value instanceof Uint8Array) return 'R'
      if (typeof value === 'string') return 'S'
      if (typeof value === 'boolean') return 'C'
      if (typeof value === 'bigint') return 'L'
      if (record.name === 'P' && at > 3)
        return WHOLE_TYPES.test(type) ? 'I' : LONG_TYPES.test(type) ? 'L' : 'D'
      return isReal || !Number.isInteger(value) ? 'D' : Math.abs(value) < 2 ** 31 ? 'I' : 'L'
    })
    .join('')
}

/**
 * The bytes of an embedded file: raw, or text in base 64 (RFC 4648), in one piece or several; null where the text is
 * none.
 */
export function contentOf(records: readonly FbxRecord[]): Uint8Array | null {
  const pieces: Uint8Array[] = []
  for (const { values } of records)
    for (const value of values) {
      if (value instanceof Uint8Array) pieces.push(value)
      if (typeof value === 'string' && value) {
        const decoded = decodeBase64(value)
        if (!decoded) return null
        pieces.push(decoded)
      }
    }
  const whole = pieces.length ? joinBytes(pieces) : null
  return whole?.length ? whole : null
}

/** Several records of a text file that hold one embedded file become the one of the binary form. */
function joinContent(records: readonly FbxRecord[]): readonly FbxRecord[] {
  const parts = records.filter((record) => record.name === 'Content' && record.kinds === '')
  const bytes = parts.length ? contentOf(parts) : null
  if (!bytes) return records
  return records.flatMap((record) =>
    record === parts[0]
      ? [{ ...record, values: [bytes], kinds: 'R' }]
      : parts.includes(record)
        ? []
        : [record],
  )
}

/** The third and fourth of every four hold two numbers of 16 bits each; texts have them as whole numbers. From memory. */
export const PACKED_WEIGHTS = 'KeyAttrDataFloat'
const isPacked = (at: number): boolean => at % 4 >= 2

function weightsFromText(value: Float64Array | Int32Array): Float64Array {
  const bits = new DataView(new ArrayBuffer(4))
  return Float64Array.from(value, (number, at) => {
    // one that was written as a real number is one already
    if (!isPacked(at) || !Number.isInteger(number)) return number
    bits.setInt32(0, number)
    return bits.getFloat32(0)
  })
}
/** The same the other way. */
export function weightsToText(values: ArrayLike<number>): Float64Array {
  const bits = new DataView(new ArrayBuffer(4))
  return Float64Array.from(values, (number, at) => {
    if (!isPacked(at)) return number
    bits.setFloat32(0, number)
    return bits.getInt32(0)
  })
}

/** A record as it is kept: plain data that can be stored. */
export function keepRecord(record: FbxRecord): KeptRecord {
  // an array of the text form is a record of its own inside the one it belongs to
  const [only] = record.children
  const list = record.children.length === 1 && only!.name === 'a' ? only! : null
  const flat: FbxRecord = list ? { ...record, values: list.values, kinds: '', children: [] } : record
  return {
    name: flat.name,
    kinds: flat.kinds || guessKinds(flat),
    values: flat.values.map((value) => {
      if (
        flat.name === PACKED_WEIGHTS &&
        !record.kinds &&
        (value instanceof Float64Array || value instanceof Int32Array)
      )
        return weightsFromText(value)
      if (typeof value === 'bigint') return String(value)
      if (typeof value === 'number') return Number.isFinite(value) ? value : String(value)
      if (typeof value === 'string') return record.kinds ? value : binaryText(value)
      return value
    }),
    children: joinContent(flat.children).map(keepRecord),
    ...(flat.opens && flat.children.length === 0 && !list ? { opens: true } : {}),
  }
}
