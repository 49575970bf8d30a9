/** Open borders: edges with one side, and the loops they form. */
import type { MeshFacts } from './mesh-facts.ts'

/** Edge numbers with a polygon on one side only. */
export function borderEdges(facts: MeshFacts): Uint32Array {
  const { edgeCount, edgeSides } = facts.edges()
  const found: number[] = []
  for (let edge = 0; edge < edgeCount; edge++) if (edgeSides[edge] === 1) found.push(edge)
  return Uint32Array.from(found)
}

export interface BorderLoops {
  /** Each a list of edge numbers that hang together over points; where a border touches itself, one loop. */
  readonly loops: readonly (readonly number[])[]
  /** pointCount; the loop of each point, -1 for points not on a border. */
  readonly pointLoops: Int32Array
}

/** The borders of a mesh as loops: edges with one face, hanging together over shared points. */
export function findBorderLoops(facts: MeshFacts): BorderLoops {
  const { edgePoints } = facts.edges()
  const edges = borderEdges(facts)
  const pointLoops = new Int32Array(facts.pointCount).fill(-1)
  const atPoint = new Map<number, number[]>()
  for (const edge of edges)
    for (const point of [edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!]) {
      const held = atPoint.get(point)
      if (held) held.push(edge)
      else atPoint.set(point, [edge])
    }
  const taken = new Set<number>()
  const loops: number[][] = []
  for (const first of edges) {
    if (taken.has(first)) continue
    const loop: number[] = []
    const waiting = [first]
    taken.add(first)
    while (waiting.length) {
      const edge = waiting.pop()!
      loop.push(edge)
      for (const point of [edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!]) {
        pointLoops[point] = loops.length
        for (const other of atPoint.get(point)!)
          if (!taken.has(other)) {
            taken.add(other)
            waiting.push(other)
          }
      }
    }
    loops.push(loop)
  }
  return { loops, pointLoops }
}
