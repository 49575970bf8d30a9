import { areJoined, type Neighbours } from '../neighbours.ts'

/** Of each of the master's points: edges of which both ends have a counterpart, and how many of those are there in the return. */
export interface Support {
  readonly known: Uint32Array
  readonly borne: Uint32Array
}

/** @param pairs one a master point, -1 for none. @returns good until it is asked of other pairs. */
export type SupportOf = (pairs: Int32Array) => Support

/**
 * Counts what bears pairs out, once for the same pairs however often it is asked: on a large mesh, numbered anew, each edge is
 * looked for far off in memory.
 */
export function createSupport({ offsets, others }: Neighbours, far: Neighbours): SupportOf {
  const pointCount = offsets.length - 1
  const [known, borne] = [new Uint32Array(pointCount), new Uint32Array(pointCount)]
  let counted: Int32Array | null = null
  const isCounted = (pairs: Int32Array): boolean => {
    if (!counted) return false
    for (let point = 0; point < pointCount; point++) if (counted[point] !== pairs[point]) return false
    return true
  }
  return (pairs) => {
    if (isCounted(pairs)) return { known, borne }
    counted = pairs.slice()
    known.fill(0)
    borne.fill(0)
    for (let point = 0; point < pointCount; point++) {
      const own = pairs[point]!
      if (own < 0) continue
      for (let at = offsets[point]!; at < offsets[point + 1]!; at++) {
        const end = others[at]!
        // each edge is looked at from one of its ends
        if (end < point) continue
        const other = pairs[end]!
        if (other < 0) continue
        known[point]!++
        if (end !== point) known[end]!++
        // a side from a point to itself bears nothing out
        if (other === own || !areJoined(far, own, other)) continue
        borne[point]!++
        borne[end]!++
      }
    }
    return { known, borne }
  }
}
