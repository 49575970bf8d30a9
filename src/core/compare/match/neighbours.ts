import { createUnion, edgesOf } from '../../mesh/relations/adjacency.ts'
import { pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { pointsApart } from './points-apart.ts'

/** Which points are joined to which by an edge. */
export interface Neighbours {
  /** Ends of the edges of each point, one after the other; offsets by point. */
  readonly offsets: Uint32Array
  readonly others: Uint32Array
}

const byVertices = new WeakMap<
  Uint32Array,
  { readonly edgePoints: Uint32Array; readonly found: Neighbours }
>()

/** Once for meshes of the same polygons and as many points: nobody may change the arrays. */
export function neighboursOf(mesh: Mesh): Neighbours {
  const { edgePoints } = edgesOf(mesh)
  const known = byVertices.get(mesh.faceVertices)
  if (known?.edgePoints === edgePoints && known.found.offsets.length === pointCountOf(mesh) + 1)
    return known.found
  const found = buildNeighbours(mesh)
  byVertices.set(mesh.faceVertices, { edgePoints, found })
  return found
}

function buildNeighbours(mesh: Mesh): Neighbours {
  const { edgeCount, edgePoints } = edgesOf(mesh)
  const offsets = new Uint32Array(pointCountOf(mesh) + 1)
  for (let at = 0; at < 2 * edgeCount; at++) offsets[edgePoints[at]! + 1]!++
  for (let point = 0; point + 1 < offsets.length; point++) offsets[point + 1]! += offsets[point]!
  const next = offsets.slice()
  const others = new Uint32Array(2 * edgeCount)
  for (let edge = 0; edge < edgeCount; edge++) {
    const a = edgePoints[2 * edge]!
    const b = edgePoints[2 * edge + 1]!
    others[next[a]!++] = b
    others[next[b]!++] = a
  }
  return { offsets, others }
}

/** Whether two points are joined by an edge: looked for at the one that has fewer. */
export function areJoined({ offsets, others }: Neighbours, a: number, b: number): boolean {
  const atA = offsets[a]!
  const atB = offsets[b]!
  const endA = offsets[a + 1]!
  const endB = offsets[b + 1]!
  if (endA - atA <= endB - atB) {
    for (let at = atA; at < endA; at++) if (others[at] === b) return true
  } else for (let at = atB; at < endB; at++) if (others[at] === a) return true
  return false
}

export interface Shells {
  /** The same point for all that hang together over edges. */
  readonly rootOf: (point: number) => number
  readonly count: number
}
const shellsByOthers = new WeakMap<Neighbours, Shells>()

/** Which points hang together over edges; once for the same neighbours. */
export function shellsOf(neighbours: Neighbours): Shells {
  const known = shellsByOthers.get(neighbours)
  if (known) return known
  const { offsets, others } = neighbours
  const union = createUnion(offsets.length - 1)
  for (let point = 0; point + 1 < offsets.length; point++)
    for (let at = offsets[point]!; at < offsets[point + 1]!; at++)
      // each edge stands at both of its ends
      if (others[at]! > point) union.join(point, others[at]!)
  const roots = new Uint32Array(offsets.length - 1)
  let count = 0
  for (let point = 0; point < roots.length; point++) {
    roots[point] = union.rootOf(point)
    if (roots[point] === point) count++
  }
  const found: Shells = { rootOf: (point) => roots[point]!, count }
  shellsByOthers.set(neighbours, found)
  return found
}

/** The shortest edge at each point, in the file's unit; infinite where there is none. */
export function shortestEdges(mesh: Mesh, { offsets, others }: Neighbours): Float64Array {
  const shortest = new Float64Array(pointCountOf(mesh)).fill(Infinity)
  for (let point = 0; point < shortest.length; point++)
    for (let at = offsets[point]!; at < offsets[point + 1]!; at++) {
      const length = pointsApart(mesh, point, mesh, others[at]!)
      // points on each other say nothing of how fine it is
      if (length > 0 && length < shortest[point]!) shortest[point] = length
    }
  return shortest
}

/** How many edges of a point would be there in the return if it were `candidate`, going by the pairs of their other ends. */
export function countBorne(
  point: number,
  candidate: number,
  pairs: Int32Array,
  near: Neighbours,
  far: Neighbours,
): number {
  let borne = 0
  for (let at = near.offsets[point]!; at < near.offsets[point + 1]!; at++) {
    const other = pairs[near.others[at]!]!
    if (other >= 0 && other !== candidate && areJoined(far, candidate, other)) borne++
  }
  return borne
}
