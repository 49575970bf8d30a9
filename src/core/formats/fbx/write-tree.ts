/** Records as they are to be written, in either form. */
import type { KeptProperty, KeptRecord } from '../../scene/kept.ts'
import type { FbxValue } from './tree.ts'

/** A value with the kind it is written as, where a plain one would not say. */
export interface TypedValue {
  readonly kind: 'int' | 'long' | 'double' | 'short' | 'float'
  readonly value: number | bigint
}
export interface TypedArray {
  readonly kind: 'longs' | 'floats' | 'bytes'
  readonly values: Float64Array | Int32Array
}
export type WriteValue = FbxValue | TypedValue | TypedArray
export interface WriteRecord {
  readonly name: string
  readonly values: readonly WriteValue[]
  readonly children: readonly WriteRecord[]
  /** Has a list, were it an empty one. */
  readonly opens: boolean
}

/** A record of the tree that is going to be written. */
export const record = (
  name: string,
  values: readonly WriteValue[] = [],
  children: readonly WriteRecord[] = [],
  opens: boolean = children.length > 0 || values.length === 0,
): WriteRecord => ({ name, values, children, opens })
/** A value of 64 bits. */
export const long = (value: number | bigint): TypedValue => ({ kind: 'long', value })
/** A value of 32 bits. */
export const int = (value: number): TypedValue => ({ kind: 'int', value })
/** A 64-bit floating-point value. */
export const double = (value: number): TypedValue => ({ kind: 'double', value })

const isObject = (value: WriteValue): value is TypedValue | TypedArray =>
  typeof value === 'object' && 'kind' in value
/** A value that says its own type. */
export const isTyped = (value: WriteValue): value is TypedValue => isObject(value) && 'value' in value
/** A list that says its own type. */
export const isTypedArray = (value: WriteValue): value is TypedArray => isObject(value) && 'values' in value

/** What lies between an object's name and its class in the binary form. */
export const SEPARATOR = '\u0000\u0001'
/** Name and kind of an object as the binary form joins them. */
export const objectTitle = (name: string, kind: string): string => `${name}${SEPARATOR}${kind}`

/** A row of a property table. */
export const propertyRow = (
  name: string,
  type: string,
  label: string,
  flags: string,
  ...values: WriteValue[]
): WriteRecord => record('P', [name, type, label, flags, ...values])
/** A property row of one number. */
export const numberRow = (name: string, value: number): WriteRecord =>
  propertyRow(name, 'double', 'Number', '', double(value))
/** A property row of one integer. */
export const integerRow = (name: string, value: number): WriteRecord =>
  propertyRow(name, 'int', 'Integer', '', int(value))

const WHOLE_TYPES = /^(int|integer|enum|bool|short)$/i
const LONG_TYPES = /^(ktime|time|ulonglong|longlong)$/i

/** A number of a property of a type, as the type has it. */
export function typedNumber(type: string, value: number | bigint): TypedValue {
  if (LONG_TYPES.test(type)) return long(typeof value === 'bigint' ? value : BigInt(Math.round(value)))
  if (WHOLE_TYPES.test(type) && Number.isInteger(Number(value))) return int(Number(value))
  return double(Number(value))
}

const asNumber = (text: string): number | bigint =>
  /^-?\d+$/.test(text) && !Number.isSafeInteger(Number(text)) ? BigInt(text) : Number(text)

const IS_TEXT = /string|url|xref|blob|datetime|reference|object|compound/i

/** A property row as it was read. */
export const keptRow = (property: KeptProperty): WriteRecord =>
  propertyRow(
    property.name,
    property.type,
    property.label,
    property.flags,
    ...property.values.map((value) =>
      typeof value === 'number'
        ? typedNumber(property.type, value)
        : typeof value === 'string' && LONG_TYPES.test(property.type) && !IS_TEXT.test(property.type)
          ? typedNumber(property.type, asNumber(value))
          : typeof value === 'boolean'
            ? int(value ? 1 : 0)
            : value,
    ),
  )

function keptValue(value: KeptRecord['values'][number], kind: string): WriteValue {
  if (value instanceof Uint8Array || typeof value === 'boolean') return value
  if (typeof value === 'object') {
    if (kind === 'l') return { kind: 'longs', values: value }
    if (kind === 'f') return { kind: 'floats', values: value }
    if (kind === 'b' || kind === 'c') return { kind: 'bytes', values: value }
    if (kind === 'i' && value instanceof Float64Array) return Int32Array.from(value)
    return value
  }
  if (kind === 'S' || kind === '') return value
  const number = typeof value === 'string' ? asNumber(value) : value
  if (kind === 'L') return long(typeof number === 'bigint' ? number : BigInt(Math.round(number)))
  if (kind === 'I') return int(Number(number))
  if (kind === 'Y') return { kind: 'short', value: Number(number) }
  if (kind === 'F') return { kind: 'float', value: Number(number) }
  return double(Number(number))
}

/** A kept record as it came; a property table of 6.x gets the words of 7.x. */
export function keptToWrite(kept: KeptRecord): WriteRecord {
  if (kept.name === 'Properties60')
    return record(
      'Properties70',
      [],
      kept.children.map((child) => {
        const row = keptToWrite(child)
        const [name, type, flags, ...values] = row.values
        return record('P', [name ?? '', type ?? '', '', flags ?? '', ...values])
      }),
    )
  return record(
    kept.name,
    kept.values.map((value, at) => keptValue(value, kept.kinds[at] ?? '')),
    kept.children.map(keptToWrite),
    kept.opens === true || kept.children.length > 0 || kept.values.length === 0,
  )
}
