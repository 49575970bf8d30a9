/** What corners have, for formats that have it for points alone. */
import type { ColorSet, Mesh } from '../../scene/mesh.ts'

/**
 * The value of each point where all corners of it have the same; null where they don't, or where one has none.
 *
 * @param values width x n. @param indices one a corner, into the values. @param none of points that no polygon has.
 */
export function byPoint(
  { faceVertices, points }: Mesh,
  width: number,
  values: Float64Array,
  indices: Int32Array,
  none = 0,
): Float64Array | null {
  const own = new Float64Array((width * points.length) / 3).fill(none)
  const first = new Int32Array(points.length / 3).fill(-1)
  for (let corner = 0; corner < faceVertices.length; corner++) {
    const point = faceVertices[corner]!
    const index = indices[corner]!
    if (index < 0) return null
    if (first[point]! < 0) {
      first[point] = index
      for (let k = 0; k < width; k++) own[width * point + k] = values[width * index + k]!
    } else if (first[point] !== index)
      for (let k = 0; k < width; k++) if (own[width * point + k] !== values[width * index + k]) return null
  }
  return own
}

/** A colour set as one of points; null where corners of a point have colours apart. What no polygon has is white. */
export function colorsByPoint(mesh: Mesh, set: ColorSet): ColorSet | null {
  if (set.per === 'points') return set
  const values = byPoint(mesh, set.components, set.values, set.indices, 1)
  return values && { ...set, per: 'points', indices: new Int32Array(0), values }
}
