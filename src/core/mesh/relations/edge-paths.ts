/** Ways along edges: loops, the shortest one between two points, borders of face groups. */
import { createHeap } from '../../base/math/heap.ts'
import type { MeshFacts } from './mesh-facts.ts'

/** Edges of each point, as offsets into one list. */
export function edgesOfPoints({ pointCount, edges }: MeshFacts): { offsets: Uint32Array; list: Uint32Array } {
  const { edgeCount, edgePoints } = edges()
  const offsets = new Uint32Array(pointCount + 1)
  for (let at = 0; at < 2 * edgeCount; at++) offsets[edgePoints[at]! + 1]!++
  for (let point = 0; point < pointCount; point++) offsets[point + 1]! += offsets[point]!
  const next = offsets.slice()
  const list = new Uint32Array(2 * edgeCount)
  for (let at = 0; at < 2 * edgeCount; at++) list[next[edgePoints[at]!]!++] = at >> 1
  return { offsets, list }
}

/** Length of an edge in the mesh's own space. */
export function edgeLength(facts: MeshFacts, edge: number): number {
  const { edgePoints } = facts.edges()
  const points = facts.points()
  const [p, q] = [3 * edgePoints[2 * edge]!, 3 * edgePoints[2 * edge + 1]!]
  return Math.hypot(points[p]! - points[q]!, points[p + 1]! - points[q + 1]!, points[p + 2]! - points[q + 2]!)
}

/** The number of the edge between two points; -1 where there is none. */
export function edgeBetween(facts: MeshFacts, a: number, b: number): number {
  const { edgeCount, edgePoints } = facts.edges()
  const [low, high] = [Math.min(a, b), Math.max(a, b)]
  for (let edge = 0; edge < edgeCount; edge++)
    if (edgePoints[2 * edge] === low && edgePoints[2 * edge + 1] === high) return edge
  return -1
}

/**
 * The edges in a row with one: straight on at every point where four edges meet, along the border where it is one. It ends
 * where there is no straight on, or where it began.
 */
export function edgeLoop(facts: MeshFacts, edge: number): number[] {
  const { edgePoints, edgeSides, edgeCorners, edgeCount } = facts.edges()
  if (edge < 0 || edge >= edgeCount) return []
  const { offsets, list } = edgesOfPoints(facts)
  const cornerFaces = facts.cornerFaces()
  const facesOf = (one: number): number[] =>
    [edgeCorners[2 * one]!, edgeCorners[2 * one + 1]!]
      .filter((corner) => corner >= 0)
      .map((corner) => cornerFaces[corner]!)
  const straightOn = (from: number, point: number): number => {
    const around = Array.from(list.subarray(offsets[point], offsets[point + 1]))
    if (edgeSides[from] === 1) {
      const others = around.filter((one) => one !== from && edgeSides[one] === 1)
      return others.length === 1 ? others[0]! : -1
    }
    if (around.length !== 4 || around.some((one) => edgeSides[one] !== 2)) return -1
    const own = facesOf(from)
    const opposite = around.filter((one) => one !== from && !facesOf(one).some((face) => own.includes(face)))
    return opposite.length === 1 ? opposite[0]! : -1
  }
  const found = [edge]
  const known = new Set(found)
  for (const end of [1, 0]) {
    let [at, point] = [edge, edgePoints[2 * edge + end]!]
    for (;;) {
      const next = straightOn(at, point)
      if (next < 0 || known.has(next)) break
      known.add(next)
      found.push(next)
      point = edgePoints[2 * next]! === point ? edgePoints[2 * next + 1]! : edgePoints[2 * next]!
      at = next
    }
  }
  return found
}

/** Edges of the shortest way between two points, by length on the mesh itself; null where none leads there. */
export function shortestEdgePath(facts: MeshFacts, from: number, to: number): number[] | null {
  if (from === to) return []
  const { edgePoints } = facts.edges()
  const { offsets, list } = edgesOfPoints(facts)
  const reached = new Float64Array(facts.pointCount).fill(Infinity)
  const by = new Int32Array(facts.pointCount).fill(-1)
  const done = new Uint8Array(facts.pointCount)
  const heap = createHeap()
  reached[from] = 0
  heap.push(0, from)
  for (;;) {
    const point = heap.pop()
    if (point < 0) return null
    if (done[point]) continue
    if (point === to) break
    done[point] = 1
    for (let at = offsets[point]!; at < offsets[point + 1]!; at++) {
      const edge = list[at]!
      const [a, b] = [edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!]
      const other = a === point ? b : a
      const way = reached[point]! + edgeLength(facts, edge)
      if (!(way < reached[other]!)) continue
      reached[other] = way
      by[other] = edge
      heap.push(way, other)
    }
  }
  const path: number[] = []
  for (let point = to; point !== from;) {
    const edge = by[point]!
    path.push(edge)
    point = edgePoints[2 * edge]! === point ? edgePoints[2 * edge + 1]! : edgePoints[2 * edge]!
  }
  return path.reverse()
}

/** Edges where a face's group ends: at another group, or at the border of the surface. Without groups all is one. */
export function groupBorder(facts: MeshFacts, face: number): number[] {
  const { edgeCount, edgeSides, edgeCorners } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const sets = facts.mesh.groups?.faceSets ?? null
  const isOwn = (one: number): boolean => !sets || sets[one] === sets[face]
  const found: number[] = []
  for (let edge = 0; edge < edgeCount; edge++) {
    const [a, b] = [edgeCorners[2 * edge]!, edgeCorners[2 * edge + 1]!]
    const first = a >= 0 && isOwn(cornerFaces[a]!)
    if (edgeSides[edge] === 1 ? first : b >= 0 && first !== isOwn(cornerFaces[b]!)) found.push(edge)
  }
  return found
}
