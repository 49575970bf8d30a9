/** Seams found by themselves: charts that lie flat with bounded distortion, few of them, with short borders. */
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { findMirror } from '../../mesh/relations/find-mirror.ts'
import { joints } from './chart-graph.ts'
import { edgeExposure } from './edge-exposure.ts'
import { growCharts } from './grow-charts.ts'
import { halveCharts } from './halve-charts.ts'
import { joinCharts, liesFlat, type FlatMemo } from './join-charts.ts'
import { mirrorCharts } from './mirror-charts.ts'
import { straightenSeams } from './straighten-seams.ts'
import { shortenSeams } from './shorten-seams.ts'

export interface FoundCharts {
  /** faceCount; -1 for faces that take no part. */
  readonly faceCharts: Int32Array
  readonly chartCount: number
  /** Some of them as they lie flat already. */
  readonly kept: FlatMemo
}

export interface FindCharts {
  /** How much an island may be stretched, see `stretchOf`. */
  readonly distortion: number
  /** edgeCount flags of edges that are seams whatever else is. */
  readonly isBarrier: Uint8Array
  /** faceCount flags; absent: all take part. */
  readonly isOwn?: Uint8Array | null
  /** edgeCount, see `seamCosts`. */
  readonly costs: Float64Array
  /** Charts that sprawl are cut in half. */
  readonly halves?: boolean
}

/** Faces among which a cut across a chart may move: it stays near the middle. */
const NEAR_MIDDLE = 2

/** Spread of directions in a chart before charts are joined by trial: a cap of a ball of about 40 degrees. */
const SPREAD = 0.12

export function findCharts(
  facts: MeshFacts,
  { distortion, isBarrier, isOwn = null, costs, halves = false }: FindCharts,
): FoundCharts {
  const pairs = joints(facts)
  let { faceCharts, chartCount } = growCharts(
    facts,
    pairs,
    (face) => !isOwn || isOwn[face] === 1,
    costs,
    isBarrier,
    SPREAD,
  )
  shortenSeams(facts, pairs, faceCharts, costs, isBarrier)
  // what isn't flat enough by itself comes in smaller charts
  const rest = splitBent(facts, pairs, faceCharts, chartCount, costs, isBarrier, distortion)
  ;({ faceCharts, chartCount } = joinCharts(
    facts,
    pairs,
    rest.faceCharts,
    rest.chartCount,
    costs,
    isBarrier,
    distortion,
  ))
  const kept: FlatMemo = new Map()
  straightenSeams(facts, pairs, faceCharts, costs, isBarrier, distortion, kept)
  if (halves) {
    const origins = halveCharts(facts, pairs, faceCharts, chartCount, isBarrier, distortion, kept)
    chartCount = origins.length
    straightenSeams(
      facts,
      pairs,
      faceCharts,
      costs,
      isBarrier,
      distortion,
      kept,
      (a, b) => origins[a] === origins[b],
      NEAR_MIDDLE,
    )
  }
  const mirror = findMirror(facts)
  const alike =
    mirror && mirrorCharts(facts, pairs, faceCharts, mirror, { costs, isBarrier, distortion, kept })
  return { ...(alike ?? { faceCharts, chartCount }), kept }
}

/** Every chart that doesn't lie flat is grown anew with half the spread, down to single faces. */
function splitBent(
  facts: MeshFacts,
  pairs: Int32Array,
  given: Int32Array,
  givenCount: number,
  costs: Float64Array,
  isBarrier: Uint8Array,
  distortion: number,
): Pick<FoundCharts, 'faceCharts' | 'chartCount'> {
  const faceCharts = given.slice()
  let chartCount = givenCount
  let open = Array.from({ length: givenCount }, (_, chart) => chart)
  let spread = SPREAD
  while (open.length > 0) {
    const faces = new Map<number, number[]>(open.map((chart) => [chart, []]))
    faceCharts.forEach((chart, face) => faces.get(chart)?.push(face))
    const bent = new Set<number>()
    for (const [chart, own] of faces)
      if (own.length > 1 && !liesFlat(facts, own, isBarrier, distortion)) bent.add(chart)
    if (bent.size === 0) break
    spread /= 2
    const isLast = spread < 1e-4
    const { faceCharts: grown } = isLast
      ? { faceCharts: Int32Array.from(faceCharts, (_, face) => face) }
      : growCharts(
          facts,
          pairs,
          (face) => bent.has(faceCharts[face]!),
          costs,
          withBorders(pairs, faceCharts, isBarrier),
          spread,
        )
    const numbers = new Map<number, number>()
    for (let face = 0; face < faceCharts.length; face++) {
      if (!bent.has(faceCharts[face]!)) continue
      let number = numbers.get(grown[face]!)
      if (number === undefined) numbers.set(grown[face]!, (number = chartCount++))
      faceCharts[face] = number
    }
    open = isLast ? [] : [...numbers.values()]
  }
  const numbers = new Map<number, number>()
  for (let face = 0; face < faceCharts.length; face++) {
    if (faceCharts[face]! < 0) continue
    let number = numbers.get(faceCharts[face]!)
    if (number === undefined) numbers.set(faceCharts[face]!, (number = numbers.size))
    faceCharts[face] = number
  }
  return { faceCharts, chartCount: numbers.size }
}

const withBorders = (pairs: Int32Array, faceCharts: Int32Array, isBarrier: Uint8Array): Uint8Array =>
  isBarrier.map((flag, edge) =>
    flag || (pairs[2 * edge]! >= 0 && faceCharts[pairs[2 * edge]!] !== faceCharts[pairs[2 * edge + 1]!])
      ? 1
      : 0,
  )

/** Share of its length that a seam along a hard bend costs beside one over smooth ground; hollows hide it better than ridges. */
const [RIDGE, HOLLOW] = [0.5, 0.25]

/** Share of its length that a seam costs where nobody sees it. */
const UNSEEN = 0.35

/**
 * edgeCount; what a seam along each edge costs: its length, less where it is hidden by a bend, and where the part's own
 * shape keeps it out of sight.
 *
 * @param up of the part in its own space; null where nothing is known of it.
 */
export function seamCosts(
  facts: MeshFacts,
  pairs: Int32Array,
  up: readonly [number, number, number] | null,
): Float64Array {
  const exposure = edgeExposure(facts, up)
  const { edgeCount, edgePoints, edgeCorners } = facts.edges()
  const { faceOffsets, faceVertices } = facts.mesh
  const points = facts.points()
  const normals = facts.faceNormals()
  const areas = facts.faceAreas()
  const costs = new Float64Array(edgeCount)
  for (let edge = 0; edge < edgeCount; edge++) {
    const [p, q] = [3 * edgePoints[2 * edge]!, 3 * edgePoints[2 * edge + 1]!]
    const length = Math.hypot(
      points[q]! - points[p]!,
      points[q + 1]! - points[p + 1]!,
      points[q + 2]! - points[p + 2]!,
    )
    costs[edge] = length
    const [a, b] = [pairs[2 * edge]!, pairs[2 * edge + 1]!]
    if (a < 0 || !(areas[a]! > 0) || !(areas[b]! > 0)) continue
    const dot =
      (normals[3 * a]! * normals[3 * b]! +
        normals[3 * a + 1]! * normals[3 * b + 1]! +
        normals[3 * a + 2]! * normals[3 * b + 2]!) /
      (4 * areas[a]! * areas[b]!)
    const bend = Math.acos(Math.max(-1, Math.min(1, dot))) / Math.PI
    // hollow where the middle of the other face lies in front of this one
    const corner = edgeCorners[2 * edge]!
    const from = 3 * faceVertices[corner]!
    let ahead = 0
    for (let at = faceOffsets[b]!; at < faceOffsets[b + 1]!; at++)
      for (let axis = 0; axis < 3; axis++)
        ahead += (points[3 * faceVertices[at]! + axis]! - points[from + axis]!) * normals[3 * a + axis]!
    const least = ahead > 0 ? HOLLOW : RIDGE
    costs[edge] =
      length * (1 - (1 - least) * Math.min(1, bend * 3)) * (UNSEEN + (1 - UNSEEN) * exposure[edge]!)
  }
  return costs
}
