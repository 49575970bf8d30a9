import type { Mesh } from '../../scene/mesh.ts'

/**
 * Normals of all faces.
 *
 * @param points 3 x pointCount, other positions for the same polygons; the mesh's own where left out.
 * @returns 3 x faceCount, twice the face's area long, towards the side from which the corners wind
 * counter-clockwise; exact for planar polygons, a mean for others. Newell's method (Sutherland et al., "A
 * Characterization of Ten Hidden-Surface Algorithms", 1974), taken about each face's first corner.
 */
export function computeFaceNormals(
  mesh: Pick<Mesh, 'faceOffsets' | 'faceVertices' | 'points'>,
  points: Float64Array = mesh.points,
): Float64Array {
  const { faceOffsets, faceVertices } = mesh
  const faceCount = faceOffsets.length - 1
  const normals = new Float64Array(3 * faceCount)
  for (let face = 0; face < faceCount; face++) {
    const start = faceOffsets[face]!
    const end = faceOffsets[face + 1]!
    // about the first corner: far from the origin, products of whole coordinates would drown the area
    const origin = 3 * faceVertices[start]!
    const ox = points[origin]!
    const oy = points[origin + 1]!
    const oz = points[origin + 2]!
    let nx = 0
    let ny = 0
    let nz = 0
    let ax = 0
    let ay = 0
    let az = 0
    for (let corner = start + 1; corner < end; corner++) {
      const at = 3 * faceVertices[corner]!
      const bx = points[at]! - ox
      const by = points[at + 1]! - oy
      const bz = points[at + 2]! - oz
      nx += ay * bz - az * by
      ny += az * bx - ax * bz
      nz += ax * by - ay * bx
      ax = bx
      ay = by
      az = bz
    }
    normals[3 * face] = nx
    normals[3 * face + 1] = ny
    normals[3 * face + 2] = nz
  }
  return normals
}
