/** Entries of an element as text or bytes. */
import { encodeUtf8 } from '../../base/bytes/text.ts'

export type Type = 'uchar' | 'int' | 'float' | 'double'
const BYTES: Readonly<Record<Type, number>> = { uchar: 1, int: 4, float: 4, double: 8 }

/** One column of an element: a value an entry, or a list. */
export interface Column {
  readonly name: string
  readonly type: Type
  /** Type of the number of values before them; null: one value. */
  readonly list: 'uchar' | 'int' | null
  readonly valuesOf: (entry: number) => ArrayLike<number>
}

export function writeText(columns: readonly Column[], count: number): Uint8Array {
  const lines: string[] = []
  for (let entry = 0; entry < count; entry++)
    lines.push(
      columns
        .map(({ list, type, valuesOf }) => {
          const values = Array.from(valuesOf(entry), (value) =>
            type === 'float' ? shortFloat(value) : String(value + 0),
          )
          return list ? [values.length, ...values].join(' ') : values[0]!
        })
        .join(' '),
    )
  return encodeUtf8(`${lines.join('\n')}\n`)
}

/** The shortest text that is the same 32-bit float. */
function shortFloat(value: number): string {
  const float = Math.fround(value)
  if (!Number.isFinite(float)) return Number.isNaN(float) ? 'nan' : float < 0 ? '-inf' : 'inf'
  for (let digits = 6; digits < 9; digits++) {
    const text = String(Number(float.toPrecision(digits)))
    if (Math.fround(Number(text)) === float) return text
  }
  return String(Number(float.toPrecision(9)))
}

export const writeBinary =
  (isLittle: boolean) =>
  (columns: readonly Column[], count: number): Uint8Array => {
    const fixed = columns.reduce((sum, { list, type }) => sum + (list ? BYTES[list] : BYTES[type]), 0)
    let length = fixed * count
    for (const { list, type, valuesOf } of columns)
      if (list) for (let entry = 0; entry < count; entry++) length += BYTES[type] * valuesOf(entry).length
    const bytes = new Uint8Array(length)
    const view = new DataView(bytes.buffer)
    let at = 0
    const put = (type: Type, value: number): void => {
      if (type === 'uchar') view.setUint8(at, value)
      else if (type === 'int') view.setInt32(at, value, isLittle)
      else if (type === 'float') view.setFloat32(at, value, isLittle)
      else view.setFloat64(at, value, isLittle)
      at += BYTES[type]
    }
    for (let entry = 0; entry < count; entry++)
      for (const { list, type, valuesOf } of columns) {
        const values = valuesOf(entry)
        if (list) put(list, values.length)
        for (let k = 0; k < values.length; k++) put(type, values[k]!)
      }
    return bytes
  }
