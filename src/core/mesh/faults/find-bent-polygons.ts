import type { MeshFacts } from '../relations/mesh-facts.ts'

/**
 * How far the corners of a polygon face away from its normal.
 *
 * @param at three times the point of each corner.
 * @param normal of any length but 0.
 * @returns `hollow`: some corner turns the other way; `least`: the smallest cosine between a corner and the normal.
 */
export function cornerFacing(
  points: Float64Array,
  at: ArrayLike<number>,
  [nx, ny, nz]: readonly [number, number, number],
): { hollow: boolean; least: number } {
  const size = at.length
  const length = Math.sqrt(nx * nx + ny * ny + nz * nz)
  let hollow = false
  let least = 1
  for (let corner = 0; corner < size; corner++) {
    const a = at[corner ? corner - 1 : size - 1]!
    const b = at[corner]!
    const c = at[corner + 1 < size ? corner + 1 : 0]!
    const ux = points[b]! - points[a]!
    const uy = points[b + 1]! - points[a + 1]!
    const uz = points[b + 2]! - points[a + 2]!
    const vx = points[c]! - points[b]!
    const vy = points[c + 1]! - points[b + 1]!
    const vz = points[c + 2]! - points[b + 2]!
    const tx = uy * vz - uz * vy
    const ty = uz * vx - ux * vz
    const tz = ux * vy - uy * vx
    const turn = Math.sqrt(tx * tx + ty * ty + tz * tz)
    const sides = Math.sqrt((ux * ux + uy * uy + uz * uz) * (vx * vx + vy * vy + vz * vz))
    // three corners in line turn neither way
    if (!(turn > sides * 1e-6)) continue
    const facing = (tx * nx + ty * ny + tz * nz) / (turn * length)
    if (facing < 0) hollow = true
    else if (facing < least) least = facing
  }
  return { hollow, least }
}

/** Faces of four corners and more that are not convex, and those bent by more than `bendLimit` radians. */
export function findBentPolygons(facts: MeshFacts, bendLimit: number): { concave: number[]; bent: number[] } {
  const { mesh } = facts
  const points = facts.points()
  const normals = facts.faceNormals()
  const concave: number[] = []
  const bent: number[] = []
  const limit = Math.cos(bendLimit)
  const at: number[] = []
  for (let face = 0; face < facts.faceCount; face++) {
    const start = mesh.faceOffsets[face]!
    const size = mesh.faceOffsets[face + 1]! - start
    if (size < 4) continue
    const nx = normals[3 * face]!
    const ny = normals[3 * face + 1]!
    const nz = normals[3 * face + 2]!
    if (nx === 0 && ny === 0 && nz === 0) continue
    at.length = size
    for (let corner = 0; corner < size; corner++) at[corner] = 3 * mesh.faceVertices[start + corner]!
    const { hollow, least } = cornerFacing(points, at, [nx, ny, nz])
    if (hollow) concave.push(face)
    else if (least < limit) bent.push(face)
  }
  return { concave, bent }
}
