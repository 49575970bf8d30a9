/**
 * Values of a binary USD by what the file says of them: where they lie, and of which kind they are. Source: OpenUSD’s
 * open-source layout (kinds of values, their numbers, what is stored in place), written down from memory of it.
 */
import { halfToNumber } from '../../base/bytes/half.ts'
import { CrateFault, unpackIntegers } from './crate-bytes.ts'
import type { UsdArc, UsdDictionary, UsdSamples, UsdValue } from './layer.ts'
import { editedList } from './text-values.ts'

/** A kind of value that lies as plain numbers: its name in text, how many, and how each is stored. */
interface Plain {
  readonly type: string
  readonly width: number
  readonly as: 'bool' | 'uchar' | 'int' | 'uint' | 'int64' | 'uint64' | 'half' | 'float' | 'double'
}

const plain = (type: string, width: number, as: Plain['as']): Plain => ({ type, width, as })

const PLAIN: Readonly<Record<number, Plain>> = {
  1: plain('bool', 1, 'bool'),
  2: plain('uchar', 1, 'uchar'),
  3: plain('int', 1, 'int'),
  4: plain('uint', 1, 'uint'),
  5: plain('int64', 1, 'int64'),
  6: plain('uint64', 1, 'uint64'),
  7: plain('half', 1, 'half'),
  8: plain('float', 1, 'float'),
  9: plain('double', 1, 'double'),
  13: plain('matrix2d', 4, 'double'),
  14: plain('matrix3d', 9, 'double'),
  15: plain('matrix4d', 16, 'double'),
  16: plain('quatd', 4, 'double'),
  17: plain('quatf', 4, 'float'),
  18: plain('quath', 4, 'half'),
  19: plain('double2', 2, 'double'),
  20: plain('float2', 2, 'float'),
  21: plain('half2', 2, 'half'),
  22: plain('int2', 2, 'int'),
  23: plain('double3', 3, 'double'),
  24: plain('float3', 3, 'float'),
  25: plain('half3', 3, 'half'),
  26: plain('int3', 3, 'int'),
  27: plain('double4', 4, 'double'),
  28: plain('float4', 4, 'float'),
  29: plain('half4', 4, 'half'),
  30: plain('int4', 4, 'int'),
  56: plain('timecode', 1, 'double'),
}
const BYTES = { bool: 1, uchar: 1, int: 4, uint: 4, int64: 8, uint64: 8, half: 2, float: 4, double: 8 } as const // prettier-ignore
/** Shorter lists are never packed. */
const SHORTEST_PACKED = 16
const DEEPEST = 64

/** What lies in a file beside plain values. */
export interface CrateTables {
  readonly bytes: Uint8Array
  readonly view: DataView
  /** Such as 0.8.0 as 800. */
  readonly version: number
  readonly token: (index: number) => string
  readonly string: (index: number) => string
  readonly path: (index: number) => string
}

/** A value with its type's name in text, empty where it has none. */
export interface CrateValue {
  readonly type: string
  readonly value: UsdValue | UsdSamples | readonly UsdArc[]
}

/** A value of a kind that this reader doesn't know. */
export class UnknownKind extends Error {}

export interface CrateValues {
  /** @param at where the eight bytes lie that tell of a value. @throws CrateFault, UnknownKind */
  readonly at: (at: number) => CrateValue
  readonly of: (high: number, low: number) => CrateValue
}

export function createCrateValues(tables: CrateTables): CrateValues {
  const { bytes, view, version, token, string, path } = tables
  const check = (at: number, length: number): void => {
    if (!(at >= 0) || !(length >= 0) || at + length > bytes.length) throw new CrateFault('it ends too early')
  }
  const wide = (at: number): number => {
    check(at, 8)
    return view.getUint32(at, true) + view.getUint32(at + 4, true) * 2 ** 32
  }
  const signedWide = (at: number): number => {
    check(at, 8)
    return Number(view.getBigInt64(at, true))
  }
  const short = (at: number): number => {
    check(at, 4)
    return view.getUint32(at, true)
  }
  const scalar = (as: Plain['as'], at: number): number => {
    switch (as) {
      case 'bool':
      case 'uchar':
        return bytes[at]!
      case 'int':
        return view.getInt32(at, true)
      case 'uint':
        return view.getUint32(at, true)
      case 'int64':
        return Number(view.getBigInt64(at, true))
      case 'uint64':
        return Number(view.getBigUint64(at, true))
      case 'half':
        return halfToNumber(view.getUint16(at, true))
      case 'float':
        return view.getFloat32(at, true)
      case 'double':
        return view.getFloat64(at, true)
    }
  }
  /** The real part of a turn stands last in the file, and first in text. */
  const turned = (values: Float64Array): Float64Array => {
    for (let at = 0; at + 3 < values.length; at += 4) {
      const real = values[at + 3]!
      values.copyWithin(at + 1, at, at + 3)
      values[at] = real
    }
    return values
  }
  const numbersAt = ({ as, width, type }: Plain, at: number, count: number): Float64Array => {
    const size = BYTES[as]
    check(at, size * width * count)
    const values = new Float64Array(width * count)
    if (as === 'float' && (bytes.byteOffset + at) % 4 === 0)
      values.set(new Float32Array(bytes.buffer, bytes.byteOffset + at, values.length))
    else for (let index = 0; index < values.length; index++) values[index] = scalar(as, at + size * index)
    return type.startsWith('quat') ? turned(values) : values
  }
  const integersAt = (at: number, count: number, bits: 32 | 64): { values: Float64Array; end: number } => {
    const size = wide(at)
    check(at + 8, size)
    return { values: unpackIntegers(bytes.subarray(at + 8, at + 8 + size), count, bits), end: at + 8 + size }
  }
  const unsigned = (values: Float64Array): Float64Array => {
    for (let at = 0; at < values.length; at++) if (values[at]! < 0) values[at]! += 2 ** 32
    return values
  }
  const arrayAt = (kind: Plain, place: number, packed: boolean): Float64Array => {
    if (place === 0) return new Float64Array(0)
    // the oldest files state a rank first
    let at = version < 500 ? place + 4 : place
    const count = version < 700 ? short(at) : wide(at)
    at += version < 700 ? 4 : 8
    const { as } = kind
    const isWhole = as === 'int' || as === 'uint' || as === 'int64' || as === 'uint64'
    const isReal = kind.width === 1 && (as === 'half' || as === 'float' || as === 'double')
    if (!packed || count < SHORTEST_PACKED || !(isWhole || isReal)) return numbersAt(kind, at, count)
    if (isWhole) {
      const { values } = integersAt(at, count, as === 'int64' || as === 'uint64' ? 64 : 32)
      return as === 'uint' ? unsigned(values) : values
    }
    check(at, 1)
    const code = String.fromCharCode(bytes[at]!)
    if (code === 'i') return integersAt(at + 1, count, 32).values
    if (code !== 't') throw new CrateFault('a list of numbers is packed in an unknown way')
    const listed = short(at + 1)
    const table = numbersAt(kind, at + 5, listed)
    const { values } = integersAt(at + 5 + listed * BYTES[as], count, 32)
    return unsigned(values).map((index) => {
      if (index >= listed) throw new CrateFault('a list of numbers is damaged')
      return table[index]!
    })
  }

  /** Words of a list whose length stands before them. @returns where it ends too. */
  const wordsAt = (at: number, word: (index: number) => string): { words: string[]; end: number } => {
    const count = wide(at)
    check(at + 8, 4 * count)
    const words = Array.from({ length: count }, (_none, index) => word(short(at + 8 + 4 * index)))
    return { words, end: at + 8 + 4 * count }
  }
  const arcAt = (at: number, isPayload: boolean): { arc: UsdArc; end: number } => {
    const asset = string(short(at))
    const own = path(short(at + 4))
    let end = at + 8
    if (!isPayload || version >= 800) end += 16
    if (!isPayload) end = dictionaryAt(end, 0).end
    return { arc: { asset, path: own === '/' ? '' : own }, end }
  }
  const arcsAt = (at: number, isPayload: boolean): { arcs: UsdArc[]; end: number } => {
    const count = wide(at)
    if (count > bytes.length) throw new CrateFault('a list of references is damaged')
    const arcs: UsdArc[] = []
    let end = at + 8
    for (let index = 0; index < count; index++) {
      const read = arcAt(end, isPayload)
      arcs.push(read.arc)
      end = read.end
    }
    return { arcs, end }
  }
  /** Edits of a list by the bits of its first byte, in the order in which they are stored. */
  const editsAt = <Item>(
    place: number,
    itemsAt: (at: number) => { items: readonly Item[]; end: number },
    keyOf: (item: Item) => string,
  ): Item[] => {
    check(place, 1)
    const bits = bytes[place]!
    let at = place + 1
    const edits: { edit: string; items: readonly Item[] }[] = []
    for (const [bit, edit] of [
      [1, ''],
      [2, 'add'],
      [5, 'prepend'],
      [6, 'append'],
      [3, 'delete'],
      [4, 'reorder'],
    ] as const) {
      if (!(bits & (1 << bit))) continue
      const { items, end } = itemsAt(at)
      edits.push({ edit, items })
      at = end
    }
    return editedList(edits, keyOf)
  }
  const wordEdits = (place: number, word: (index: number) => string): string[] =>
    editsAt(
      place,
      (at) => {
        const { words, end } = wordsAt(at, word)
        return { items: words, end }
      },
      String,
    )
  const arcEdits = (place: number, isPayload: boolean): UsdArc[] =>
    editsAt(
      place,
      (at) => {
        const { arcs, end } = arcsAt(at, isPayload)
        return { items: arcs, end }
      },
      ({ asset, path: own }) => `${asset} ${own}`,
    )
  /** What lies some way on from a place that says how far. */
  const jumpAt = (at: number): number => {
    const to = at + signedWide(at)
    check(to, 8)
    return to
  }
  const dictionaryAt = (place: number, depth: number): { dictionary: UsdDictionary; end: number } => {
    if (depth > DEEPEST) throw new CrateFault('values lie too deep in each other')
    const count = wide(place)
    if (count > bytes.length) throw new CrateFault('a list of values is damaged')
    const entries = new Map<string, { type: string; value: UsdValue }>()
    let at = place + 8
    for (let index = 0; index < count; index++) {
      const key = string(short(at))
      const told = jumpAt(at + 4)
      at = told + 8
      try {
        const { type, value } = valueAt(told, depth + 1)
        if (!isSamples(value) && !isArcs(value)) entries.set(key, { type, value })
      } catch (error) {
        if (!(error instanceof UnknownKind)) throw error
      }
    }
    return { dictionary: entries, end: at }
  }
  const samplesAt = (place: number): UsdSamples => {
    const told = jumpAt(place)
    const times = valueAt(told, 0).value
    const values = jumpAt(told + 8)
    const count = wide(values)
    check(values + 8, 8 * count)
    const list = Array.from({ length: count }, (_none, index): UsdValue => {
      const { value } = valueAt(values + 8 + 8 * index, 0)
      return isSamples(value) || isArcs(value) ? null : value
    })
    return { times: times instanceof Float64Array ? [...times] : [], values: list }
  }

  /** What is stored in the place of its address: four bytes. */
  const inline = (kind: Plain, payload: number): UsdValue => {
    const held = new DataView(new ArrayBuffer(4))
    held.setUint32(0, payload >>> 0, true)
    const { as, width, type } = kind
    if (width > 1) {
      const values = new Float64Array(width)
      if (type.startsWith('matrix')) {
        const side = Math.sqrt(width)
        for (let row = 0; row < side; row++) values[row * side + row] = held.getInt8(row)
        return values
      }
      for (let index = 0; index < width; index++) values[index] = held.getInt8(index)
      return values
    }
    if (as === 'bool') return payload !== 0
    if (as === 'uchar') return payload & 255
    if (as === 'int' || as === 'int64') return held.getInt32(0, true)
    if (as === 'uint' || as === 'uint64') return held.getUint32(0, true)
    if (as === 'half') return halfToNumber(held.getUint16(0, true))
    return held.getFloat32(0, true)
  }

  const valueOf = (high: number, low: number, depth: number): CrateValue => {
    if (depth > DEEPEST) throw new CrateFault('values lie too deep in each other')
    const isArray = (high & 0x80000000) !== 0
    const isInline = (high & 0x40000000) !== 0
    const isPacked = (high & 0x20000000) !== 0
    const kind = (high >>> 16) & 255
    const place = (high & 0xffff) * 2 ** 32 + (low >>> 0)
    const known = PLAIN[kind]
    if (known) {
      if (isArray) return { type: `${known.type}[]`, value: arrayAt(known, isInline ? 0 : place, isPacked) }
      if (isInline) return { type: known.type, value: inline(known, low) }
      const values = numbersAt(known, place, 1)
      if (known.width > 1) return { type: known.type, value: values }
      return { type: known.type, value: known.as === 'bool' ? values[0] !== 0 : values[0]! }
    }
    const text = { 10: 'string', 11: 'token', 12: 'asset' }[kind]
    if (text) {
      if (!isArray) return { type: text, value: kind === 10 ? string(low >>> 0) : token(low >>> 0) }
      if (place === 0 || isInline) return { type: `${text}[]`, value: [] }
      const at = version < 500 ? place + 4 : place
      const count = version < 700 ? short(at) : wide(at)
      const from = at + (version < 700 ? 4 : 8)
      check(from, 4 * count)
      const word = kind === 11 ? token : string
      return {
        type: `${text}[]`,
        value: Array.from({ length: count }, (_none, index) => word(short(from + 4 * index))),
      }
    }
    switch (kind) {
      case 31:
        return {
          type: 'dictionary',
          value: isInline || place === 0 ? new Map() : dictionaryAt(place, depth).dictionary,
        }
      case 32:
        return { type: 'token[]', value: wordEdits(place, token) }
      case 33:
        return { type: 'string[]', value: wordEdits(place, string) }
      case 34:
        return { type: '', value: wordEdits(place, path) }
      case 35:
        return { type: '', value: arcEdits(place, false) }
      case 40:
        return { type: '', value: wordsAt(place, path).words }
      case 41:
        return { type: 'token[]', value: wordsAt(place, token).words }
      case 42:
        return { type: 'token', value: ['def', 'over', 'class'][low] ?? 'over' }
      case 43:
        return { type: 'token', value: low === 1 ? 'private' : 'public' }
      case 44:
        return { type: 'token', value: low === 1 ? 'uniform' : 'varying' }
      case 45: {
        const count = wide(place)
        check(place + 8, 8 * count)
        return {
          type: 'dictionary',
          value: new Map(
            Array.from({ length: count }, (_none, index) => [
              string(short(place + 8 + 8 * index)),
              { type: 'string', value: string(short(place + 12 + 8 * index)) },
            ]),
          ),
        }
      }
      case 46:
        return { type: '', value: samplesAt(place) }
      case 47:
        return { type: '', value: [arcAt(place, true).arc] }
      case 48: {
        const count = wide(place)
        return { type: 'double[]', value: numbersAt(PLAIN[9]!, place + 8, count) }
      }
      case 50:
        return { type: 'string[]', value: wordsAt(place, string).words }
      case 51:
        return { type: '', value: null }
      case 52:
      case 53:
        return valueAt(jumpAt(place), depth + 1)
      case 55:
        return { type: '', value: arcEdits(place, true) }
      default:
        throw new UnknownKind(String(kind))
    }
  }
  const valueAt = (at: number, depth: number): CrateValue => {
    check(at, 8)
    return valueOf(view.getUint32(at + 4, true), view.getUint32(at, true), depth)
  }
  return { at: (at) => valueAt(at, 0), of: (high, low) => valueOf(high, low, 0) }
}

export const isSamples = (value: CrateValue['value']): value is UsdSamples =>
  value !== null && typeof value === 'object' && 'times' in value
export const isArcs = (value: CrateValue['value']): value is readonly UsdArc[] =>
  Array.isArray(value) && typeof (value as readonly unknown[])[0] === 'object'
