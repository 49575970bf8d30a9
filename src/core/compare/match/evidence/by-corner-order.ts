import { pointCountOf, type Mesh } from '../../../scene/mesh.ts'

/** Corners whose points go together with all others of their points, as a share, from which on the order is believed. */
const AGREEING = 0.97

/** How a polygon's corners may stand: as at home, the other way round from the same one, or all the way back. */
const WAYS = [
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
    if (agreeing >= master.faceVertices.length * AGREEING) return pairs
  }
  return null
}
