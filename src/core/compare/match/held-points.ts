/** Points that nothing holds but an edge: found by evidence, and no polygon of theirs with them. */
import { faceCountOf, type Mesh } from '../../scene/mesh.ts'
import { areJoined, neighboursOf } from './neighbours.ts'
import type { Correspondence } from './correspondence.ts'

/** So many edges that a point has on both sides bear it out by themselves, where they are half of all that it has. */
const [SURE_EDGES, SURE_SHARE] = [2, 0.5]

/**
 * Pairs without those of moved points of which no polygon was found again: one edge that both have may be that of another
 * point. What has not moved, and what has the same UV on both sides, needs no polygon to be believed.
 *
 * @param pairs one a master point, -1 for none. @param byPosition what lies where it lay, as `pairs`.
 */
export function withoutUnheld(
  master: Mesh,
  returned: Mesh,
  pairs: Int32Array,
  { faceToReturned, matchedFaceCount }: Pick<Correspondence, 'faceToReturned' | 'matchedFaceCount'>,
  byPosition: Int32Array,
): Int32Array {
  if (matchedFaceCount === faceCountOf(master)) return pairs
  const isHeld = new Uint8Array(pairs.length)
  const isDrawn = new Uint8Array(pairs.length)
  for (let face = 0; face < faceToReturned.length; face++)
    for (let corner = master.faceOffsets[face]!; corner < master.faceOffsets[face + 1]!; corner++) {
      const point = master.faceVertices[corner]!
      isDrawn[point] = 1
      if (faceToReturned[face]! >= 0) isHeld[point] = 1
    }
  const [near, far] = [neighboursOf(master), neighboursOf(returned)]
  const isBorneOut = (point: number): boolean => {
    let both = 0
    for (let at = near.offsets[point]!; at < near.offsets[point + 1]!; at++) {
      const next = pairs[near.others[at]!]!
      if (next >= 0 && areJoined(far, pairs[point]!, next)) both++
    }
    return both >= SURE_EDGES && both >= SURE_SHARE * (near.offsets[point + 1]! - near.offsets[point]!)
  }
  const doubted: number[] = []
  for (let point = 0; point < pairs.length; point++) {
    if (pairs[point]! < 0 || !isDrawn[point] || isHeld[point] || byPosition[point] === pairs[point]) continue
    if (!isBorneOut(point)) doubted.push(point)
  }
  if (doubted.length === 0) return pairs
  const [own, its] = [uvsAt(master, new Set(doubted)), uvsAt(returned, new Set(doubted.map((point) => pairs[point]!)))] // prettier-ignore
  const held = pairs.slice()
  for (const point of doubted) {
    const there = its.get(pairs[point]!)
    if (![...(own.get(point) ?? [])].some((uv) => there?.has(uv))) held[point] = -1
  }
  return held
}

/** The UVs of the first set at some points, as text. */
function uvsAt({ faceVertices, uvSets: [set] }: Mesh, points: ReadonlySet<number>): Map<number, Set<string>> {
  const found = new Map<number, Set<string>>()
  if (!set) return found
  faceVertices.forEach((point, corner) => {
    const uv = set.indices[corner]!
    if (uv < 0 || !points.has(point)) return
    const known = found.get(point) ?? new Set<string>()
    found.set(point, known.add(`${set.values[2 * uv]} ${set.values[2 * uv + 1]}`))
  })
  return found
}
