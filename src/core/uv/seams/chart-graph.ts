/** Charts of faces, which of them lie side by side, and along how much of a seam. */
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'

/** For charts that lie alone: a million of them need no million maps. Nothing is ever put into it. */
const NONE = new Map<number, number>()

export interface ChartGraph {
  /** chart count at the start; a chart that was taken into another is none any more. */
  readonly neighbours: (Map<number, number> | null)[]
  /** Cost of all borders of a chart, those of the mesh too. */
  readonly borders: Float64Array
  /** Takes b into a. */
  readonly join: (a: number, b: number) => void
}

/** Where two faces hang together so that they can lie in one island. @returns corners a and b, -1 for other edges. */
export function joints(facts: MeshFacts): Int32Array {
  const { edgeCount, edgeSides, edgeCorners } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const { faceVertices } = facts.mesh
  const pairs = new Int32Array(2 * edgeCount).fill(-1)
  for (let edge = 0; edge < edgeCount; edge++) {
    if (edgeSides[edge] !== 2) continue
    const [a, b] = [edgeCorners[2 * edge]!, edgeCorners[2 * edge + 1]!]
    if (faceVertices[a] === faceVertices[b] || cornerFaces[a] === cornerFaces[b]) continue
    pairs[2 * edge] = cornerFaces[a]!
    pairs[2 * edge + 1] = cornerFaces[b]!
  }
  return pairs
}

/**
 * @param faceCharts the chart of each face, -1 for those that take no part. @param costs edgeCount; what a seam along
 * the edge costs. @param isBarrier edgeCount flags of edges that stay seams.
 */
export function chartGraph(
  facts: MeshFacts,
  pairs: Int32Array,
  faceCharts: Int32Array,
  chartCount: number,
  costs: Float64Array,
  isBarrier: Uint8Array,
): ChartGraph {
  const neighbours = new Array<Map<number, number> | null>(chartCount).fill(NONE)
  const add = (a: number, b: number, cost: number): void => {
    let own = neighbours[a]!
    if (own === NONE) neighbours[a] = own = new Map()
    own.set(b, (own.get(b) ?? 0) + cost)
  }
  const borders = new Float64Array(chartCount)
  const { edgeCount, cornerEdges } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  for (let corner = 0; corner < cornerEdges.length; corner++) {
    const chart = faceCharts[cornerFaces[corner]!]!
    if (chart >= 0) borders[chart]! += costs[cornerEdges[corner]!]!
  }
  for (let edge = 0; edge < edgeCount; edge++) {
    if (pairs[2 * edge]! < 0) continue
    const [a, b] = [faceCharts[pairs[2 * edge]!]!, faceCharts[pairs[2 * edge + 1]!]!]
    if (a < 0 || b < 0 || isBarrier[edge]) continue
    if (a === b) {
      borders[a]! -= 2 * costs[edge]!
      continue
    }
    add(a, b, costs[edge]!)
    add(b, a, costs[edge]!)
  }
  return {
    neighbours,
    borders,
    join(a, b) {
      const [own, other] = [neighbours[a]!, neighbours[b]!]
      borders[a]! += borders[b]! - 2 * (own.get(b) ?? 0)
      own.delete(b)
      other.delete(a)
      for (const [third, cost] of other) {
        own.set(third, (own.get(third) ?? 0) + cost)
        const back = neighbours[third]!
        back.set(a, (back.get(a) ?? 0) + cost)
        back.delete(b)
      }
      neighbours[b] = null
    },
  }
}
