/** Charts of a part that is its own mirror image made each other's mirror images. */
import { createUnion } from '../../mesh/relations/adjacency.ts'
import type { Mirror } from '../../mesh/relations/find-mirror.ts'
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { leastFillOf, liesFlat, memoKey, type FlatMemo } from './join-charts.ts'

/** How much dearer seams may be that are alike on both sides. */
const MOST_DEARER = 2

/**
 * The charts of one side, whichever has the cheaper seams, and their images on the other; a chart that reaches over the
 * plane stays one where it lies flat, and is cut along the plane where it doesn't.
 *
 * @param faceCharts as they were found; not changed.
 * @returns the charts, numbered anew; null where seams would get much dearer, or where what takes part or has to
 * stay a seam is not alike on both sides.
 */
export function mirrorCharts(
  facts: MeshFacts,
  pairs: Int32Array,
  faceCharts: Int32Array,
  mirror: Mirror,
  {
    costs,
    isBarrier,
    distortion,
    kept,
  }: {
    readonly costs: Float64Array
    readonly isBarrier: Uint8Array
    readonly distortion: number
    readonly kept: FlatMemo
  },
): { readonly faceCharts: Int32Array; readonly chartCount: number } | null {
  const { faces: image } = mirror
  for (let face = 0; face < faceCharts.length; face++)
    if (faceCharts[face]! < 0 !== faceCharts[image[face]!]! < 0) return null
  if (!areAlike(isBarrier, pairs, image)) return null
  const sides = sidesOf(facts, mirror)
  const costOf = (charts: Int32Array): number => {
    let sum = 0
    for (let edge = 0; edge < costs.length; edge++) {
      const [a, b] = [pairs[2 * edge]!, pairs[2 * edge + 1]!]
      if (a >= 0 && !isBarrier[edge] && charts[a] !== charts[b]) sum += costs[edge]!
    }
    return sum
  }
  const before = costOf(faceCharts)
  const answers = [1, -1].map((side) => {
    const made = alike(facts, pairs, faceCharts, image, sides, side, { isBarrier, distortion, kept })
    return { ...made, cost: costOf(made.faceCharts) }
  })
  const best = answers[0]!.cost <= answers[1]!.cost ? answers[0]! : answers[1]!
  return best.cost <= before * MOST_DEARER || before === 0 ? best : null
}

/** Whether what has to stay a seam on one side has to on the other. */
function areAlike(isBarrier: Uint8Array, pairs: Int32Array, image: Int32Array): boolean {
  const keyOf = (a: number, b: number): number => Math.min(a, b) * image.length + Math.max(a, b)
  const barriers = new Set<number>()
  for (let edge = 0; edge < isBarrier.length; edge++)
    if (isBarrier[edge] && pairs[2 * edge]! >= 0) barriers.add(keyOf(pairs[2 * edge]!, pairs[2 * edge + 1]!))
  for (let edge = 0; edge < isBarrier.length; edge++)
    if (isBarrier[edge] && pairs[2 * edge]! >= 0)
      if (!barriers.has(keyOf(image[pairs[2 * edge]!]!, image[pairs[2 * edge + 1]!]!))) return false
  return true
}

/** faceCount; 1 and -1 for the sides, 0 for faces that are their own image. */
function sidesOf(facts: MeshFacts, { axis, at, faces }: Mirror): Int8Array {
  const points = facts.points()
  const { faceOffsets, faceVertices } = facts.mesh
  return Int8Array.from(faces, (other, face) => {
    if (other === face) return 0
    let sum = 0
    for (let corner = faceOffsets[face]!; corner < faceOffsets[face + 1]!; corner++)
      sum += points[3 * faceVertices[corner]! + axis]! - at
    // two that lie across the plane in each other's place are told apart by their numbers
    return sum > 0 || (sum === 0 && face < other) ? 1 : -1
  })
}

function alike(
  facts: MeshFacts,
  pairs: Int32Array,
  given: Int32Array,
  image: Int32Array,
  sides: Int8Array,
  side: number,
  { isBarrier, distortion, kept }: { isBarrier: Uint8Array; distortion: number; kept: FlatMemo },
): { faceCharts: Int32Array; chartCount: number } {
  const { faceCount } = facts
  const isLead = (face: number): boolean => sides[face] === side || sides[face] === 0
  /** Each side by itself; faces across the plane go with the one that leads. */
  const halves = createUnion(faceCount)
  const whole = createUnion(faceCount)
  for (let at = 0; at < pairs.length; at += 2) {
    const [a, b] = [pairs[at]!, pairs[at + 1]!]
    if (a < 0 || isBarrier[at >> 1] || given[a]! < 0 || given[a] !== given[b]) continue
    if (isLead(a) && isLead(b)) {
      halves.join(a, b)
      whole.join(a, b)
      whole.join(image[a]!, image[b]!)
      if (sides[a] !== 0 && sides[b] !== 0) halves.join(image[a]!, image[b]!)
    } else if (image[a] === b) whole.join(a, b)
  }
  const listsOf = (rootOf: (face: number) => number): number[][] => {
    const lists = new Map<number, number[]>()
    for (let face = 0; face < faceCount; face++) {
      if (given[face]! < 0) continue
      const held = lists.get(rootOf(face))
      if (held) held.push(face)
      else lists.set(rootOf(face), [face])
    }
    return [...lists.values()]
  }
  const known = new Set(listsOf((face) => given[face]!).map(memoKey))
  const areas = facts.faceAreas()
  const areaOf = (faces: readonly number[]): number => faces.reduce((sum, face) => sum + areas[face]!, 0)
  const total = areaOf([...given.keys()].filter((face) => given[face]! >= 0))
  const charts: number[][] = []
  for (const faces of listsOf((face) => whole.rootOf(face))) {
    // what was found lies flat already, and so does its image
    if (
      known.has(memoKey(faces)) ||
      known.has(memoKey(faces.map((face) => image[face]!).sort((a, b) => a - b)))
    ) {
      charts.push(faces)
      continue
    }
    if (liesFlat(facts, faces, isBarrier, distortion, leastFillOf(areaOf(faces) / total), kept)) {
      charts.push(faces)
      continue
    }
    const cut = new Map<number, number[]>()
    for (const face of faces) {
      const root = halves.rootOf(face)
      const held = cut.get(root)
      if (held) held.push(face)
      else cut.set(root, [face])
    }
    charts.push(...cut.values())
  }
  charts.sort((a, b) => a[0]! - b[0]!)
  const faceCharts = new Int32Array(faceCount).fill(-1)
  charts.forEach((faces, chart) => {
    for (const face of faces) faceCharts[face] = chart
  })
  return { faceCharts, chartCount: charts.length }
}
