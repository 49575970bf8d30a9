/** Charts that look about one way, from faces upwards (hierarchical clustering, Garland et al. 2001). */
import { createHeap } from '../../base/math/heap.ts'
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { chartGraph } from './chart-graph.ts'

/**
 * @param faceFlags faceCount; faces that take part.
 * @param spread how much the directions of a chart's faces may differ: 0 for flat ones, a half for a half ball.
 * @returns faceCount chart numbers, -1 for faces that take no part.
 */
export function growCharts(
  facts: MeshFacts,
  pairs: Int32Array,
  isOwn: (face: number) => boolean,
  costs: Float64Array,
  isBarrier: Uint8Array,
  spread: number,
): { faceCharts: Int32Array; chartCount: number } {
  const { faceCount } = facts
  const normals = facts.faceNormals()
  const areas = facts.faceAreas().slice()
  const faceCharts = Int32Array.from({ length: faceCount }, (_, face) => (isOwn(face) ? face : -1))
  const graph = chartGraph(facts, pairs, faceCharts, faceCount, costs, isBarrier)
  const sums = normals.map((value) => value / 2)
  const versions = new Uint32Array(faceCount)
  const heap = createHeap()
  const entries: number[] = []
  const spreadOf = (a: number, b: number): number => {
    const area = areas[a]! + areas[b]!
    const [x, y, z] = [0, 1, 2].map((axis) => sums[3 * a + axis]! + sums[3 * b + axis]!) as [
      number,
      number,
      number,
    ]
    return area > 0 ? 1 - Math.hypot(x, y, z) / area : 0
  }
  const offer = (a: number, b: number, shared: number): void => {
    const own = spreadOf(a, b)
    if (own > spread) return
    // of two that look the same way the one with the longer common border comes first
    const share = shared / Math.max(Math.min(graph.borders[a]!, graph.borders[b]!), 1e-300)
    entries.push(a, b, versions[a]!, versions[b]!)
    heap.push(own + 0.02 * spread * (1 - Math.min(1, share)) + 1e-9 * own, entries.length / 4 - 1)
  }
  for (let face = 0; face < faceCount; face++)
    if (faceCharts[face]! >= 0)
      for (const [other, shared] of graph.neighbours[face]!) if (other > face) offer(face, other, shared)
  const into = new Int32Array(faceCount).fill(-1)
  for (let entry = heap.pop(); entry >= 0; entry = heap.pop()) {
    let [a, b] = [entries[4 * entry]!, entries[4 * entry + 1]!]
    if (versions[a] !== entries[4 * entry + 2] || versions[b] !== entries[4 * entry + 3]) continue
    if (graph.neighbours[a]!.size < graph.neighbours[b]!.size) [a, b] = [b, a]
    graph.join(a, b)
    into[b] = a
    areas[a]! += areas[b]!
    for (let axis = 0; axis < 3; axis++) sums[3 * a + axis]! += sums[3 * b + axis]!
    versions[a]!++
    versions[b]!++
    for (const [other, shared] of graph.neighbours[a]!) offer(a, other, shared)
  }
  const numbers = new Map<number, number>()
  for (let face = 0; face < faceCount; face++) {
    if (faceCharts[face]! < 0) continue
    let root = face
    while (into[root]! >= 0) root = into[root]!
    for (let at = face; into[at]! >= 0 && at !== root;) {
      const next = into[at]!
      into[at] = root
      at = next
    }
    let number = numbers.get(root)
    if (number === undefined) numbers.set(root, (number = numbers.size))
    faceCharts[face] = number
  }
  return { faceCharts, chartCount: numbers.size }
}
