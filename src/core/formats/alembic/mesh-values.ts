/** Polygons of a mesh, and values that stand on them. Source: as in read-alembic.ts. */
import type { MessageCollector } from '../../base/messages/collector.ts'
import { listOf } from '../notes/json.ts'
import type { AbcCompound } from './archive-tree.ts'
import { valuesIn, wholesAt, type GeomParam, type Sampling } from './property-access.ts'

export interface Faces {
  readonly offsets: Uint32Array
  readonly vertices: Uint32Array
  /** Each corner’s number in the file. */
  readonly corners: Uint32Array
  readonly faces: Uint32Array
  readonly placeOf: Int32Array
  readonly allCorners: number
}

/** Polygons wind the other way in the file; the first corner stays the first. */
export function readFaces(
  geometry: AbcCompound,
  name: string,
  pointCount: number,
  sampling: Sampling,
  messages: MessageCollector,
): Faces {
  // prettier-ignore
  const counts = wholesAt(valuesIn(geometry, '.faceCounts'), sampling) ?? new Int32Array(0)
  const indices = wholesAt(valuesIn(geometry, '.faceIndices'), sampling) ?? new Int32Array(0)
  const offsets = new Uint32Array(counts.length + 1)
  const vertices = new Uint32Array(indices.length)
  const corners = new Uint32Array(indices.length)
  const faces = new Uint32Array(counts.length)
  const placeOf = new Int32Array(counts.length).fill(-1)
  let faceCount = 0
  let used = 0
  let at = 0
  for (let face = 0; face < counts.length; face++) {
    const count = counts[face]!
    if (!(count >= 0) || at + count > indices.length) {
      messages.add('alembic.part', { place: `What follows polygon ${face} of “${name}”`, why: 'the file has no corners for it' }) // prettier-ignore
      break
    }
    const from = at
    at += count
    if (count < 3) {
      messages.add('alembic.short-face', { name, corners: count })
      continue
    }
    let bad: number | undefined
    for (let corner = from; corner < at; corner++) {
      const point = indices[corner]!
      if (!(point >= 0 && point < pointCount)) bad = point
    }
    if (bad !== undefined) {
      messages.add('alembic.index-out-of-range', { name, value: bad, available: pointCount })
      continue
    }
    placeOf[face] = faceCount
    faces[faceCount++] = face
    for (let k = 0; k < count; k++) {
      const corner = k === 0 ? from : at - k
      vertices[used] = indices[corner]!
      corners[used++] = corner
    }
    offsets[faceCount] = used
  }
  const isWhole = used === vertices.length && faceCount === faces.length
  return {
    offsets: isWhole ? offsets : offsets.slice(0, faceCount + 1),
    vertices: isWhole ? vertices : vertices.slice(0, used),
    corners: isWhole ? corners : corners.slice(0, used),
    faces: isWhole ? faces : faces.slice(0, faceCount),
    placeOf,
    allCorners: indices.length,
  }
}

/** A value of a parameter for each corner, -1 for none; null where it doesn’t fit, which is told. */
export function spread(
  param: GeomParam,
  what: string,
  name: string,
  { corners, vertices, offsets, faces, allCorners, placeOf }: Faces,
  pointCount: number,
  messages: MessageCollector,
): Int32Array | null {
  const { scope, indices, values, width } = param
  const count = Math.floor(values.length / width)
  const wanted = scope === 'fvr' ? allCorners : scope === 'vtx' || scope === 'var' ? pointCount : scope === 'uni' ? placeOf.length : 1 // prettier-ignore
  const found = indices ? indices.length : count
  if (found < wanted) {
    messages.add('alembic.values', { name, what, found, wanted })
    return null
  }
  const own = new Int32Array(corners.length)
  const placed = (element: number): number => {
    const index = indices ? indices[element]! : element
    return index >= 0 && index < count ? index : -1
  }
  if (scope === 'uni' || scope === 'con') {
    for (let face = 0; face + 1 < offsets.length; face++)
      own.fill(placed(scope === 'uni' ? faces[face]! : 0), offsets[face]!, offsets[face + 1]!)
    return own
  }
  // a million polygons have four million: nothing is asked again for each
  const elements = scope === 'fvr' ? corners : vertices
  for (let corner = 0; corner < own.length; corner++) own[corner] = placed(elements[corner]!)
  return own
}

/** Values that stand once a corner: those of a point that are the same are one. */
export function shared(
  values: Float64Array,
  width: number,
  indices: Int32Array,
  vertices: Uint32Array,
): { values: Float64Array; indices: Int32Array } {
  // prettier-ignore
  const known = new Map<string, number>()
  const kept: number[] = []
  const own = indices.map((index, corner) => {
    if (index < 0) return -1
    const key = `${vertices[corner]} ${values.subarray(index * width, (index + 1) * width).join()}`
    const before = known.get(key)
    if (before !== undefined) return before
    known.set(key, kept.length)
    return kept.push(index) - 1
  })
  const packed = new Float64Array(kept.length * width)
  kept.forEach((index, at) => packed.set(values.subarray(index * width, (index + 1) * width), at * width))
  return { values: packed, indices: own }
}

/** Values whose absence a note tells of: the file has one more of them that stands for none. */
export function withAbsent<Held extends { readonly values: Float64Array; readonly indices: Int32Array }>(
  held: Held,
  width: number,
  absent: unknown,
): Held {
  const corners = listOf(absent).filter(
    (corner): corner is number => typeof corner === 'number' && corner >= 0 && corner < held.indices.length,
  )
  if (corners.length === 0) return held
  const indices = held.indices.slice()
  for (const corner of corners) indices[corner] = -1
  const last = held.values.length / width - 1
  return {
    ...held,
    indices,
    values: indices.includes(last) ? held.values : held.values.slice(0, last * width),
  }
}
