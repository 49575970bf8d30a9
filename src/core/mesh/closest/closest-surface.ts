/** The place on a surface that is nearest and faces the same way. */
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { buildBvh, type Bvh, type Nearest } from '../../base/math/bvh.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { computeFaceNormals } from '../relations/face-normals.ts'

/** Cosine between the normals of what is the same surface; below it another place is looked for. */
export const FACES_ALIKE = 0.3
/** A place on such a surface may be so many times as far as the nearest of all, or as far as this share of the diagonal. */
const AS_NEAR = 4
const NEAR = 0.02

export interface ClosestSurface {
  readonly tree: Bvh
  /** Cosine between a face's normal and the one at place `at` of a list; 1 where either has no length. */
  readonly alike: (face: number, normals: Float64Array, at: number) => number
  /**
   * The nearest place on faces that face as the normal does, where one of them is about as near as any; else the nearest
   * of all. Null for a mesh without polygons.
   */
  readonly nearest: (
    place: readonly [number, number, number],
    normals: Float64Array,
    at: number,
  ) => Nearest | null
}

export function closestSurface(mesh: Mesh): ClosestSurface {
  const tree = buildBvh(mesh)
  const size = diagonalOf(boundsOf(mesh.points))
  const own = computeFaceNormals(mesh)
  const alike = (face: number, normals: Float64Array, at: number): number => {
    let product = 0
    let a = 0
    let b = 0
    for (let axis = 0; axis < 3; axis++) {
      const [x, y] = [own[3 * face + axis]!, normals[3 * at + axis]!]
      product += x * y
      a += x * x
      b += y * y
    }
    return a > 0 && b > 0 ? product / Math.sqrt(a * b) : 1
  }
  return {
    tree,
    alike,
    nearest(place, normals, at) {
      const any = tree.nearest(...place)
      if (!any || alike(any.face, normals, at) > FACES_ALIKE) return any
      const within = Math.max(AS_NEAR * any.distance, size * NEAR)
      return tree.nearest(...place, (face) => alike(face, normals, at) > FACES_ALIKE, within) ?? any
    },
  }
}

/**
 * How far each point of a mesh is from the surface of another: pointCount lengths in their common space, NaN for points of
 * no polygon, and for those that are nowhere. By the sum of the normals of the polygons round a point.
 */
export function distancesToSurface(mesh: Mesh, surface: ClosestSurface): Float32Array {
  const { points, faceOffsets, faceVertices } = mesh
  const faceNormals = computeFaceNormals(mesh)
  const normals = new Float64Array(points.length)
  const used = new Uint8Array(points.length / 3)
  for (let face = 0; face + 1 < faceOffsets.length; face++)
    for (let corner = faceOffsets[face]!; corner < faceOffsets[face + 1]!; corner++) {
      const point = faceVertices[corner]!
      used[point] = 1
      for (let axis = 0; axis < 3; axis++) normals[3 * point + axis]! += faceNormals[3 * face + axis]!
    }
  return Float32Array.from(used, (isUsed, point) => {
    const place = [points[3 * point]!, points[3 * point + 1]!, points[3 * point + 2]!] as const
    if (!isUsed || !place.every(Number.isFinite)) return NaN
    return surface.nearest(place, normals, point)?.distance ?? NaN
  })
}
