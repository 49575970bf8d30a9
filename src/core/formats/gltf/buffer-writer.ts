/** Accessors and buffer views of a file that is being written, and the bytes behind them. */

import type { Chunk } from './container.ts'

export const TARGETS = { vertices: 34962, indices: 34963 } as const

export interface BufferWriter {
  /** The number of a view of bytes that stand for themselves (an image). */
  readonly view: (bytes: Uint8Array, target?: number) => number
  /** 32-bit floats, so many a vertex. @param bounds whether the least and largest of each are stated. */
  readonly floats: (
    values: Float32Array,
    type: 'SCALAR' | 'VEC2' | 'VEC3' | 'VEC4' | 'MAT4',
    more?: { readonly bounds?: boolean; readonly target?: number },
  ) => number
  /** Floats of which only some elements are not 0. @param places rising numbers of those. */
  readonly sparse: (count: number, places: Uint32Array, values: Float32Array) => number
  /** Elements that are all 0 and take no bytes. */
  readonly zeros: (count: number, type: 'VEC2') => number
  /** Whole numbers, in as few bytes as hold them. */
  readonly indices: (values: Uint32Array, largest: number) => number
  readonly joints: (values: Uint16Array, largest: number) => number
  readonly accessors: readonly object[]
  readonly views: readonly object[]
  /** All bytes, once nothing more is added. */
  readonly chunk: () => Chunk
}

const WIDTHS = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT4: 16 } as const
const FLOAT = 5126

/** The bytes of numbers as the format has them. All machines that this runs on keep the lowest byte first, as it does. */
const bytesOf = (values: Float32Array | Uint32Array | Uint16Array | Uint8Array): Uint8Array =>
  new Uint8Array(values.buffer, values.byteOffset, values.byteLength)

function boundsOf(values: Float32Array, width: number): { min: number[]; max: number[] } {
  const min = new Array<number>(width).fill(Infinity)
  const max = new Array<number>(width).fill(-Infinity)
  for (let at = 0; at < values.length; at += width)
    for (let k = 0; k < width; k++) {
      const value = values[at + k]!
      if (value < min[k]!) min[k] = value
      if (value > max[k]!) max[k] = value
    }
  return { min, max }
}

export function createBufferWriter(): BufferWriter {
  const pieces: Uint8Array[] = []
  const views: object[] = []
  const accessors: object[] = []
  let length = 0
  const view = (bytes: Uint8Array, target?: number): number => {
    const at = length
    pieces.push(bytes)
    length += (bytes.length + 3) & ~3
    return (
      views.push({
        buffer: 0,
        ...(at > 0 ? { byteOffset: at } : {}),
        byteLength: bytes.length,
        ...(target === undefined ? {} : { target }),
      }) - 1
    )
  }
  const add = (accessor: object): number => accessors.push(accessor) - 1
  const packed = (values: Uint32Array, largest: number): { bytes: Uint8Array; componentType: number } =>
    // the largest number of a type means that a strip begins anew
    largest < 65535
      ? { bytes: bytesOf(Uint16Array.from(values)), componentType: 5123 }
      : { bytes: bytesOf(values), componentType: 5125 }
  return {
    view,
    accessors,
    views,
    floats: (values, type, { bounds = false, target } = {}) =>
      add({
        bufferView: view(bytesOf(values), target),
        componentType: FLOAT,
        count: values.length / WIDTHS[type],
        type,
        ...(bounds ? boundsOf(values, WIDTHS[type]) : {}),
      }),
    sparse: (count, places, values) => {
      const own = packed(places, count)
      const bounds = boundsOf(values, 3)
      return add({
        componentType: FLOAT,
        count,
        type: 'VEC3',
        // what is not listed is 0
        min: bounds.min.map((value) => Math.min(value, 0)),
        max: bounds.max.map((value) => Math.max(value, 0)),
        sparse: {
          count: places.length,
          indices: { bufferView: view(own.bytes), componentType: own.componentType },
          values: { bufferView: view(bytesOf(values)) },
        },
      })
    },
    zeros: (count, type) => add({ componentType: FLOAT, count, type }),
    indices: (values, largest) => {
      const { bytes, componentType } = packed(values, largest)
      return add({
        bufferView: view(bytes, TARGETS.indices),
        componentType,
        count: values.length,
        type: 'SCALAR',
      })
    },
    joints: (values, largest) => {
      const isByte = largest < 256
      return add({
        bufferView: view(bytesOf(isByte ? Uint8Array.from(values) : values), TARGETS.vertices),
        componentType: isByte ? 5121 : 5123,
        count: values.length / 4,
        type: 'VEC4',
      })
    },
    chunk: () => ({
      length,
      writeTo: (bytes) => {
        let at = 0
        for (const piece of pieces) {
          bytes.set(piece, at)
          at += (piece.length + 3) & ~3
        }
      },
    }),
  }
}
