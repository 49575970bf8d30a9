/** Numbers of accessors, as doubles. Source: glTF 2.0, section 3.6.2. */
import type { MessageCollector } from '../../base/messages/collector.ts'
import { listOf, objectOf, partOf, textOf, wholeOf, type Json } from '../notes/json.ts'
import type { GltfBuffers } from './read-buffers.ts'

const WIDTHS: Readonly<Record<string, number>> = {
  SCALAR: 1,
  VEC2: 2,
  VEC3: 3,
  VEC4: 4,
  MAT2: 4,
  MAT3: 9,
  MAT4: 16,
}
interface Component {
  readonly bytes: number
  /** What a whole number is divided by where it stands for a share; 0 for floats. */
  readonly most: number
  readonly array: new (
    buffer: ArrayBufferLike,
    offset: number,
    length: number,
  ) => ArrayLike<number> & { subarray: (from: number, to: number) => ArrayLike<number> }
  readonly read: (view: DataView, at: number) => number
}
const COMPONENTS: Readonly<Record<number, Component>> = {
  5120: { bytes: 1, most: 127, array: Int8Array, read: (view, at) => view.getInt8(at) },
  5121: { bytes: 1, most: 255, array: Uint8Array, read: (view, at) => view.getUint8(at) },
  5122: { bytes: 2, most: 32767, array: Int16Array, read: (view, at) => view.getInt16(at, true) },
  5123: { bytes: 2, most: 65535, array: Uint16Array, read: (view, at) => view.getUint16(at, true) },
  5125: { bytes: 4, most: 4294967295, array: Uint32Array, read: (view, at) => view.getUint32(at, true) },
  5126: { bytes: 4, most: 0, array: Float32Array, read: (view, at) => view.getFloat32(at, true) },
}

/** Kinds of numbers that a place in a list can be of. */
const UNSIGNED: ReadonlySet<unknown> = new Set([Uint8Array, Uint16Array, Uint32Array])

/** Elements without bytes behind them (all are 0) up to which a file is believed where nothing else has as many. */
const MOST_EMPTY = 1 << 16

export interface Accessor {
  /** width x count. */
  readonly values: Float64Array
  readonly width: number
  readonly count: number
  /** Where its values are whole numbers, what they are divided by to be shares; 0 where they are none. */
  readonly most: number
}

export interface Accessors {
  /**
   * Numbers of an accessor of one of some types; null where it can't be read, which is told once.
   * @param wanted how many elements it has to have, where that is known from numbers that are there.
   */
  readonly read: (index: unknown, types: readonly string[], wanted?: number) => Accessor | null
  /** Whole numbers of an accessor, as what a primitive draws; null where it can't be read, which is told once. */
  readonly readWhole: (index: unknown) => Uint32Array | null
  /** Bytes of a buffer view. */
  readonly view: GltfBuffers['view']
  /** The accessor's own words, for what is carried as it came. */
  readonly stated: (index: number) => Json | null
}

/** @param place what an accessor is called in messages. */
export function createAccessors(document: Json, buffers: GltfBuffers, messages: MessageCollector): Accessors {
  const accessors = listOf(document.accessors)
  const known = new Map<number, Accessor | null>()

  const left = (index: number, why: string): null => {
    messages.add('gltf.part', { place: `Accessor ${index}`, why })
    return null
  }

  /** Elements that lie at one place, spread by a stride. */
  const readElements = (
    index: number,
    viewIndex: number,
    start: number,
    component: Component,
    width: number,
    count: number,
    isMatrix: boolean,
  ): Float64Array | null => {
    const view = buffers.view(viewIndex)
    if (!view) return null
    // columns of matrices of bytes and shorts begin at every fourth byte
    const rows = isMatrix ? Math.sqrt(width) : width
    const columnBytes = isMatrix ? Math.ceil((rows * component.bytes) / 4) * 4 : width * component.bytes
    const elementBytes = isMatrix ? columnBytes * rows : columnBytes
    const stride = view.stride ?? elementBytes
    if (stride < elementBytes) return left(index, 'its elements lie over each other')
    const needed = start + stride * (count - 1) + elementBytes
    if (needed > view.bytes.length)
      return left(
        index,
        `it asks for ${needed} bytes of buffer view ${viewIndex}, which has ${view.bytes.length}`,
      )
    const { bytes } = view
    const offset = bytes.byteOffset + start
    const values = new Float64Array(width * count)
    const isClose = elementBytes === width * component.bytes
    // typed arrays read many times faster than a view does, where bytes lie as they need it
    if (isClose && offset % component.bytes === 0 && stride % component.bytes === 0) {
      const step = stride / component.bytes
      const all = new component.array(bytes.buffer, offset, step * (count - 1) + width)
      if (step === width) values.set(all)
      else
        for (let at = 0, from = 0; at < values.length; at += width, from += step)
          for (let k = 0; k < width; k++) values[at + k] = all[from + k]!
      return values
    }
    const data = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
    for (let element = 0, at = 0; element < count; element++) {
      const from = start + element * stride
      for (let k = 0; k < width; k++)
        values[at++] = component.read(
          data,
          from +
            (isMatrix
              ? Math.floor(k / rows) * columnBytes + (k % rows) * component.bytes
              : k * component.bytes),
        )
    }
    return values
  }

  const readSparse = (
    index: number,
    sparse: Json,
    values: Float64Array,
    component: Component,
    width: number,
    count: number,
  ): boolean => {
    const places = partOf(sparse, 'indices')
    const contents = partOf(sparse, 'values')
    const changed = wholeOf(sparse.count)
    const placeComponent = COMPONENTS[wholeOf(places?.componentType) ?? 0]
    const placeView = wholeOf(places?.bufferView)
    const contentView = wholeOf(contents?.bufferView)
    if (
      changed === null ||
      changed > count ||
      !placeComponent ||
      placeComponent.most === 0 ||
      placeView === null ||
      contentView === null
    ) {
      left(index, 'what it changes of its values is not said rightly')
      return false
    }
    if (changed === 0) return true
    const at = readElements(
      index,
      placeView,
      wholeOf(places?.byteOffset ?? 0) ?? 0,
      placeComponent,
      1,
      changed,
      false,
    )
    const to = readElements(
      index,
      contentView,
      wholeOf(contents?.byteOffset ?? 0) ?? 0,
      component,
      width,
      changed,
      width > 4,
    )
    if (!at || !to) return false
    for (let k = 0; k < changed; k++) {
      if (at[k]! >= count) {
        left(index, `it changes element ${at[k]!}, and there are ${count}`)
        return false
      }
      values.set(to.subarray(k * width, (k + 1) * width), at[k]! * width)
    }
    return true
  }

  const readAccessor = (index: number, wanted: number): Accessor | null => {
    const accessor = objectOf(accessors[index])
    if (!accessor) return left(index, 'the file doesn’t have it')
    const width = WIDTHS[textOf(accessor.type)]
    const component = COMPONENTS[wholeOf(accessor.componentType) ?? 0]
    const count = wholeOf(accessor.count)
    if (!width || !component || !count) return left(index, 'it doesn’t say what numbers it has')
    const isMatrix = textOf(accessor.type).startsWith('MAT')
    const viewIndex = wholeOf(accessor.bufferView)
    let values: Float64Array | null
    if (viewIndex === null) {
      if (accessor.bufferView !== undefined) return left(index, 'it doesn’t say where its numbers lie')
      if (count > MOST_EMPTY && count !== wanted)
        return left(index, `it says that it has ${count} elements, and none lie there`)
      values = new Float64Array(width * count)
    } else {
      const start = wholeOf(accessor.byteOffset ?? 0)
      if (start === null) return left(index, 'it doesn’t say where its numbers begin')
      values = readElements(index, viewIndex, start, component, width, count, isMatrix)
    }
    if (!values) return null
    const sparse = partOf(accessor, 'sparse')
    if (sparse && !readSparse(index, sparse, values, component, width, count)) return null
    if (accessor.normalized === true && component.most > 0) {
      const { most } = component
      const least = component.array === Int8Array || component.array === Int16Array ? -1 : 0
      for (let at = 0; at < values.length; at++) values[at] = Math.max(values[at]! / most, least)
    }
    return { values, width, count, most: component.most }
  }

  const read: Accessors['read'] = (index, types, wanted = 0) => {
    const number = wholeOf(index)
    if (number === null) return null
    const type = textOf(objectOf(accessors[number])?.type)
    if (objectOf(accessors[number]) && !types.includes(type)) {
      messages.add('gltf.part', {
        place: `Accessor ${number}`,
        why: `it holds ${type || 'nothing known'} where ${types.join(' or ')} is needed`,
      })
      return null
    }
    if (!known.has(number)) known.set(number, readAccessor(number, wanted))
    return known.get(number)!
  }

  /** Numbers without a sign that lie close together, copied as they are: a million polygons have six million of them. */
  const readClose = (number: number): Uint32Array | null => {
    const accessor = objectOf(accessors[number])
    const component = COMPONENTS[wholeOf(accessor?.componentType) ?? 0]
    const count = wholeOf(accessor?.count)
    const start = wholeOf(accessor?.byteOffset ?? 0)
    const viewIndex = wholeOf(accessor?.bufferView)
    if (!accessor || !component || !UNSIGNED.has(component.array) || !count) return null
    if (start === null || viewIndex === null || accessor.type !== 'SCALAR') return null
    if (accessor.sparse !== undefined || accessor.normalized === true) return null
    const view = buffers.view(viewIndex)
    if (!view || (view.stride !== null && view.stride !== component.bytes)) return null
    const offset = view.bytes.byteOffset + start
    if (offset % component.bytes !== 0 || start + component.bytes * count > view.bytes.length) return null
    return new Uint32Array(new component.array(view.bytes.buffer, offset, count))
  }

  return {
    view: buffers.view,
    stated: (index) => objectOf(accessors[index]),
    read,
    readWhole: (index) => {
      const number = wholeOf(index)
      const close = number === null ? null : readClose(number)
      if (close) return close
      const slow = read(index, ['SCALAR'])
      return slow && Uint32Array.from(slow.values)
    },
  }
}
