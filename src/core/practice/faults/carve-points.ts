/** A carve that follows from position alone: what tools that move the surface are simulated by. */
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { computeFaceNormals } from '../../mesh/relations/face-normals.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'

/** Unit normals of points: the mean of the faces round them by area. */
function pointNormals(mesh: Mesh): Float64Array {
  const faceNormals = computeFaceNormals(mesh)
  const normals = new Float64Array(mesh.points.length)
  for (let face = 0; face < faceCountOf(mesh); face++)
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
      for (let axis = 0; axis < 3; axis++)
        normals[3 * mesh.faceVertices[corner]! + axis]! += faceNormals[3 * face + axis]!
  for (let at = 0; at < normals.length; at += 3) {
    const length = Math.hypot(normals[at]!, normals[at + 1]!, normals[at + 2]!) || 1
    for (let axis = 0; axis < 3; axis++) normals[at + axis]! /= length
  }
  return normals
}

/**
 * The carve: each point moves along its normal by a wave over its place in the part's box, at most
 * `strength` times the box's diagonal. The same mesh gives the same result, whatever its numbering.
 *
 * @returns 3 x pointCount.
 */
export function carvePoints(mesh: Mesh, strength: number): Float64Array {
  const box = boundsOf(mesh.points)
  if (!box || strength === 0) return mesh.points.slice()
  const amplitude = diagonalOf(box) * strength
  const normals = pointNormals(mesh)
  const carved = new Float64Array(mesh.points.length)
  const share = (point: number, axis: number): number =>
    (mesh.points[3 * point + axis]! - box.min[axis]!) / (box.max[axis]! - box.min[axis]! || 1)
  for (let point = 0; point < pointCountOf(mesh); point++) {
    const wave =
      Math.sin(9 * share(point, 0)) * Math.cos(7 * share(point, 1)) * Math.sin(5 * share(point, 2) + 1)
    for (let axis = 0; axis < 3; axis++)
      carved[3 * point + axis] =
        mesh.points[3 * point + axis]! + amplitude * wave * normals[3 * point + axis]!
  }
  return carved
}
