/** Where islands end, and how close they come to each other. */
import type { MeshFacts } from '../mesh/relations/mesh-facts.ts'
import { nextCorner } from '../mesh/relations/mesh-facts.ts'
import type { UvSet } from '../scene/mesh.ts'
import type { Islands } from './find-islands.ts'
import { findSeams } from './uv-measures.ts'

export interface BorderSegments {
  /** 4 x count: u, v of both ends. */
  readonly ends: Float64Array
  /** count; the island of each segment. */
  readonly islands: Int32Array
  /** count; the corner that starts it. */
  readonly corners: Uint32Array
}

/** Sides of mapped faces at which their island ends. */
export function islandBorders(facts: MeshFacts, set: UvSet, islands: Islands): BorderSegments {
  const { mesh } = facts
  const { cornerEdges, edgeSides } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const seams = findSeams(facts, set)
  const corners: number[] = []
  for (let corner = 0; corner < cornerEdges.length; corner++) {
    const edge = cornerEdges[corner]!
    if (edgeSides[edge] === 2 && !seams[edge]) continue
    if (islands.faceIslands[cornerFaces[corner]!]! >= 0) corners.push(corner)
  }
  const ends = new Float64Array(4 * corners.length)
  corners.forEach((corner, at) => {
    const to = nextCorner(mesh, cornerFaces[corner]!, corner)
    for (const [place, of] of [
      [0, corner],
      [2, to],
    ] as const) {
      ends[4 * at + place] = set.values[2 * set.indices[of]!]!
      ends[4 * at + place + 1] = set.values[2 * set.indices[of]! + 1]!
    }
  })
  return {
    ends,
    islands: Int32Array.from(corners, (corner) => islands.faceIslands[cornerFaces[corner]!]!),
    corners: Uint32Array.from(corners),
  }
}

/** Distance between two segments in the plane; 0 where they cross. */
export function segmentDistance(ends: Float64Array, a: number, b: number): number {
  const [p, q, r, s] = [4 * a, 4 * a + 2, 4 * b, 4 * b + 2]
  const side = (i: number, j: number, k: number): number =>
    (ends[j]! - ends[i]!) * (ends[k + 1]! - ends[i + 1]!) -
    (ends[j + 1]! - ends[i + 1]!) * (ends[k]! - ends[i]!)
  if (side(p, q, r) * side(p, q, s) < 0 && side(r, s, p) * side(r, s, q) < 0) return 0
  const toSegment = (k: number, i: number, j: number): number => {
    const du = ends[j]! - ends[i]!
    const dv = ends[j + 1]! - ends[i + 1]!
    const squared = du * du + dv * dv
    const along = ((ends[k]! - ends[i]!) * du + (ends[k + 1]! - ends[i + 1]!) * dv) / squared
    const share = squared > 0 ? Math.max(0, Math.min(1, along)) : 0
    return Math.hypot(ends[k]! - ends[i]! - share * du, ends[k + 1]! - ends[i + 1]! - share * dv)
  }
  return Math.min(toSegment(p, r, s), toSegment(q, r, s), toSegment(r, p, q), toSegment(s, p, q))
}

const MOST_CELLS_PER_SEGMENT = 4096
const MOST_COMPARISONS = 40000000
/** Beyond 2^53 a step from a cell to the next stays where it is. */
const FARTHEST_CELL = 2 ** 50

/**
 * Pairs of islands closer than `reach`, each with the least distance between their borders. Segments of
 * several parts may be given together when their islands are numbered apart.
 */
export function closeIslands(
  segments: BorderSegments,
  reach: number,
): { pairs: { a: number; b: number; distance: number; segment: number }[]; complete: boolean } {
  const count = segments.islands.length
  const cell = Math.max(reach, 1e-9)
  const cells = new Map<number, number[]>()
  const found = new Map<string, { a: number; b: number; distance: number; segment: number }>()
  const boxOf = (at: number): [number, number, number, number] => [
    Math.min(segments.ends[4 * at]!, segments.ends[4 * at + 2]!),
    Math.min(segments.ends[4 * at + 1]!, segments.ends[4 * at + 3]!),
    Math.max(segments.ends[4 * at]!, segments.ends[4 * at + 2]!),
    Math.max(segments.ends[4 * at + 1]!, segments.ends[4 * at + 3]!),
  ]
  const key = (column: number, row: number): number => column * 33554467 + row
  let comparisons = 0
  let complete = true
  for (let at = 0; at < count; at++) {
    const [u0, v0, u1, v1] = boxOf(at)
    const c0 = Math.floor((u0 - reach) / cell)
    const c1 = Math.floor((u1 + reach) / cell)
    const r0 = Math.floor((v0 - reach) / cell)
    const r1 = Math.floor((v1 + reach) / cell)
    const isFarOff = Math.max(Math.abs(c0), Math.abs(c1), Math.abs(r0), Math.abs(r1)) > FARTHEST_CELL
    if (isFarOff || !((c1 - c0 + 1) * (r1 - r0 + 1) <= MOST_CELLS_PER_SEGMENT * 64)) {
      complete = false
      continue
    }
    const compared = new Set<number>()
    for (let column = c0; column <= c1; column++)
      for (let row = r0; row <= r1; row++)
        for (const other of cells.get(key(column, row)) ?? []) {
          if (segments.islands[other] === segments.islands[at] || compared.has(other)) continue
          compared.add(other)
          if (++comparisons > MOST_COMPARISONS) return { pairs: [...found.values()], complete: false }
          const distance = segmentDistance(segments.ends, at, other)
          if (!(distance < reach)) continue
          const [a, b] = [segments.islands[at]!, segments.islands[other]!].sort((x, y) => x - y) as [
            number,
            number,
          ]
          const known = found.get(`${a} ${b}`)
          if (!known || distance < known.distance) found.set(`${a} ${b}`, { a, b, distance, segment: at })
        }
    // a segment is filed under the cells its box covers; what looks for it looks one reach further
    for (let column = Math.floor(u0 / cell); column <= Math.floor(u1 / cell); column++)
      for (let row = Math.floor(v0 / cell); row <= Math.floor(v1 / cell); row++) {
        const held = cells.get(key(column, row))
        if (held) held.push(at)
        else cells.set(key(column, row), [at])
      }
  }
  return { pairs: [...found.values()], complete }
}
