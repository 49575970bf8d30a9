/** Polygons of a mesh, and values that stand on them. Source: OpenUSD, UsdGeomMesh, UsdGeomPrimvar. */
import type { MessageCollector } from '../../base/messages/collector.ts'
import type { StagePrim } from './compose.ts'
import type { UsdProperty } from './layer.ts'
import { numbersIn, textIn, valueOf } from './read-transform.ts'

/** How values stand on a mesh. */
export type Per = 'constant' | 'uniform' | 'vertex' | 'faceVarying'

/** Polygons that were taken, with where each of their corners stands in the file. */
export interface Faces {
  readonly offsets: Uint32Array
  readonly vertices: Uint32Array
  /** Each polygon’s number in the file. */
  readonly faces: Uint32Array
  /** Each corner’s number in the file. */
  readonly corners: Uint32Array
  readonly all: number
  readonly allCorners: number
  /** Each polygon’s place here by its number in the file; -1 for one that was left out. */
  readonly placeOf: Int32Array
}

export function readFaces(prim: StagePrim, pointCount: number, messages: MessageCollector): Faces {
  const counts = numbersIn(prim, 'faceVertexCounts') ?? new Float64Array(0)
  const indices = numbersIn(prim, 'faceVertexIndices') ?? new Float64Array(0)
  const isTurned = textIn(prim, 'orientation') === 'leftHanded'
  const offsets = [0]
  const vertices = new Uint32Array(indices.length)
  const corners = new Uint32Array(indices.length)
  const faces: number[] = []
  const placeOf = new Int32Array(counts.length).fill(-1)
  let used = 0
  let at = 0
  for (let face = 0; face < counts.length; face++) {
    const count = counts[face]!
    if (!(count >= 0) || at + count > indices.length || !Number.isInteger(count)) {
      messages.add('usd.part', {
        place: `What follows polygon ${face} of “${prim.name}”`,
        why: 'the file has no corners for it',
      })
      break
    }
    const from = at
    at += count
    if (count < 3) {
      messages.add('usd.short-face', { name: prim.name, corners: count })
      continue
    }
    let bad: number | null = null
    for (let corner = from; corner < at; corner++) {
      const point = indices[corner]!
      if (!(point >= 0 && point < pointCount)) bad = point
    }
    if (bad !== null) {
      messages.add('usd.index-out-of-range', { name: prim.name, value: bad, available: pointCount })
      continue
    }
    placeOf[face] = faces.length
    faces.push(face)
    for (let k = 0; k < count; k++) {
      // the first corner stays the first
      const corner = isTurned && k > 0 ? at - k : from + k
      vertices[used] = indices[corner]!
      corners[used++] = corner
    }
    offsets.push(used)
  }
  return {
    offsets: Uint32Array.from(offsets),
    vertices: vertices.slice(0, used),
    faces: Uint32Array.from(faces),
    corners: corners.slice(0, used),
    all: counts.length,
    allCorners: indices.length,
    placeOf,
  }
}

const perOf = (property: UsdProperty, standard: Per): Per => {
  const stated = property.metadata.get('interpolation')
  if (stated === 'varying') return 'vertex'
  return (['constant', 'uniform', 'vertex', 'faceVarying'] as const).find((per) => per === stated) ?? standard
}

/** Values of a primvar, with one of them a corner. */
export interface Spread {
  readonly values: Float64Array
  /** A corner each; -1 where it has none. */
  readonly indices: Int32Array
  readonly per: Per
  readonly isIndexed: boolean
}

/** @returns null where there is nothing, or it doesn’t fit, which is told. */
export function spread(
  prim: StagePrim,
  name: string,
  width: number,
  standard: Per,
  faces: Faces,
  pointCount: number,
  messages: MessageCollector,
): Spread | null {
  const property = prim.properties.get(name)
  const values = valueOf(property)
  if (!property || !(values instanceof Float64Array) || values.length < width) return null
  const per = perOf(property, standard)
  const count = Math.floor(values.length / width)
  const stated = numbersIn(prim, `${name}:indices`)
  const elements = { constant: 1, uniform: faces.all, vertex: pointCount, faceVarying: faces.allCorners }[per]
  const found = stated ? stated.length : count
  if (found < elements) {
    messages.add('usd.values', {
      name: prim.name,
      what: `“${name.replace('primvars:', '')}”`,
      found,
      wanted: elements,
    })
    return null
  }
  const none = property.metadata.get('unauthoredValuesIndex')
  const indices = new Int32Array(faces.corners.length)
  let bad = 0
  for (let face = 0; face + 1 < faces.offsets.length; face++)
    for (let corner = faces.offsets[face]!; corner < faces.offsets[face + 1]!; corner++) {
      const element =
        per === 'constant'
          ? 0
          : per === 'uniform'
            ? faces.faces[face]!
            : per === 'vertex'
              ? faces.vertices[corner]!
              : faces.corners[corner]!
      const index = stated ? stated[element]! : element
      const isHeld = index >= 0 && index < count
      if (!isHeld && index !== -1) bad++
      indices[corner] = isHeld && index !== none ? index : -1
    }
  if (bad > 0)
    messages.add('usd.values', {
      name: prim.name,
      what: `“${name.replace('primvars:', '')}” of ${bad} corners`,
      found: count,
      wanted: 'more',
    })
  // the value that stands for none is no value of its own
  const own = none === count - 1 ? count - 1 : count
  const used = values.length === own * width ? values : values.slice(0, own * width)
  return { values: used, indices, per, isIndexed: stated !== null }
}

/** Values that stand once a corner: those of a point that are the same are one, so that what is whole stays whole. */
function shared(
  { values, indices }: Spread,
  width: number,
  faces: Faces,
): { values: Float64Array; indices: Int32Array } {
  // prettier-ignore
  const heads = new Map<number, number[]>()
  const kept: number[] = []
  const own = new Int32Array(indices.length)
  for (let corner = 0; corner < indices.length; corner++) {
    const index = indices[corner]!
    if (index < 0) {
      own[corner] = -1
      continue
    }
    const point = faces.vertices[corner]!
    const list = heads.get(point)
    let found = -1
    for (const candidate of list ?? []) {
      let isSame = true
      for (let k = 0; k < width; k++)
        if (!Object.is(values[kept[candidate]! * width + k], values[index * width + k])) isSame = false
      if (isSame) {
        found = candidate
        break
      }
    }
    if (found < 0) {
      found = kept.push(index) - 1
      if (list) list.push(found)
      else heads.set(point, [found])
    }
    own[corner] = found
  }
  const packed = new Float64Array(kept.length * width)
  kept.forEach((index, at) => packed.set(values.subarray(index * width, (index + 1) * width), at * width))
  return { values: packed, indices: own }
}

export const ofCorners = (
  read: Spread,
  width: number,
  faces: Faces,
): { values: Float64Array; indices: Int32Array } =>
  read.per === 'faceVarying' && !read.isIndexed
    ? shared(read, width, faces)
    : { values: read.values, indices: read.indices }
