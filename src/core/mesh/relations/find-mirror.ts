/** Whether a mesh is its own mirror image, and which of its faces is the image of which. */
import { createHashGrid, farthestFrom0, nearestWithin } from '../../base/math/hash-grid.ts'
import type { MeshFacts } from './mesh-facts.ts'

export interface Mirror {
  /** 0, 1 or 2: the axis that it is mirrored along. */
  readonly axis: 0 | 1 | 2
  /** Where the plane lies on it. */
  readonly at: number
  /** faceCount; the face that is the image of each, itself for those that lie across the plane. */
  readonly faces: Int32Array
}

/** Points lie on each other where they are nearer than this share of the diagonal. */
const REACH = 1e-5
/** Points that are looked at for one. */
const MOST_LOOKED_AT = 512
/** Faces of fewer say nothing. */
const LEAST_FACES = 4

/**
 * Planes across an axis of the mesh's own space, through the middle of its box, X first.
 *
 * @returns the first one that mirrors every point and every face; null where none does.
 */
export function findMirror(facts: MeshFacts): Mirror | null {
  const bounds = facts.bounds()
  const reach = facts.diagonal() * REACH
  if (!bounds || !(reach > 0) || facts.faceCount < LEAST_FACES) return null
  for (const axis of [0, 1, 2] as const) {
    const middle = (bounds.min[axis] + bounds.max[axis]) / 2
    // the middle of a mirrored box is its plane
    const at = Math.abs(middle) < reach ? 0 : middle
    if (bounds.max[axis] - bounds.min[axis] < 10 * reach) continue
    const faces = mirrorAcross(facts, axis, at, reach)
    if (faces) return { axis, at, faces }
  }
  return null
}

function mirrorAcross(facts: MeshFacts, axis: number, plane: number, reach: number): Int32Array | null {
  const points = facts.points()
  const { pointCount, faceCount } = facts
  const { faceOffsets, faceVertices } = facts.mesh
  const grid = createHashGrid(pointCount, 4 * reach, farthestFrom0(points))
  for (let point = pointCount - 1; point >= 0; point--)
    grid.insert(point, points[3 * point]!, points[3 * point + 1]!, points[3 * point + 2]!)
  const { offsets, corners } = facts.pointCorners()
  const cornerFaces = facts.cornerFaces()
  const image = new Int32Array(pointCount).fill(-1)
  for (let point = 0; point < pointCount; point++) {
    // what no polygon has may lie anywhere
    if (offsets[point] === offsets[point + 1]) continue
    const wanted = [points[3 * point]!, points[3 * point + 1]!, points[3 * point + 2]!]
    wanted[axis] = 2 * plane - wanted[axis]!
    const hasFaces = (other: number): boolean => offsets[other] !== offsets[other + 1]
    const best = nearestWithin(
      grid,
      points,
      wanted as [number, number, number],
      reach,
      MOST_LOOKED_AT,
      hasFaces,
    )
    // a heap of points on one spot is no shape that anybody made; most shapes are no mirror images, which their first
    // points tell
    if (best === null || best < 0) return null
    image[point] = best
  }
  const faces = new Int32Array(faceCount).fill(-1)
  for (let face = 0; face < faceCount; face++) {
    const [start, end] = [faceOffsets[face]!, faceOffsets[face + 1]!]
    if (start === end) return null
    const first = image[faceVertices[start]!]!
    for (let at = offsets[first]!; at < offsets[first + 1]! && faces[face]! < 0; at++) {
      const other = cornerFaces[corners[at]!]!
      if (faceOffsets[other + 1]! - faceOffsets[other]! !== end - start) continue
      // a mirror turns the way round
      const size = end - start
      let place = corners[at]! - faceOffsets[other]!
      let fits = true
      for (let corner = start; corner < end && fits; corner++) {
        fits = faceVertices[faceOffsets[other]! + place] === image[faceVertices[corner]!]
        place = place === 0 ? size - 1 : place - 1
      }
      if (fits) faces[face] = other
    }
    if (faces[face]! < 0) return null
  }
  // of faces that lie on each other both could have one image
  for (let face = 0; face < faceCount; face++) if (faces[faces[face]!] !== face) return null
  return faces
}
