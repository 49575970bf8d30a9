/** An FBX file as it stands: named records with values, in a tree. What they mean is decided elsewhere. */

/** Integers beyond what a double holds exactly stay bigint. */
export type FbxValue = number | bigint | boolean | string | Uint8Array | Float64Array | Int32Array

export interface FbxRecord {
  readonly name: string
  readonly values: readonly FbxValue[]
  readonly children: readonly FbxRecord[]
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

export const childOf = (record: FbxRecord | null | undefined, name: string): FbxRecord | null =>
  record?.children.find((child) => child.name === name) ?? null

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

/** "name\0\1class" (binary) or "class::name" (text): the name alone. */
export function objectName(text: string): string {
  const binary = text.indexOf('\0\x01')
  if (binary >= 0) return text.slice(0, binary)
  const parted = text.indexOf('::')
  return parted >= 0 ? text.slice(parted + 2) : text
}
