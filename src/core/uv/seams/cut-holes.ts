/** A piece with holes cut along the shortest ways between its borders, so that it can be laid flat as a disc. */
import { createHeap } from '../../base/math/heap.ts'
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import type { IslandNet } from '../flatten/island-net.ts'

/** @param costs edgeCount; what a seam along each edge costs. @returns edges to cut; empty where nothing leads from hole to hole. */
export function cutsBetweenLoops(facts: MeshFacts, net: IslandNet, costs: Float64Array): number[] {
  const { faceOffsets } = facts.mesh
  const { cornerEdges } = facts.edges()
  const { vertexCount, faceStarts, vertices, loops, faces } = net
  // sides of faces as ways from vertex to vertex
  const starts = new Uint32Array(vertexCount + 1)
  const each = (visit: (from: number, to: number, edge: number) => void): void => {
    for (let at = 0; at < faces.length; at++)
      for (let k = faceStarts[at]!; k < faceStarts[at + 1]!; k++) {
        const edge = cornerEdges[faceOffsets[faces[at]!]! + k - faceStarts[at]!]!
        const [a, b] = [vertices[k]!, vertices[k + 1 < faceStarts[at + 1]! ? k + 1 : faceStarts[at]!]!]
        visit(a, b, edge)
        visit(b, a, edge)
      }
  }
  each((from) => starts[from + 1]!++)
  for (let at = 0; at < vertexCount; at++) starts[at + 1]! += starts[at]!
  const ends = starts.slice()
  const tos = new Uint32Array(starts[vertexCount]!)
  const edges = new Uint32Array(starts[vertexCount]!)
  each((from, to, edge) => {
    tos[ends[from]!] = to
    edges[ends[from]!++] = edge
  })
  const loopOf = new Int32Array(vertexCount).fill(-1)
  loops.forEach((loop, number) => loop.forEach((vertex) => (loopOf[vertex] = number)))
  const isReached = loops.map((_, number) => number === 0)
  const cuts: number[] = []
  const distances = new Float64Array(vertexCount)
  const before = new Int32Array(vertexCount)
  /** Vertices that a cut may begin at. */
  const roots = new Set<number>(loops[0])
  for (let left = loops.length - 1; left > 0; left--) {
    distances.fill(Infinity)
    before.fill(-1)
    const heap = createHeap()
    for (const vertex of roots) {
      distances[vertex] = 0
      heap.push(0, vertex)
    }
    const done = new Uint8Array(vertexCount)
    let found = -1
    for (let vertex = heap.pop(); vertex >= 0; vertex = heap.pop()) {
      if (done[vertex]) continue
      done[vertex] = 1
      const own = loopOf[vertex]!
      if (own >= 0 && !isReached[own]) {
        found = vertex
        break
      }
      for (let at = starts[vertex]!; at < starts[vertex + 1]!; at++) {
        const to = tos[at]!
        const distance = distances[vertex]! + Math.max(costs[edges[at]!]!, 1e-12)
        if (distance >= distances[to]!) continue
        distances[to] = distance
        before[to] = at
        heap.push(distance, to)
      }
    }
    if (found < 0) return []
    const reached = loopOf[found]!
    isReached[reached] = true
    for (const vertex of loops[reached]!) roots.add(vertex)
    for (let vertex = found; before[vertex]! >= 0;) {
      const at = before[vertex]!
      cuts.push(edges[at]!)
      // whose way it is: the vertex that the entry stands with
      let [low, high] = [0, vertexCount]
      while (high - low > 1) {
        const middle = (low + high) >> 1
        if (starts[middle]! <= at) low = middle
        else high = middle
      }
      vertex = low
      roots.add(vertex)
    }
  }
  return cuts
}
