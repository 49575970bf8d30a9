import { edgeKey, edgesOf } from '../../mesh/relations/adjacency.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
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

/** How many polygons are at each of the edges that are asked for, by their keys; none at what is no edge. */
function sidesAt(mesh: Mesh, keys: readonly number[]): Map<number, number> {
  const sides = new Map(keys.map((key) => [key, 0]))
  // nearly all edges of a large mesh begin where none of these does
  const isAsked = new Uint8Array(pointCountOf(mesh))
  for (const key of keys) if (key >= 0) isAsked[edgeEnds(key)[0]] = 1
  const { edgeCount, edgePoints, edgeSides } = edgesOf(mesh)
  for (let edge = 0; edge < edgeCount; edge++) {
    if (isAsked[edgePoints[2 * edge]!] === 0) continue
    const key = edgeKey(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!)
    if (sides.has(key)) sides.set(key, edgeSides[edge]!)
  }
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
 * @param own keys of edges of the master, @param other of what came back.
 * @returns those of either that have a counterpart.
 */
export function comparableEdges(
  master: Mesh,
  returned: Mesh,
  match: Correspondence,
  back: Int32Array,
  { own, other }: { readonly own: readonly number[]; readonly other: readonly number[] },
): { readonly own: number[]; readonly other: number[] } {
  if (own.length + other.length === 0 || !hasOtherPolygons(master, returned, match))
    return { own: [...own], other: [...other] }
  /** -1 where an end has no counterpart. */
  const through = (key: number, map: Int32Array): number => {
    const [from, to] = edgeEnds(key).map((point) => map[point] ?? -1)
    return from! < 0 || to! < 0 ? -1 : edgeKey(from!, to!)
  }
  const ownThere = own.map((key) => through(key, match.pointToReturned))
  const otherHere = other.map((key) => through(key, back))
  const here = sidesAt(master, [...own, ...otherHere])
  const there = sidesAt(returned, [...ownThere, ...other])
  const agree = (a: number, b: number): boolean =>
    a >= 0 && b >= 0 && here.get(a)! > 0 && here.get(a) === there.get(b)
  return {
    own: own.filter((key, at) => agree(key, ownThere[at]!)),
    other: other.filter((key, at) => agree(otherHere[at]!, key)),
  }
}
