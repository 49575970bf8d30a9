/** Charts that lie flat together without more distortion than is allowed are one. */
import { createHeap } from '../../base/math/heap.ts'
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { bordersCross } from '../flatten/borders-cross.ts'
import { flattenFaces, isSound, type FlatNet } from '../flatten/flatten-net.ts'
import type { IslandNet } from '../flatten/island-net.ts'
import { leastBoxTurn, outlineArea, turnedBox } from '../pack/outline.ts'
import { chartGraph } from './chart-graph.ts'

/** What lay flat, by its faces. */
export type FlatMemo = Map<string, FlatNet>

/** A number of 32 bits of which each says nothing of the others (the last steps of MurmurHash3, Appleby). */
function scrambled(number: number): number {
  let mixed = (number + 0x9e3779b9) | 0
  mixed = Math.imul(mixed ^ (mixed >>> 16), 0x85ebca6b)
  mixed = Math.imul(mixed ^ (mixed >>> 13), 0xc2b2ae35)
  return mixed ^ (mixed >>> 16)
}

/** Says which faces they are, in whatever order: how many, and 96 bits of their numbers. */
export const memoKey = (faces: ArrayLike<number>): string => {
  let [sum, crossed, again] = [0, 0, 0]
  for (let at = 0; at < faces.length; at++) {
    const own = scrambled(faces[at]!)
    sum = (sum + own) | 0
    crossed ^= own
    again = (again + scrambled(own)) | 0
  }
  return `${faces.length} ${sum} ${crossed} ${again}`
}

/** Rounds of relaxation after which it is judged, one after another. */
const ROUNDS = [0, 3, 5, 8]
/** How much less stretch further rounds may bring at most, beside what the last ones brought, for them to be tried. */
const HOPE = 2
/** A conformal start that is stretched so many times what is allowed is not worth a round. */
const HOPELESS = 1.8

/** Faces from which on quads stretch as much cut one way as cut both. */
const MANY_FACES = 400

/** Share of an island that may be stretched more than `OFTEN` times what is allowed. */
const [RARELY, OFTEN] = [0.02, 3]

/** @param distortion see `FlatStretch`. @returns whether the faces can lie flat as one island. */
export function liesFlat(
  facts: MeshFacts,
  faces: ArrayLike<number>,
  isSeam: Uint8Array,
  distortion: number,
  /** How much of its least box it has to fill. */
  leastFill = 0,
  /** Gets what lies flat, so that it need not be laid again. */
  kept: FlatMemo | null = null,
): boolean {
  // what is only tried is laid as coarsely as tells the same
  const bothWays = kept !== null || faces.length < MANY_FACES
  const flat = flattenFaces(facts, faces, isSeam, { onlyDiscs: true, bothWays })
  if (!flat) return false
  let before = Infinity
  for (const rounds of ROUNDS) {
    if (rounds > 0) flat.relax('leastDistortion', rounds)
    const { mean, beyond } = flat.stretch(OFTEN * distortion)
    if (mean <= distortion && beyond <= RARELY) {
      const fits =
        isSound(flat.net, flat.flat()) &&
        !bordersCross(flat.net, flat.flat()) &&
        (leastFill === 0 || fillOf(flat.net, flat.flat()).fill >= leastFill)
      if (fits) kept?.set(memoKey(faces), flat)
      return fits
    }
    if (rounds === 0 && mean > HOPELESS * distortion) return false
    if (before < Infinity && mean - HOPE * (before - mean) > distortion) return false
    if (rounds > 0) before = mean
  }
  return false
}

/** From this share of the surface on an island may not sprawl: no packing makes up for it. */
const LARGE = 0.1
const LEAST_FILL = 0.5
/** How much of its least box an island has to fill, by its share of the surface. */
export const leastFillOf = (share: number): number => (share > LARGE ? LEAST_FILL : 0)

/** An outline's area, and that by the area of its least box. */
export function fillOf({ loops }: IslandNet, flat: Float64Array): { area: number; fill: number } {
  const outline = {
    loops: loops.map((loop) =>
      Float64Array.from({ length: 2 * loop.length }, (_, at) => flat[2 * loop[at >> 1]! + (at & 1)]!),
    ),
  }
  const { low, high } = turnedBox(outline, leastBoxTurn(outline))
  const area = outlineArea(outline)
  return { area, fill: area / ((high[0] - low[0]) * (high[1] - low[1])) }
}

export function joinCharts(
  facts: MeshFacts,
  pairs: Int32Array,
  faceCharts: Int32Array,
  chartCount: number,
  costs: Float64Array,
  isBarrier: Uint8Array,
  distortion: number,
): { faceCharts: Int32Array; chartCount: number } {
  const graph = chartGraph(facts, pairs, faceCharts, chartCount, costs, isBarrier)
  const faces: number[][] = Array.from({ length: chartCount }, () => [])
  faceCharts.forEach((chart, face) => {
    if (chart >= 0) faces[chart]!.push(face)
  })
  const faceAreas = facts.faceAreas()
  const areas = Float64Array.from(faces, (own) => own.reduce((sum, face) => sum + faceAreas[face]!, 0))
  const total = areas.reduce((sum, area) => sum + area, 0)
  const failed = new Map<number, Set<number>>()
  const fail = (a: number, b: number): void => {
    const known = failed.get(a)
    if (known) known.add(b)
    else failed.set(a, new Set([b]))
  }
  const versions = new Uint32Array(chartCount)
  const heap = createHeap()
  const entries: number[] = []
  const offer = (a: number, b: number, shared: number): void => {
    if (failed.get(a)?.has(b)) return
    const share = shared / Math.max(Math.min(graph.borders[a]!, graph.borders[b]!), 1e-300)
    entries.push(a, b, versions[a]!, versions[b]!)
    // small ones first, so that what is tried together stays about as large as what came of it
    heap.push((faces[a]!.length + faces[b]!.length) / Math.max(share, 1e-3), entries.length / 4 - 1)
  }
  for (let chart = 0; chart < chartCount; chart++)
    for (const [other, shared] of graph.neighbours[chart]!) if (other > chart) offer(chart, other, shared)
  for (let entry = heap.pop(); entry >= 0; entry = heap.pop()) {
    let [a, b] = [entries[4 * entry]!, entries[4 * entry + 1]!]
    if (versions[a] !== entries[4 * entry + 2] || versions[b] !== entries[4 * entry + 3]) continue
    const together = [...faces[a]!, ...faces[b]!]
    const leastFill = leastFillOf((areas[a]! + areas[b]!) / total)
    if (!liesFlat(facts, together, isBarrier, distortion, leastFill)) {
      fail(a, b)
      fail(b, a)
      continue
    }
    if (faces[a]!.length < faces[b]!.length) [a, b] = [b, a]
    // what was too much with one of them is too much with both
    for (const other of failed.get(b) ?? []) {
      fail(a, other)
      fail(other, a)
    }
    graph.join(a, b)
    areas[a]! += areas[b]!
    faces[a] = together
    faces[b] = []
    versions[a]!++
    versions[b]!++
    for (const [other, shared] of graph.neighbours[a]!) offer(a, other, shared)
  }
  const joined = new Int32Array(faceCharts.length).fill(-1)
  let count = 0
  for (const own of faces) {
    if (own.length === 0) continue
    for (const face of own) joined[face] = count
    count++
  }
  return { faceCharts: joined, chartCount: count }
}
