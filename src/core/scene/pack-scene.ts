/**
 * A scene as a small JSON document and its arrays apart, for storing and for passing between threads.
 * In the document an array stands as `{ "$array": k }`, k being its place among `arrays`; a text with letters that
 * a store may refuse (a zero, half a surrogate pair) as `{ "$text": [its UTF-16 units] }`.
 */
import { completeIds } from './ids.ts'
import type { Scene } from './scene.ts'

export type PackedArray = Float64Array | Uint32Array | Int32Array | Uint8Array

export type ArrayType = 'f64' | 'u32' | 'i32' | 'u8'

export interface PackedScene {
  /** Plain JSON. */
  readonly document: unknown
  readonly arrays: readonly PackedArray[]
}

/** The name by which an array’s type is stored. */
export const arrayTypeOf = (array: PackedArray): ArrayType =>
  array instanceof Float64Array
    ? 'f64'
    : array instanceof Uint32Array
      ? 'u32'
      : array instanceof Int32Array
        ? 'i32'
        : 'u8'

/** A typed array over bytes (little-endian, as they were packed); copies where they are not aligned. */
export function arrayFromBytes(type: ArrayType, bytes: Uint8Array): PackedArray {
  if (type === 'u8') return bytes
  const width = type === 'f64' ? 8 : 4
  const aligned = bytes.byteOffset % width === 0 ? bytes : bytes.slice()
  const length = Math.floor(aligned.byteLength / width)
  if (type === 'f64') return new Float64Array(aligned.buffer, aligned.byteOffset, length)
  return type === 'u32'
    ? new Uint32Array(aligned.buffer, aligned.byteOffset, length)
    : new Int32Array(aligned.buffer, aligned.byteOffset, length)
}

const LONE_SURROGATE = /[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/
const isOdd = (text: string): boolean => text.includes('\0') || LONE_SURROGATE.test(text)

/** Any plain data with typed arrays in it, packed as a scene is. */
export function packPlain(data: unknown): PackedScene {
  const arrays: PackedArray[] = []
  const places = new Map<PackedArray, number>()
  const pack = (value: unknown): unknown => {
    if (typeof value === 'string')
      return isOdd(value)
        ? { $text: Array.from({ length: value.length }, (_unit, at) => value.charCodeAt(at)) }
        : value
    if (ArrayBuffer.isView(value)) {
      const array = value as PackedArray
      let place = places.get(array)
      if (place === undefined) {
        place = arrays.length
        places.set(array, place)
        arrays.push(array)
      }
      return { $array: place }
    }
    if (Array.isArray(value)) return value.map(pack)
    if (value !== null && typeof value === 'object')
      return Object.fromEntries(Object.entries(value).map(([key, entry]) => [key, pack(entry)]))
    return value
  }
  return { document: pack(data), arrays }
}

/** A scene as a document and its arrays; the arrays themselves, not copies. */
export const packScene = (scene: Scene): PackedScene => packPlain(scene)

/** Places of the arrays that a piece of a packed document names, each once. */
export function arraysIn(piece: unknown): Set<number> {
  const found = new Set<number>()
  const visit = (value: unknown): void => {
    if (Array.isArray(value)) value.forEach(visit)
    else if (value !== null && typeof value === 'object') {
      const { $array: place } = value as { $array?: number }
      if (typeof place === 'number') found.add(place)
      else Object.values(value).forEach(visit)
    }
  }
  visit(piece)
  return found
}

/** What `packPlain` packed. */
export function unpackPlain<Data>(packed: PackedScene): Data {
  const unpack = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(unpack)
    if (value !== null && typeof value === 'object') {
      const { $array: place, $text: units } = value as { $array?: number; $text?: number[] }
      if (place !== undefined) return packed.arrays[place]
      if (units !== undefined) return String.fromCharCode(...units)
      return Object.fromEntries(Object.entries(value).map(([key, entry]) => [key, unpack(entry)]))
    }
    return value
  }
  return unpack(packed.document) as Data
}

/** A scene as it was packed; one that was stored before there were ids gets them. */
export const unpackScene = (packed: PackedScene): Scene => completeIds(unpackPlain<Scene>(packed))
