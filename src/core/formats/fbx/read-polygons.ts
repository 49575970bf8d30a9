/** Polygons and edges of an FBX geometry. */
import type { MessageCollector } from '../../base/messages/collector.ts'
import { childOf, indicesOf, numbersOf, type FbxRecord } from './tree.ts'

export interface Polygons {
  readonly points: Float64Array
  readonly faceOffsets: Uint32Array
  readonly faceVertices: Uint32Array
  /** The place of each corner in the file's own list; null where no polygon was left out. */
  readonly cornerPlaces: Uint32Array | null
  /** The number of each face in the file; null where no polygon was left out. */
  readonly facePlaces: Uint32Array | null
  /** Two points for each entry of `Edges`; -1 where it leads nowhere. */
  readonly edgePoints: () => Int32Array
}

/** Polygons end with a corner that is the complement of its point. */
export function readPolygons(geometry: FbxRecord, messages: MessageCollector): Polygons {
  const stored = numbersOf(childOf(geometry, 'Vertices'))
  const pointCount = Math.floor(stored.length / 3)
  const points = stored.length === 3 * pointCount ? stored : stored.slice(0, 3 * pointCount)
  const indices = indicesOf(childOf(geometry, 'PolygonVertexIndex'))
  const at = geometry.place
  const faceVertices = new Uint32Array(indices.length)
  const faceOffsets = new Uint32Array(countEnds(indices) + 1)
  let faceCount = 0
  let cornerCount = 0
  let fileFace = 0
  /** Filled from the first polygon on that is left out. */
  let left: { corners: number[]; faces: number[] } | null = null
  for (let start = 0; start < indices.length; fileFace++) {
    let end = start
    let sound = true
    for (;;) {
      const index = indices[end]!
      const point = index < 0 ? ~index : index
      if (point < pointCount) faceVertices[cornerCount + end - start] = point
      else {
        messages.add(
          'fbx.index-out-of-range',
          { kind: 'point', value: point, available: pointCount },
          null,
          at,
        )
        sound = false
      }
      end++
      if (index < 0 || end === indices.length) break
    }
    if (end - start < 3) {
      messages.add('fbx.short-face', { corners: end - start }, null, at)
      sound = false
    }
    if (!sound && !left)
      left = {
        corners: Array.from({ length: cornerCount }, (_value, corner) => corner),
        faces: Array.from({ length: faceCount }, (_value, face) => face),
      }
    if (sound) {
      if (left) {
        for (let corner = start; corner < end; corner++) left.corners.push(corner)
        left.faces.push(fileFace)
      }
      cornerCount += end - start
      faceOffsets[++faceCount] = cornerCount
    }
    start = end
  }
  return {
    points,
    faceOffsets: left ? faceOffsets.slice(0, faceCount + 1) : faceOffsets,
    faceVertices: left ? faceVertices.slice(0, cornerCount) : faceVertices,
    cornerPlaces: left && Uint32Array.from(left.corners),
    facePlaces: left && Uint32Array.from(left.faces),
    edgePoints: () => readEdgePoints(indicesOf(childOf(geometry, 'Edges')), indices, pointCount),
  }
}

/** Polygons in a list whose last corners are told by negative numbers. */
export function countEnds(indices: Int32Array): number {
  let ends = 0
  for (let at = 0; at < indices.length; at++) if (indices[at]! < 0) ends++
  // a list without an end closes with its last corner
  return ends + (indices.length > 0 && indices[indices.length - 1]! >= 0 ? 1 : 0)
}

/** Polygons with more corners than this have their beginning remembered, so that no list of edges makes it slow. */
export const LONG_POLYGON = 64

/** An edge goes from the corner it names to the next of the same polygon. */
export function readEdgePoints(edges: Int32Array, indices: Int32Array, pointCount: number): Int32Array {
  const edgePoints = new Int32Array(2 * edges.length).fill(-1)
  const known = new Map<number, number>()
  /** First corner of the polygon that ends with `last`. */
  const startOf = (last: number): number => {
    let start = last
    while (start > 0 && indices[start - 1]! >= 0) {
      if (last - start === LONG_POLYGON) {
        const found = known.get(last)
        if (found !== undefined) return found
      }
      start--
    }
    if (last - start >= LONG_POLYGON) known.set(last, start)
    return start
  }
  const final = indices.length - 1
  for (let edge = 0; edge < edges.length; edge++) {
    const place = edges[edge]!
    if (place < 0 || place > final) continue
    const isLast = indices[place]! < 0 || place === final
    const next = indices[isLast ? startOf(place) : place + 1]!
    const from = indices[place]! < 0 ? ~indices[place]! : indices[place]!
    const to = next < 0 ? ~next : next
    if (from >= pointCount || to >= pointCount) continue
    edgePoints[2 * edge] = from
    edgePoints[2 * edge + 1] = to
  }
  return edgePoints
}
