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
