/** Polygons, lines and points of one primitive. Source: glTF 2.0, section 3.7.2.1; FB_ngon_encoding. */
import type { MessageCollector } from '../../base/messages/collector.ts'

/** Polygons by vertices; `sizes[f]` of them for polygon f. */
export interface PrimitiveFaces {
  readonly sizes: readonly number[] | Uint32Array
  readonly vertices: Uint32Array
}

export const MODES = {
  points: 0,
  lines: 1,
  lineLoop: 2,
  lineStrip: 3,
  triangles: 4,
  strip: 5,
  fan: 6,
} as const

/** Three vertices a triangle, counter-clockwise from the front, whatever the mode lists them as. */
function trianglesOf(mode: number, indices: Uint32Array): Uint32Array {
  if (mode === MODES.triangles) return indices.subarray(0, indices.length - (indices.length % 3))
  const count = Math.max(0, indices.length - 2)
  const triangles = new Uint32Array(3 * count)
  let used = 0
  for (let at = 0; at < count; at++) {
    const isOdd = at % 2 === 1
    const [a, b, c] =
      mode === MODES.strip
        ? [indices[at]!, indices[at + (isOdd ? 2 : 1)]!, indices[at + (isOdd ? 1 : 2)]!]
        : [indices[0]!, indices[at + 1]!, indices[at + 2]!]
    // strips turn corners by triangles without extent
    if (mode === MODES.strip && (a === b || b === c || a === c)) continue
    triangles[used++] = a
    triangles[used++] = b
    triangles[used++] = c
  }
  return triangles.subarray(0, used)
}

/** A polygon that is no fan from its first corner: the triangles it was cut into, and its corners among theirs. */
export interface PolygonCut {
  readonly triangles: number
  /** Places in the list of the triangles' 3 x `triangles` vertices, in the polygon's order. */
  readonly corners: readonly number[]
}

/** Whether a cut is of these triangles: as many as its corners ask for, and no vertex of them is left out. */
function fitsCut({ triangles, corners }: PolygonCut, listed: Uint32Array): boolean {
  if (triangles < 1 || corners.length !== triangles + 2 || listed.length !== 3 * triangles) return false
  const own = new Set(corners.map((corner) => listed[corner]!))
  return corners.every((corner) => corner < listed.length) && listed.every((vertex) => own.has(vertex))
}

/**
 * @param isUsed vertex count; set to 1 for those that are corners.
 * @param cuts by the number of their first triangle; none where a note of them no longer fits, which `stale` is told.
 * @param isEncoded consecutive triangles with one first vertex are a polygon, cut into a fan.
 * @param place what the primitive is called in messages; triangles beyond its vertices are left out and told.
 */
export function readFaces(
  mode: number,
  indices: Uint32Array,
  isUsed: Uint8Array,
  isEncoded: boolean,
  cuts: ReadonlyMap<number, PolygonCut> | null,
  place: string,
  messages: MessageCollector,
): PrimitiveFaces & { readonly isStale: boolean } {
  let triangles = trianglesOf(mode, indices)
  let broken = 0
  const vertexCount = isUsed.length
  for (let at = 0; at < triangles.length; at++) {
    const vertex = triangles[at]!
    if (vertex < vertexCount) isUsed[vertex] = 1
    else broken++
  }
  if (broken > 0) {
    const sound: number[] = []
    let told = false
    for (let at = 0; at < triangles.length; at += 3) {
      const wrong = [0, 1, 2].find((k) => triangles[at + k]! >= vertexCount)
      if (wrong === undefined) sound.push(triangles[at]!, triangles[at + 1]!, triangles[at + 2]!)
      else if (told) messages.count('gltf.index-out-of-range', 1)
      else {
        told = true
        messages.add('gltf.index-out-of-range', {
          place,
          value: triangles[at + wrong]!,
          available: vertexCount,
        })
      }
    }
    triangles = Uint32Array.from(sound)
    // what stood in triangles that are left out is no corner; what other primitives mark is looked for anew then
    isUsed.fill(0)
    for (const vertex of sound) isUsed[vertex] = 1
  }
  const count = triangles.length / 3
  const isStale =
    cuts !== null &&
    (broken > 0 ||
      ![...cuts].every(([first, cut]) =>
        fitsCut(cut, triangles.subarray(3 * first, 3 * (first + cut.triangles))),
      ))
  if (isStale) cuts = null
  if (!isEncoded && !cuts) return { sizes: new Uint32Array(count).fill(3), vertices: triangles, isStale }
  const sizes: number[] = []
  const vertices = new Uint32Array(triangles.length)
  let used = 0
  let isWhole = true
  for (let triangle = 0; triangle < count; triangle++) {
    const at = 3 * triangle
    const cut = cuts?.get(triangle)
    if (cut) {
      for (const corner of cut.corners) vertices[used++] = triangles[at + corner]!
      sizes.push(cut.corners.length)
      triangle += cut.triangles - 1
      isWhole = true
      continue
    }
    const goesOn =
      isEncoded &&
      !isWhole &&
      triangles[at] === triangles[at - 3] &&
      // a fan goes on where it stopped; what else shares a first vertex is a polygon of its own
      triangles[at + 1] === vertices[used - 1]
    if (goesOn) {
      vertices[used++] = triangles[at + 2]!
      sizes[sizes.length - 1]!++
      continue
    }
    vertices[used++] = triangles[at]!
    vertices[used++] = triangles[at + 1]!
    vertices[used++] = triangles[at + 2]!
    sizes.push(3)
    isWhole = false
  }
  return { sizes, vertices: vertices.slice(0, used), isStale }
}

/** Line corners of a primitive, a list a line. */
export function readLines(mode: number, indices: Uint32Array, vertexCount: number): number[][] {
  const sound = indices.filter((vertex) => vertex < vertexCount)
  if (mode === MODES.lineStrip) return sound.length > 1 ? [[...sound]] : []
  if (mode === MODES.lineLoop) return sound.length > 1 ? [[...sound, sound[0]!]] : []
  const lines: number[][] = []
  for (let at = 0; at + 1 < sound.length; at += 2) lines.push([sound[at]!, sound[at + 1]!])
  return lines
}
