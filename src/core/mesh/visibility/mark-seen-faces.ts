/** Which faces are certainly seen from outside along an axis: a quick proof that spares most rays. */
import { boundsOf } from '../../base/math/box.ts'

const MOST_PIXELS = 2048

/**
 * Draws all faces along x, y and z, from both sides, and keeps what is nearest at the middle of each pixel: a
 * line from there leaves the model, so that face is seen. Faces between pixels' middles are not proven.
 *
 * @returns faceCount flags.
 */
export function markSeenFaces(
  points: Float64Array,
  faceOffsets: Uint32Array,
  faceVertices: Uint32Array,
): Uint8Array {
  const faceCount = faceOffsets.length - 1
  const seen = new Uint8Array(faceCount)
  const box = boundsOf(points)
  if (!box || faceCount === 0) return seen
  const side = Math.max(64, Math.min(MOST_PIXELS, Math.ceil(2 * Math.sqrt(faceCount))))
  const nearest = new Float64Array(side * side)
  const farthest = new Float64Array(side * side)
  const nearestFace = new Int32Array(side * side)
  const farthestFace = new Int32Array(side * side)
  for (let axis = 0; axis < 3; axis++) {
    const across = (axis + 1) % 3
    const down = (axis + 2) % 3
    nearest.fill(Infinity)
    farthest.fill(-Infinity)
    nearestFace.fill(-1)
    farthestFace.fill(-1)
    const u0 = box.min[across]!
    const v0 = box.min[down]!
    const perU = side / (box.max[across]! - u0)
    const perV = side / (box.max[down]! - v0)
    if (!Number.isFinite(perU) || !Number.isFinite(perV)) continue
    for (let face = 0; face < faceCount; face++) {
      const start = faceOffsets[face]!
      const end = faceOffsets[face + 1]!
      const a = 3 * faceVertices[start]!
      const au = (points[a + across]! - u0) * perU - 0.5
      const av = (points[a + down]! - v0) * perV - 0.5
      const ad = points[a + axis]!
      for (let corner = start + 1; corner + 1 < end; corner++) {
        const b = 3 * faceVertices[corner]!
        const c = 3 * faceVertices[corner + 1]!
        const bu = (points[b + across]! - u0) * perU - 0.5
        const bv = (points[b + down]! - v0) * perV - 0.5
        const cu = (points[c + across]! - u0) * perU - 0.5
        const cv = (points[c + down]! - v0) * perV - 0.5
        const doubled = (bu - au) * (cv - av) - (cu - au) * (bv - av)
        if (doubled === 0) continue
        const x0 = Math.max(0, Math.ceil(Math.min(au, bu, cu)))
        const x1 = Math.min(side - 1, Math.floor(Math.max(au, bu, cu)))
        const y0 = Math.max(0, Math.ceil(Math.min(av, bv, cv)))
        const y1 = Math.min(side - 1, Math.floor(Math.max(av, bv, cv)))
        const bd = points[b + axis]! - ad
        const cd = points[c + axis]! - ad
        for (let y = y0; y <= y1; y++)
          for (let x = x0; x <= x1; x++) {
            const s = ((x - au) * (cv - av) - (cu - au) * (y - av)) / doubled
            if (s < 0) continue
            const t = ((bu - au) * (y - av) - (x - au) * (bv - av)) / doubled
            if (t < 0 || s + t > 1) continue
            const depth = ad + s * bd + t * cd
            const pixel = y * side + x
            if (depth < nearest[pixel]!) {
              nearest[pixel] = depth
              nearestFace[pixel] = face
            }
            if (depth > farthest[pixel]!) {
              farthest[pixel] = depth
              farthestFace[pixel] = face
            }
          }
      }
    }
    for (let pixel = 0; pixel < side * side; pixel++) {
      if (nearestFace[pixel]! >= 0) seen[nearestFace[pixel]!] = 1
      if (farthestFace[pixel]! >= 0) seen[farthestFace[pixel]!] = 1
    }
  }
  return seen
}
