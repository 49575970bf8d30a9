import { pointCountOf, type Mesh } from '../../../scene/mesh.ts'

/** Corners whose points go together with all others of their points, as a share, from which on the order is believed. */
const AGREEING = 0.97
/**
 * Polygons in a row of which as many have to agree for any of them to be believed: where one was taken out and another
 * put in, those between are off by one, and along a strip of them most corners agree all the same.
 */
const RUN = 12

/** How a polygon's corners may stand: as at home, the other way round from the same one, or all the way back. */
export const WAYS = [
  (step: number) => step,
  (step: number, size: number) => (size - step) % size,
  (step: number, size: number) => size - 1 - step,
] as const

/**
 * Polygons that stand in the master's order with as many corners each, in either winding: which of their points is which
 * follows, also where points were split and numbered anew.
 *
 * @returns one a master point, -1 for none; null where the polygons stand in another order.
 */
export function byCornerOrder(master: Mesh, returned: Mesh): Int32Array | null {
  if (master.faceOffsets.length !== returned.faceOffsets.length) return null
  if (!master.faceOffsets.every((offset, face) => offset === returned.faceOffsets[face])) return null
  for (const way of WAYS) {
    const pairs = new Int32Array(pointCountOf(master)).fill(-1)
    let agreeing = 0
    for (let face = 0; face + 1 < master.faceOffsets.length; face++) {
      const [start, end] = [master.faceOffsets[face]!, master.faceOffsets[face + 1]!]
      for (let step = 0; step < end - start; step++) {
        const point = master.faceVertices[start + step]!
        const other = returned.faceVertices[start + way(step, end - start)]!
        if (pairs[point]! < 0) pairs[point] = other
        if (pairs[point] === other) agreeing++
      }
    }
    if (agreeing === master.faceVertices.length) return pairs
    if (agreeing >= master.faceVertices.length * AGREEING) return leaveOpen(master, returned, way, pairs)
  }
  return null
}

/** Leaves points open that lie on runs of polygons of which some do not agree with the others. */
function leaveOpen(master: Mesh, returned: Mesh, way: (typeof WAYS)[number], pairs: Int32Array): Int32Array {
  const left = pairs.slice()
  const faceCount = master.faceOffsets.length - 1
  for (let first = 0; first < faceCount; first += RUN) {
    const [from, to] = [master.faceOffsets[first]!, master.faceOffsets[Math.min(first + RUN, faceCount)]!]
    let agreeing = 0
    for (let face = first; face < Math.min(first + RUN, faceCount); face++) {
      const [start, end] = [master.faceOffsets[face]!, master.faceOffsets[face + 1]!]
      for (let step = 0; step < end - start; step++)
        if (
          pairs[master.faceVertices[start + step]!] === returned.faceVertices[start + way(step, end - start)]
        )
          agreeing++
    }
    if (agreeing < (to - from) * AGREEING)
      for (const point of master.faceVertices.subarray(from, to)) left[point] = -1
  }
  return left
}
