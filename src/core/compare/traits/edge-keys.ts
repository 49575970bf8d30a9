import { edgeKey, edgesOf } from '../../mesh/relations/adjacency.ts'
import { faceCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Correspondence } from '../match/correspondence.ts'

/** The two points of an edge’s key, the smaller first. */
export const edgeEnds = (key: number): [number, number] => {
  const from = Math.floor(key / 67108864)
  return [from, key - from * 67108864]
}

/** Points of edges by their keys, two an edge. */
export const edgeArray = (keys: readonly number[]): Uint32Array => Uint32Array.from(keys.flatMap(edgeEnds))

/** Edges and corners in the returned part's numbering, so that both sides show the same places. */
export function followEdges(edges: Uint32Array, match: Correspondence): Uint32Array {
  const followed: number[] = []
  for (let at = 0; at < edges.length; at += 2) {
    const from = match.pointToReturned[edges[at]!]!
    const to = match.pointToReturned[edges[at + 1]!]!
    if (from >= 0 && to >= 0) followed.push(from, to)
  }
  return Uint32Array.from(followed)
}

/** One list behind the other. */
export const joined = (a: Uint32Array, b: Uint32Array): Uint32Array => Uint32Array.from([...a, ...b])

/** Master point of each returned point, -1 for none. */
export function invertMap(map: Int32Array, length: number): Int32Array {
  const inverse = new Int32Array(length).fill(-1)
  for (let index = 0; index < map.length; index++) if (map[index]! >= 0) inverse[map[index]!] = index
  return inverse
}

/** Polygons at each edge, by the edge's key. */
function sidesByEdge(mesh: Mesh): Map<number, number> {
  const { edgeCount, edgePoints, edgeSides } = edgesOf(mesh)
  const sides = new Map<number, number>()
  for (let edge = 0; edge < edgeCount; edge++)
    sides.set(edgeKey(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!), edgeSides[edge]!)
  return sides
}

/** Whether polygons are gone or new. */
function hasOtherPolygons(master: Mesh, returned: Mesh, match: Correspondence): boolean {
  if (match.matchedFaceCount !== faceCountOf(master)) return true
  let pieces = 0
  for (const face of match.pieceToMaster ?? []) if (face >= 0) pieces++
  return match.matchedFaceCount - match.cutFaceCount + pieces !== faceCountOf(returned)
}

/**
 * Which edges can be held against each other where polygons are gone or new: an edge at which one is gone, or has come, has
 * no counterpart any more, as what it was between is not there.
 *
 * @param returned with points that were split counting as one.
 * @param back master point of each returned point, -1 for none.
 */
export function createEdgeJudge(
  master: Mesh,
  returned: Mesh,
  match: Correspondence,
  back: Int32Array,
): { readonly own: (key: number) => boolean; readonly other: (key: number) => boolean } {
  if (!hasOtherPolygons(master, returned, match)) return { own: () => true, other: () => true }
  let sides: { readonly own: Map<number, number>; readonly other: Map<number, number> } | null = null
  const agree = (own: number, other: number): boolean => {
    sides ??= { own: sidesByEdge(master), other: sidesByEdge(returned) }
    const count = sides.own.get(own)
    return count !== undefined && count === sides.other.get(other)
  }
  const through = (key: number, map: Int32Array): number => {
    const [from, to] = edgeEnds(key).map((point) => map[point] ?? -1)
    return from! < 0 || to! < 0 ? NaN : edgeKey(from!, to!)
  }
  return {
    own: (key) => agree(key, through(key, match.pointToReturned)),
    other: (key) => agree(through(key, back), key),
  }
}
