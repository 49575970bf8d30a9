/**
 * Where on the master's surface the new elements of a returned mesh lie: those that have no counterpart of their own,
 * since a tool made other polygons there, cut a loop in, or added something.
 */
import type { Nearest } from '../../base/math/bvh.ts'
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import type { CarryMap } from '../../compare/traits/trait.ts'
import { closestSurface, FACES_ALIKE } from '../../mesh/closest/closest-surface.ts'
import { buildCornerFaces, buildPointCorners } from '../../mesh/relations/adjacency.ts'
import { computeFaceNormals } from '../../mesh/relations/face-normals.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'

/** A place farther from the surface than this share of the part's diagonal is doubtful. */
const FAR_OFF = 0.02
/** A face that shares points, and lies so many times farther off than another, is not what a new face is a piece of. */
const NO_RELATIVE = 3

export interface SurfacePlaces {
  /** The master with its points where those of them came back that are known again. */
  readonly moved: Mesh
  /** Faces of the target without counterpart. */
  readonly newFaces: readonly number[]
  /**
   * cornerCount of the target; for each corner of a new face the face of the master that is nearest to the triangle
   * between the face's middle and the side that begins there; -1 elsewhere.
   */
  readonly sampleFaces: Int32Array
  /** cornerCount; the areas of these triangles. */
  readonly sampleAreas: Float64Array
  /** faceCount of the target; how far the farthest of a new face's samples is from the surface, NaN for other faces. */
  readonly distances: Float64Array
  /** faceCount; 1 for a new face that lies far off the surface, or that faces another way than what is nearest. */
  readonly doubtful: Uint8Array
  /** The place on the surface nearest to one, on polygons that face as the target's face does where there are any. */
  readonly nearest: (place: readonly [number, number, number], face: number) => Nearest | null
  /** The same on one polygon of the master, or on those that are let pass. */
  readonly nearestAmong: (
    place: readonly [number, number, number],
    accept: (face: number) => boolean,
    within?: number,
  ) => Nearest | null
  readonly nearestOnFace: (face: number, place: readonly [number, number, number]) => Nearest | null
}

/** The master's points where they came back; those without counterpart stay, which is right where nothing moved. */
function movedPoints(master: Mesh, target: Mesh, sourcePoints: Int32Array): Float64Array {
  const points = master.points.slice()
  for (let point = 0; point < sourcePoints.length; point++) {
    const other = sourcePoints[point]!
    if (other >= 0) points.set(target.points.subarray(3 * other, 3 * other + 3), 3 * point)
  }
  return points
}

export const placeOf = (mesh: Mesh, point: number): [number, number, number] => [
  mesh.points[3 * point]!,
  mesh.points[3 * point + 1]!,
  mesh.points[3 * point + 2]!,
]

/** @param map from the target's elements to the master's. */
export function findPlaces(master: Mesh, target: Mesh, map: CarryMap): SurfacePlaces {
  const moved = { ...master, points: movedPoints(master, target, map.sourcePoints) }
  const surface = closestSurface(moved)
  const { tree } = surface
  const size = diagonalOf(boundsOf(moved.points)) || 1
  const tiny = size * 1e-12
  const targetNormals = computeFaceNormals(target)
  const alike = (own: number, face: number): number => surface.alike(own, targetNormals, face)
  const nearest = (place: readonly [number, number, number], face: number): Nearest | null =>
    surface.nearest(place, targetNormals, face)

  const facesOfPoint = buildPointCorners(moved, pointCountOf(moved))
  const ownFaces = buildCornerFaces(moved)
  /**
   * The master's faces that a new face has most points in common with, two or more: it is a piece of one of them, however
   * far they were moved.
   */
  const relatives = (start: number, end: number): number[] => {
    const counts = new Map<number, number>()
    for (let corner = start; corner < end; corner++) {
      const point = map.points[target.faceVertices[corner]!]!
      if (point < 0) continue
      for (let at = facesOfPoint.offsets[point]!; at < facesOfPoint.offsets[point + 1]!; at++) {
        const face = ownFaces[facesOfPoint.corners[at]!]!
        counts.set(face, (counts.get(face) ?? 0) + 1)
      }
    }
    const most = Math.max(0, ...counts.values())
    return most < 2 ? [] : [...counts].flatMap(([face, count]) => (count === most ? [face] : []))
  }
  const nearestOf = (
    faces: readonly number[],
    place: readonly [number, number, number],
    face: number,
  ): Nearest | null => {
    let best: Nearest | null = null
    for (const own of [...faces].sort(
      (a, b) => Number(alike(b, face) > FACES_ALIKE) - Number(alike(a, face) > FACES_ALIKE),
    )) {
      const found = tree.nearestOnFace(own, ...place)
      // of two on one place the first, whatever their last digits say
      if (found && (!best || found.distance < best.distance - tiny)) best = found
    }
    return best
  }

  const faceCount = faceCountOf(target)
  const cornerCount = target.faceVertices.length
  const newFaces: number[] = []
  const sampleFaces = new Int32Array(cornerCount).fill(-1)
  const sampleAreas = new Float64Array(cornerCount)
  const distances = new Float64Array(faceCount).fill(NaN)
  const doubtful = new Uint8Array(faceCount)
  for (let face = 0; face < faceCount; face++) {
    if (map.faces[face]! >= 0) continue
    const [start, end] = [target.faceOffsets[face]!, target.faceOffsets[face + 1]!]
    const corners = Array.from({ length: end - start }, (_corner, at) =>
      placeOf(target, target.faceVertices[start + at]!),
    )
    const middle = [0, 1, 2].map(
      (axis) => corners.reduce((sum, corner) => sum + corner[axis]!, 0) / corners.length,
    )
    if (!middle.every(Number.isFinite)) continue
    newFaces.push(face)
    let farthest = 0
    let sameWay = 0
    let whole = 0
    const near = relatives(start, end)
    const reach = Math.max(
      ...corners.map((corner) => Math.hypot(...corner.map((value, axis) => value - middle[axis]!))),
    )
    corners.forEach((corner, at) => {
      const next = corners[(at + 1) % corners.length]!
      const sample = [0, 1, 2].map((axis) => (middle[axis]! + corner[axis]! + next[axis]!) / 3) as [number, number, number] // prettier-ignore
      const area = triangleArea(middle, corner, next)
      const by = near.length ? nearestOf(near, sample, face) : null
      const other = by && by.distance < tiny ? by : nearest(sample, face)
      // a relative that lies farther off than its own size is none
      const found = by && other && by.distance > NO_RELATIVE * other.distance + reach ? other : (by ?? other)
      if (!found) return
      sampleFaces[start + at] = found.face
      sampleAreas[start + at] = area
      farthest = Math.max(farthest, found.distance)
      whole += area
      if (alike(found.face, face) > FACES_ALIKE) sameWay += area
    })
    distances[face] = farthest
    if (farthest > FAR_OFF * size || sameWay * 2 < whole) doubtful[face] = 1
  }
  return {
    moved,
    newFaces,
    sampleFaces,
    sampleAreas,
    distances,
    doubtful,
    nearest,
    nearestAmong: (place, accept, within) => tree.nearest(...place, accept, within),
    nearestOnFace: (face, place) => tree.nearestOnFace(face, ...place),
  }
}

/** Whether a distance is less than another by more than what its last digits say. @param tiny in the same unit. */
export const isNearer = (distance: number, than: number, tiny: number): boolean =>
  distance < than * (1 - 1e-9) - tiny

function triangleArea(a: readonly number[], b: readonly number[], c: readonly number[]): number {
  const [ux, uy, uz] = [b[0]! - a[0]!, b[1]! - a[1]!, b[2]! - a[2]!]
  const [vx, vy, vz] = [c[0]! - a[0]!, c[1]! - a[1]!, c[2]! - a[2]!]
  return Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2
}

/**
 * For each face of the target the master's whose value it takes: its counterpart, else the one that stands for the value
 * with the largest share of the face's area.
 *
 * @param keyOf a number that tells the values of the master's faces apart.
 */
export function facesByShare(
  { newFaces, sampleFaces, sampleAreas }: SurfacePlaces,
  target: Mesh,
  map: CarryMap,
  keyOf: (face: number) => number,
): Int32Array {
  const faces = map.faces.slice()
  for (const face of newFaces) {
    const shares = new Map<number, { area: number; best: number; most: number }>()
    for (let corner = target.faceOffsets[face]!; corner < target.faceOffsets[face + 1]!; corner++) {
      const own = sampleFaces[corner]!
      if (own < 0) continue
      const area = sampleAreas[corner]!
      const share = shares.get(keyOf(own)) ?? { area: 0, best: own, most: -1 }
      share.area += area
      if (area > share.most) {
        share.most = area
        share.best = own
      }
      shares.set(keyOf(own), share)
    }
    let largest = -1
    for (const { area, best } of shares.values())
      if (area > largest) {
        largest = area
        faces[face] = best
      }
  }
  return faces
}

/** Points of the target that have no counterpart, each with a face of the target that it is a corner of. */
export function newPoints(target: Mesh, map: CarryMap): Map<number, number> {
  const found = new Map<number, number>()
  const missing = new Uint8Array(pointCountOf(target))
  for (let point = 0; point < missing.length; point++) missing[point] = map.points[point]! < 0 ? 1 : 0
  for (let face = 0; face < faceCountOf(target); face++)
    for (let corner = target.faceOffsets[face]!; corner < target.faceOffsets[face + 1]!; corner++) {
      const point = target.faceVertices[corner]!
      if (missing[point]) {
        missing[point] = 0
        found.set(point, face)
      }
    }
  return found
}
