import { edgeKey, edgesOf } from '../../mesh/relations/adjacency.ts'
import { createNumberTable } from '../../base/math/number-table.ts'
import { pointCountOf, type Mesh } from '../../scene/mesh.ts'

/** Which points are joined to which by an edge. */
export interface Neighbours {
  /** Ends of the edges of each point, one after the other; offsets by point. */
  readonly offsets: Uint32Array
  readonly others: Uint32Array
}

export function neighboursOf(mesh: Mesh): Neighbours {
  const { edgeCount, edgePoints } = edgesOf(mesh)
  const offsets = new Uint32Array(pointCountOf(mesh) + 1)
  for (let at = 0; at < 2 * edgeCount; at++) offsets[edgePoints[at]! + 1]!++
  for (let point = 0; point + 1 < offsets.length; point++) offsets[point + 1]! += offsets[point]!
  const next = offsets.slice()
  const others = new Uint32Array(2 * edgeCount)
  for (let edge = 0; edge < edgeCount; edge++) {
    const [a, b] = [edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!]
    others[next[a]!++] = b
    others[next[b]!++] = a
  }
  return { offsets, others }
}

/** Edges as pairs of points, for asking whether two points are joined by one. */
export interface EdgeSet {
  readonly has: (key: number) => boolean
}

export function edgeSet(mesh: Mesh): EdgeSet {
  const { edgeCount, edgePoints } = edgesOf(mesh)
  const known = createNumberTable(edgeCount)
  for (let edge = 0; edge < edgeCount; edge++)
    known.set(edgeKey(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!), 1)
  return known
}
