/**
 * Polygons as triangles from which they can be told again. Source: FB_ngon_encoding: a polygon is a fan, its triangles one
 * after the other with one first vertex, and the next polygon begins with another.
 */
import { createMeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { triangulateFace } from '../../mesh/triangles/triangulate-face.ts'
import type { Mesh } from '../../scene/mesh.ts'

export interface EncodedPolygons {
  /** Vertices, three a triangle. */
  readonly indices: Uint32Array
  /** Polygons that are no fan from their first corner: first triangle, triangles, corners among their vertices. */
  readonly cuts: readonly (readonly number[])[]
}

/**
 * @param faces of the mesh, in the order that they are written.
 * @param isEncoded keeps polygons apart by their first vertices; else all are triangles.
 */
export function encodePolygons(
  mesh: Mesh,
  faces: Uint32Array,
  cornerVertices: Uint32Array,
  isEncoded: boolean,
): EncodedPolygons {
  const { faceOffsets, faceVertices, points } = mesh
  let length = 0
  for (let at = 0; at < faces.length; at++)
    length += 3 * Math.max(0, faceOffsets[faces[at]! + 1]! - faceOffsets[faces[at]!]! - 2)
  const indices = new Uint32Array(length)
  const cuts: number[][] = []
  let used = 0
  if (!isEncoded) {
    for (let at = 0; at < faces.length; at++) {
      const start = faceOffsets[faces[at]!]!
      for (let k = 0; k < 3; k++) indices[used++] = cornerVertices[start + k]!
    }
    return { indices, cuts }
  }
  let facts: ReturnType<typeof createMeshFacts> | null = null
  const cross = new Float64Array(3)
  const triangleNormal = (a: number, b: number, c: number, into: Float64Array): void => {
    const p = 3 * faceVertices[a]!
    const q = 3 * faceVertices[b]!
    const r = 3 * faceVertices[c]!
    const ux = points[q]! - points[p]!
    const uy = points[q + 1]! - points[p + 1]!
    const uz = points[q + 2]! - points[p + 2]!
    const vx = points[r]! - points[p]!
    const vy = points[r + 1]! - points[p + 1]!
    const vz = points[r + 2]! - points[p + 2]!
    into[0] = uy * vz - uz * vy
    into[1] = uz * vx - ux * vz
    into[2] = ux * vy - uy * vx
  }
  const sum = new Float64Array(3)
  /** Whether a fan from a corner covers the polygon once: all its triangles face as the whole does. */
  const isFan = (start: number, size: number, from: number): boolean => {
    let there = from + 1 === size ? 0 : from + 1
    for (let k = 1; k + 1 < size; k++) {
      const after = there + 1 === size ? 0 : there + 1
      triangleNormal(start + from, start + there, start + after, cross)
      there = after
      if (cross[0]! * sum[0]! + cross[1]! * sum[1]! + cross[2]! * sum[2]! < 0) return false
    }
    return true
  }
  /** Whether both triangles of a quad face as the whole does: the last one's normal, and the rest of their sum. */
  const bulges = (): boolean => {
    const whole = sum[0]! * sum[0]! + sum[1]! * sum[1]! + sum[2]! * sum[2]!
    const second = cross[0]! * sum[0]! + cross[1]! * sum[1]! + cross[2]! * sum[2]!
    return second >= 0 && whole - second >= 0
  }
  let before = -1
  for (let at = 0; at < faces.length; at++) {
    const face = faces[at]!
    const start = faceOffsets[face]!
    const size = faceOffsets[face + 1]! - start
    if (size < 3) continue
    sum[0] = sum[1] = sum[2] = 0
    // a triangle is a fan from any of its corners
    for (let k = 1; size > 3 && k + 1 < size; k++) {
      triangleNormal(start, start + k, start + k + 1, cross)
      sum[0] += cross[0]!
      sum[1]! += cross[1]!
      sum[2]! += cross[2]!
    }
    let from = 0
    // most polygons have four corners and bulge everywhere: from the first one they are a fan
    if (size === 4 && cornerVertices[start] !== before && bulges()) {
      const apex = cornerVertices[start]!
      indices[used] = indices[used + 3] = apex
      indices[used + 1] = cornerVertices[start + 1]!
      indices[used + 2] = indices[used + 4] = cornerVertices[start + 2]!
      indices[used + 5] = cornerVertices[start + 3]!
      used += 6
      before = apex
      continue
    }
    while (from < size && (cornerVertices[start + from] === before || !isFan(start, size, from))) from++
    const first = used / 3
    if (from < size) {
      const apex = cornerVertices[start + from]!
      for (let k = 1; k + 1 < size; k++) {
        indices[used++] = apex
        indices[used++] = cornerVertices[start + ((from + k) % size)]!
        indices[used++] = cornerVertices[start + ((from + k + 1) % size)]!
      }
      before = apex
      if (from > 0) {
        // place of each corner among the fan's vertices: the apex, then two of the first triangle, then one each
        const placeOf = (corner: number): number => {
          const k = (corner - from + size) % size
          return k === 0 ? 0 : k === 1 ? 1 : 3 * (k - 2) + 2
        }
        cuts.push([first, size - 2, ...Array.from({ length: size }, (_none, corner) => placeOf(corner))])
      }
      continue
    }
    facts ??= createMeshFacts(mesh)
    const cut: number[] = []
    triangulateFace(mesh, face, facts.faceNormals(), cut)
    const places = new Int32Array(size).fill(-1)
    for (let k = 0; k < cut.length; k += 3) {
      // a triangle may begin at any of its corners: one that the last did not begin at
      const turn = [0, 1, 2].find((one) => cornerVertices[start + cut[k + one]!] !== before) ?? 0
      for (let one = 0; one < 3; one++) {
        const corner = cut[k + ((turn + one) % 3)]!
        places[corner] = used - 3 * first
        indices[used++] = cornerVertices[start + corner]!
      }
      before = indices[used - 3]!
    }
    cuts.push([first, cut.length / 3, ...places])
  }
  return { indices: indices.subarray(0, used), cuts }
}
