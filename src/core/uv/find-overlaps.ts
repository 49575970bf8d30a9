/** Overlapping UVs, exact by area. */
import type { Mesh, UvSet } from '../scene/mesh.ts'
import { cutEars, isConvex } from './cut-ears.ts'
import { isMapped } from './uv-measures.ts'

export interface OverlapPart {
  readonly mesh: Mesh
  readonly set: UvSet
  /** faceCount flags of the faces that take part; null: all. */
  readonly chosen: Uint8Array | null
}

export interface Overlaps {
  /** One list of faces for each part, in rising order. */
  readonly faces: readonly Uint32Array[]
  /** UV area covered twice by faces of one part; a place covered by three faces counts for each pair. */
  readonly ownArea: number
  /** The same between faces of different parts. */
  readonly betweenArea: number
  readonly pairCount: number
  /** False where islands are stacked so high that not all pairs were looked at. */
  readonly complete: boolean
}

/**
 * Pairs looked at, at least, and for each piece. An atlas needs about four a piece; ten thousand faces stacked
 * on one place are fifty million pairs.
 */
const LEAST_PAIRS = 5000000
const PAIRS_PER_PIECE = 24
/** Pairs of one cell that are passed over, since their boxes lie apart, for each that may be looked at. */
const PASSED_PER_PAIR = 40
const MOST_CELLS_ALONG = 65536

/** Share of the smaller face's area that two faces must have in common to count; below it is rounding. */
export const OVERLAP_SHARE = 1e-4

/**
 * Every pair of faces whose UVs cover a common area. Faces are cut into convex pieces (a convex quad is one),
 * pieces are spread over a grid of cells about a piece large, and the pieces of a cell are clipped against
 * each other (Sutherland & Hodgman 1974), each pair in one cell only.
 *
 * @param parts faces of all parts share the tile; V up.
 */
export function findOverlaps(parts: readonly OverlapPart[]): Overlaps {
  const pieces = collectPieces(parts)
  const { count, offsets, coordinates, boxes, areas, piecePart, pieceFace } = pieces
  const grid = buildGrid(boxes, count)
  const marks = parts.map((part) => new Uint8Array(part.mesh.faceOffsets.length - 1))
  let ownArea = 0
  let betweenArea = 0
  let pairCount = 0
  let looked = 0
  let passed = 0
  let complete = true
  const mostPairs = Math.max(LEAST_PAIRS, PAIRS_PER_PIECE * count)
  const clipper = createClipper()
  cells: for (let cell = 0; cell < grid.cellCount; cell++) {
    const end = grid.offsets[cell + 1]!
    for (let at = grid.offsets[cell]!; at < end; at++) {
      const a = grid.pieces[at]!
      const a0 = boxes[4 * a]!
      const a1 = boxes[4 * a + 1]!
      const a2 = boxes[4 * a + 2]!
      const a3 = boxes[4 * a + 3]!
      passed += end - at
      if (passed > PASSED_PER_PAIR * mostPairs) {
        complete = false
        break cells
      }
      for (let other = at + 1; other < end; other++) {
        const b = grid.pieces[other]!
        if (
          boxes[4 * b]! >= a2 ||
          boxes[4 * b + 2]! <= a0 ||
          boxes[4 * b + 1]! >= a3 ||
          boxes[4 * b + 3]! <= a1
        )
          continue
        // the pair belongs to the cell that holds the lower corner of what the boxes share
        const low = grid.cellAt(Math.max(a0, boxes[4 * b]!), Math.max(a1, boxes[4 * b + 1]!))
        if (low !== cell) continue
        if (pieceFace[a] === pieceFace[b] && piecePart[a] === piecePart[b]) continue
        if (++looked > mostPairs) {
          complete = false
          break cells
        }
        if (separated(coordinates, offsets, a, b) || separated(coordinates, offsets, b, a)) continue
        const common = clipper.commonArea(
          coordinates,
          offsets[a]!,
          offsets[a + 1]!,
          offsets[b]!,
          offsets[b + 1]!,
        )
        if (common <= Math.min(areas[a]!, areas[b]!) * OVERLAP_SHARE) continue
        pairCount++
        if (piecePart[a] === piecePart[b]) ownArea += common
        else betweenArea += common
        marks[piecePart[a]!]![pieceFace[a]!] = 1
        marks[piecePart[b]!]![pieceFace[b]!] = 1
      }
    }
  }
  return {
    faces: marks.map((flags) => {
      const found: number[] = []
      for (let face = 0; face < flags.length; face++) if (flags[face]) found.push(face)
      return Uint32Array.from(found)
    }),
    ownArea,
    betweenArea,
    pairCount,
    complete,
  }
}

interface Pieces {
  readonly count: number
  /** count + 1 offsets into `coordinates` / 2. */
  readonly offsets: Uint32Array
  /** U and V of each corner, counter-clockwise. */
  readonly coordinates: Float64Array
  /** u0, v0, u1, v1 of each piece. */
  readonly boxes: Float64Array
  readonly areas: Float64Array
  readonly piecePart: Uint32Array
  readonly pieceFace: Uint32Array
}

function collectPieces(parts: readonly OverlapPart[]): Pieces {
  let most = 0
  let corners = 0
  for (const { mesh } of parts) {
    // cut into triangles, a polygon of n corners is n - 2 pieces of three
    most += mesh.faceVertices.length - 2 * (mesh.faceOffsets.length - 1)
    corners += 3 * mesh.faceVertices.length
  }
  const offsets = new Uint32Array(most + 1)
  const coordinates = new Float64Array(2 * corners)
  const boxes = new Float64Array(4 * most)
  const areas = new Float64Array(most)
  const piecePart = new Uint32Array(most)
  const pieceFace = new Uint32Array(most)
  let count = 0
  let used = 0
  const add = (part: number, face: number, set: UvSet, from: readonly number[]): void => {
    let doubled = 0
    const size = from.length
    const { values, indices } = set
    for (let k = 0; k < size; k++) {
      const i = 2 * indices[from[k]!]!
      const j = 2 * indices[from[k + 1 < size ? k + 1 : 0]!]!
      const o = 2 * indices[from[0]!]!
      doubled +=
        (values[i]! - values[o]!) * (values[j + 1]! - values[o + 1]!) -
        (values[j]! - values[o]!) * (values[i + 1]! - values[o + 1]!)
    }
    if (doubled === 0) return
    const box = 4 * count
    boxes[box] = boxes[box + 1] = Infinity
    boxes[box + 2] = boxes[box + 3] = -Infinity
    for (let k = 0; k < size; k++) {
      const i = 2 * indices[from[doubled > 0 ? k : size - 1 - k]!]!
      const u = values[i]!
      const v = values[i + 1]!
      coordinates[2 * used] = u
      coordinates[2 * used + 1] = v
      used++
      if (u < boxes[box]!) boxes[box] = u
      if (v < boxes[box + 1]!) boxes[box + 1] = v
      if (u > boxes[box + 2]!) boxes[box + 2] = u
      if (v > boxes[box + 3]!) boxes[box + 3] = v
    }
    areas[count] = Math.abs(doubled) / 2
    piecePart[count] = part
    pieceFace[count] = face
    offsets[++count] = used
  }
  const corners4: number[] = []
  parts.forEach(({ mesh, set, chosen }, part) => {
    for (let face = 0; face + 1 < mesh.faceOffsets.length; face++) {
      if ((chosen && !chosen[face]) || !isMapped(mesh, set, face)) continue
      const start = mesh.faceOffsets[face]!
      const end = mesh.faceOffsets[face + 1]!
      corners4.length = 0
      for (let corner = start; corner < end; corner++) corners4.push(corner)
      if (isConvex(set, corners4)) add(part, face, set, corners4)
      else for (const triangle of cutEars(set, corners4)) add(part, face, set, triangle)
    }
  })
  return { count, offsets, coordinates, boxes, areas, piecePart, pieceFace }
}

/** True where a side of `a` has all of `b` on its outer side: neighbours over a shared side end here. */
function separated(coordinates: Float64Array, offsets: Uint32Array, a: number, b: number): boolean {
  const aStart = offsets[a]!
  const aEnd = offsets[a + 1]!
  const bStart = offsets[b]!
  const bEnd = offsets[b + 1]!
  let pu = coordinates[2 * aEnd - 2]!
  let pv = coordinates[2 * aEnd - 1]!
  for (let at = aStart; at < aEnd; at++) {
    const qu = coordinates[2 * at]!
    const qv = coordinates[2 * at + 1]!
    const du = qu - pu
    const dv = qv - pv
    // a corner that stands twice has no side there, and nothing lies beyond it
    let outside = du !== 0 || dv !== 0
    for (let other = bStart; other < bEnd && outside; other++)
      if (du * (coordinates[2 * other + 1]! - pv) - dv * (coordinates[2 * other]! - pu) > 0) outside = false
    if (outside) return true
    pu = qu
    pv = qv
  }
  return false
}

function createClipper() {
  let from = new Float64Array(256)
  let to = new Float64Array(256)
  return {
    /** Area common to two convex polygons, both counter-clockwise; corner ranges into `coordinates`. */
    commonArea(
      coordinates: Float64Array,
      aStart: number,
      aEnd: number,
      bStart: number,
      bEnd: number,
    ): number {
      const room = 4 * (aEnd - aStart + bEnd - bStart + 2)
      if (from.length < room) {
        from = new Float64Array(room)
        to = new Float64Array(room)
      }
      let size = aEnd - aStart
      for (let at = 0; at < 2 * size; at++) from[at] = coordinates[2 * aStart + at]!
      let pu = coordinates[2 * bEnd - 2]!
      let pv = coordinates[2 * bEnd - 1]!
      for (let at = bStart; at < bEnd && size > 2; at++) {
        const qu = coordinates[2 * at]!
        const qv = coordinates[2 * at + 1]!
        const du = qu - pu
        const dv = qv - pv
        let kept = 0
        let su = from[2 * size - 2]!
        let sv = from[2 * size - 1]!
        let sSide = du * (sv - pv) - dv * (su - pu)
        for (let k = 0; k < size; k++) {
          const eu = from[2 * k]!
          const ev = from[2 * k + 1]!
          const eSide = du * (ev - pv) - dv * (eu - pu)
          if (eSide >= 0 !== sSide >= 0) {
            const share = sSide / (sSide - eSide)
            to[2 * kept] = su + share * (eu - su)
            to[2 * kept + 1] = sv + share * (ev - sv)
            kept++
          }
          if (eSide >= 0) {
            to[2 * kept] = eu
            to[2 * kept + 1] = ev
            kept++
          }
          su = eu
          sv = ev
          sSide = eSide
        }
        const swap = from
        from = to
        to = swap
        size = kept
        pu = qu
        pv = qv
      }
      if (size < 3) return 0
      let doubled = 0
      for (let k = 1; k + 1 < size; k++)
        doubled +=
          (from[2 * k]! - from[0]!) * (from[2 * k + 3]! - from[1]!) -
          (from[2 * k + 2]! - from[0]!) * (from[2 * k + 1]! - from[1]!)
      return Math.abs(doubled) / 2
    },
  }
}

function buildGrid(boxes: Float64Array, count: number) {
  let u0 = Infinity
  let v0 = Infinity
  let u1 = -Infinity
  let v1 = -Infinity
  let extentU = 0
  let extentV = 0
  for (let piece = 0; piece < count; piece++) {
    u0 = Math.min(u0, boxes[4 * piece]!)
    v0 = Math.min(v0, boxes[4 * piece + 1]!)
    u1 = Math.max(u1, boxes[4 * piece + 2]!)
    v1 = Math.max(v1, boxes[4 * piece + 3]!)
    extentU += boxes[4 * piece + 2]! - boxes[4 * piece]!
    extentV += boxes[4 * piece + 3]! - boxes[4 * piece + 1]!
  }
  const width = count ? u1 - u0 : 0
  const height = count ? v1 - v0 : 0
  // a cell about one and a half pieces wide and high, no more cells than four a piece
  const most = 4 * count + 16
  const cellsAlong = (length: number, mean: number): number =>
    Math.max(1, Math.min(MOST_CELLS_ALONG, Math.ceil(length / Math.max(1.5 * mean, 1e-12))))
  let columns = cellsAlong(width, extentU / (count || 1))
  let rows = cellsAlong(height, extentV / (count || 1))
  if (columns * rows > most) {
    const over = Math.sqrt((columns * rows) / most)
    columns = Math.max(1, Math.min(most, Math.floor(columns / over)))
    rows = Math.max(1, Math.floor(Math.min(rows, most / columns)))
  }
  const perU = width > 0 ? columns / width : 0
  const perV = height > 0 ? rows / height : 0
  const column = (u: number): number => Math.max(0, Math.min(columns - 1, Math.floor((u - u0) * perU)))
  const row = (v: number): number => Math.max(0, Math.min(rows - 1, Math.floor((v - v0) * perV)))
  const cellCount = columns * rows
  const offsets = new Uint32Array(cellCount + 1)
  const eachCell = (piece: number, visit: (cell: number) => void): void => {
    const c1 = column(boxes[4 * piece + 2]!)
    const r1 = row(boxes[4 * piece + 3]!)
    for (let r = row(boxes[4 * piece + 1]!); r <= r1; r++)
      for (let c = column(boxes[4 * piece]!); c <= c1; c++) visit(r * columns + c)
  }
  for (let piece = 0; piece < count; piece++) eachCell(piece, (cell) => offsets[cell + 1]!++)
  for (let cell = 0; cell < cellCount; cell++) offsets[cell + 1]! += offsets[cell]!
  const next = offsets.slice()
  const pieces = new Uint32Array(offsets[cellCount]!)
  for (let piece = 0; piece < count; piece++) eachCell(piece, (cell) => (pieces[next[cell]!++] = piece))
  return {
    cellCount,
    offsets,
    pieces,
    cellAt: (u: number, v: number): number => row(v) * columns + column(u),
  }
}
