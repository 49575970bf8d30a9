/** Charts that sprawl (thin and curved, so that they fill little of any box) cut across, where that costs a short seam. */
import { createHeap } from '../../base/math/heap.ts'
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { fillOf, liesFlat, memoKey, type FlatMemo } from './join-charts.ts'

/** A chart sprawls that fills less of its least box. */
const LEAST_FILL = 0.5
/** Share of the surface below which a chart is left as it is: smaller ones find room between others. */
const LEAST_SHARE = 0.004
/** Boxes of the pieces by the box of the whole, at most. */
const MOST_BOXES = 0.75
/** Least box that is won, by the length of the cut and the root of the surface. */
const LEAST_GAIN = 0.5
/** Into how many pieces a chart is cut at once: of what nearly closes to a ring halves sprawl as much as the whole. */
const AT_ONCE = [2, 3]
/** Pieces that one chart becomes at most. */
const MOST_PIECES = 6
/** Faces of a chart below which nothing is to be cut. */
const LEAST_FACES = 8

/**
 * Cuts part a chart evenly from one end to the other, along its faces; pieces that still sprawl are cut again.
 * @param faceCharts faceCount, -1 for faces that take no part; changed.
 * @param kept what lies flat already, and gets what is found to.
 * @returns by each chart that there is then the one that it is or was a piece of.
 */
export function halveCharts(
  facts: MeshFacts,
  pairs: Int32Array,
  faceCharts: Int32Array,
  chartCount: number,
  isBarrier: Uint8Array,
  distortion: number,
  kept: FlatMemo = new Map(),
): number[] {
  const areas = facts.faceAreas()
  const charts = Array.from({ length: chartCount }, (): number[] => [])
  let surface = 0
  for (let face = 0; face < faceCharts.length; face++) {
    if (faceCharts[face]! < 0) continue
    charts[faceCharts[face]!]!.push(face)
    surface += areas[face]!
  }
  const lie = (faces: readonly number[]): { box: number; fill: number; loops: number } | null => {
    const key = memoKey(faces)
    if (!kept.has(key) && !liesFlat(facts, faces, isBarrier, distortion, 0, kept)) return null
    const { net, flat } = kept.get(key)!
    const { fill, area } = fillOf(net, flat())
    return { fill, box: area / fill, loops: net.loops.length }
  }
  const distances = new Float64Array(facts.faceCount)
  const origins = Array.from(charts, (_none, chart) => chart)
  const pieceCounts = charts.map(() => 1)
  const areaOf = (faces: readonly number[]): number => faces.reduce((sum, face) => sum + areas[face]!, 0)
  // each once, and then what it was cut into, all of one size before any of it is cut again
  const open = [...charts.keys()]
  for (let next = 0; next < open.length; next++) {
    const chart = open[next]!
    const [faces, origin] = [charts[chart]!, origins[chart]!]
    if (faces.length < LEAST_FACES || !(areaOf(faces) > LEAST_SHARE * surface)) continue
    const whole = lie(faces)
    // one cut opens a ring, and doesn't part it
    if (!whole || whole.loops !== 1 || whole.fill > LEAST_FILL) continue
    const shares = sharesOf(facts, pairs, faceCharts, isBarrier, faces, distances)
    let best: readonly number[][] = []
    let most = LEAST_GAIN
    for (const count of AT_ONCE) {
      if (pieceCounts[origin]! + count - 1 > MOST_PIECES) break
      const pieces = Array.from({ length: count }, (): number[] => [])
      faces.forEach((face, at) => pieces[Math.min(count - 1, Math.floor(count * shares[at]!))]!.push(face))
      const laid = pieces.map((piece) => (piece.length > 0 ? lie(piece) : null))
      if (laid.some((piece) => piece === null || piece.loops !== 1)) continue
      const boxes = laid.reduce((sum, piece) => sum + piece!.box, 0)
      const gain = (whole.box - boxes) / (lengthBetween(facts, pairs, pieces) * Math.sqrt(surface))
      if (boxes > MOST_BOXES * whole.box || gain <= most) continue
      most = gain
      best = pieces
    }
    if (best.length === 0) continue
    charts[chart] = best[0]!
    open.push(chart)
    for (const piece of best.slice(1)) {
      const number = charts.push(piece) - 1
      origins.push(origin)
      pieceCounts[origin]!++
      open.push(number)
      for (const face of piece) faceCharts[face] = number
    }
  }
  return origins
}

/** How long the borders between some lists of faces are. */
function lengthBetween(facts: MeshFacts, pairs: Int32Array, pieces: readonly (readonly number[])[]): number {
  const { edgePoints, cornerEdges } = facts.edges()
  const { faceOffsets } = facts.mesh
  const points = facts.points()
  const pieceOf = new Map(pieces.flatMap((faces, piece) => faces.map((face) => [face, piece])))
  let sum = 0
  for (const [face, piece] of pieceOf)
    for (let corner = faceOffsets[face]!; corner < faceOffsets[face + 1]!; corner++) {
      const edge = cornerEdges[corner]!
      if (pairs[2 * edge] !== face) continue
      const other = pieceOf.get(pairs[2 * edge + 1]!)
      if (other === undefined || other === piece) continue
      const [p, q] = [3 * edgePoints[2 * edge]!, 3 * edgePoints[2 * edge + 1]!]
      sum += Math.hypot(
        points[q]! - points[p]!,
        points[q + 1]! - points[p + 1]!,
        points[q + 2]! - points[p + 2]!,
      )
    }
  return sum
}

/** Where each face lies between both ends of its chart, along its faces: 0 at the one, 1 at the other. */
function sharesOf(
  facts: MeshFacts,
  pairs: Int32Array,
  faceCharts: Int32Array,
  isBarrier: Uint8Array,
  faces: readonly number[],
  distances: Float64Array,
): Float64Array {
  const { faceOffsets, faceVertices } = facts.mesh
  const { cornerEdges } = facts.edges()
  const points = facts.points()
  const middleOf = (face: number): [number, number, number] => {
    const middle: [number, number, number] = [0, 0, 0]
    const count = faceOffsets[face + 1]! - faceOffsets[face]!
    for (let corner = faceOffsets[face]!; corner < faceOffsets[face + 1]!; corner++)
      for (let axis = 0; axis < 3; axis++) middle[axis]! += points[3 * faceVertices[corner]! + axis]! / count
    return middle
  }
  const middles = new Map(faces.map((face) => [face, middleOf(face)]))
  /** Ways along faces from one of them. @returns the face that is farthest from it. */
  const walk = (from: number): number => {
    for (const face of faces) distances[face] = Infinity
    distances[from] = 0
    const open = createHeap()
    open.push(0, from)
    let far = from
    for (let face = open.pop(); face >= 0; face = open.pop()) {
      const own = middles.get(face)!
      if (distances[face]! > distances[far]!) far = face
      for (let corner = faceOffsets[face]!; corner < faceOffsets[face + 1]!; corner++) {
        const edge = cornerEdges[corner]!
        if (pairs[2 * edge]! < 0 || isBarrier[edge]) continue
        const other = pairs[2 * edge] === face ? pairs[2 * edge + 1]! : pairs[2 * edge]!
        if (faceCharts[other] !== faceCharts[face]) continue
        const there = middles.get(other)!
        const way = distances[face]! + Math.hypot(there[0] - own[0], there[1] - own[1], there[2] - own[2])
        if (way >= distances[other]!) continue
        distances[other] = way
        open.push(way, other)
      }
    }
    return far
  }
  const one = walk(faces[0]!)
  const other = walk(one)
  const fromOne = new Map(faces.map((face) => [face, distances[face]!]))
  walk(other)
  return Float64Array.from(faces, (face) => {
    const [a, b] = [fromOne.get(face)!, distances[face]!]
    return a + b > 0 ? a / (a + b) : 0
  })
}
