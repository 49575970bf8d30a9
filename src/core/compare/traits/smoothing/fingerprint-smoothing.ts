import { edgeKey } from '../../../mesh/relations/adjacency.ts'

/** Edges as a set: neither their order nor which end comes first says anything. */
export function canonicalEdges(pairs: Uint32Array): Float64Array {
  const keys = new Float64Array(pairs.length / 2)
  for (let at = 0; at < keys.length; at++) keys[at] = edgeKey(pairs[2 * at]!, pairs[2 * at + 1]!)
  return keys.sort()
}
