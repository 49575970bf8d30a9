/** What of a polygon lies nearest to where it was clicked. */
import type { Mesh } from '../../core/scene/mesh.ts'

export interface NearestCorner {
  /** The corner nearest to the place. */
  readonly corner: number
  /** The corner that begins the nearest side. */
  readonly side: number
}

/** @param placeOf where a corner lies, in the same space as `at`; two or three numbers. */
export function nearestOnFace(
  mesh: Mesh,
  face: number,
  at: ArrayLike<number>,
  placeOf: (corner: number) => ArrayLike<number>,
): NearestCorner {
  const [start, end] = [mesh.faceOffsets[face]!, mesh.faceOffsets[face + 1]!]
  let [corner, side, leastToCorner, leastToSide] = [start, start, Infinity, Infinity]
  for (let own = start; own < end; own++) {
    const from = placeOf(own)
    const to = placeOf(own + 1 < end ? own + 1 : start)
    let [toCorner, along, length] = [0, 0, 0]
    for (let axis = 0; axis < at.length; axis++) {
      const run = to[axis]! - from[axis]!
      toCorner += (at[axis]! - from[axis]!) ** 2
      along += (at[axis]! - from[axis]!) * run
      length += run * run
    }
    const share = length > 0 ? Math.max(0, Math.min(1, along / length)) : 0
    let toSide = 0
    for (let axis = 0; axis < at.length; axis++)
      toSide += (at[axis]! - from[axis]! - share * (to[axis]! - from[axis]!)) ** 2
    if (toCorner < leastToCorner) [leastToCorner, corner] = [toCorner, own]
    if (toSide < leastToSide) [leastToSide, side] = [toSide, own]
  }
  return { corner, side }
}
