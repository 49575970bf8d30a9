/** UVs of corners without counterpart, from the places of the surface that they lie on. */
import type { Nearest } from '../../base/math/bvh.ts'
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { distanceToEdge } from '../../base/math/segment.ts'
import type { CarryMap } from '../../compare/traits/trait.ts'
import { createMeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { faceCountOf, type Mesh, type UvSet } from '../../scene/mesh.ts'
import { findIslands } from '../../uv/find-islands.ts'
import { facesByShare, isNearer, placeOf, type SurfacePlaces } from './find-places.ts'

/** UVs nearer to each other are one, which the corners of a point share. */
const SAME_UV = 1e-7
/** Of a polygon’s own reach, how far round its middle the master's surface is followed. */
const REACH = 1.5
/** A corner that lies beyond a seam by less than this share of its polygon’s reach lies on it. */
const ON_SEAM = 1e-6
/** Faces that are looked at one after the other; of more the tree finds the nearest. */
const MOST_IN_ORDER = 16

/** For each corner of a mesh the face beyond the side that begins there, where no seam of the set runs; else -1. */
function facesOverSides(mesh: Mesh, set: UvSet): Int32Array {
  const facts = createMeshFacts(mesh)
  const { edgeCorners, edgeCount } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const over = new Int32Array(mesh.faceVertices.length).fill(-1)
  const next = (corner: number): number => {
    const face = cornerFaces[corner]!
    return corner + 1 < mesh.faceOffsets[face + 1]! ? corner + 1 : mesh.faceOffsets[face]!
  }
  const same = (a: number, b: number): boolean => {
    const [p, q] = [set.indices[a]!, set.indices[b]!]
    return (
      p >= 0 &&
      q >= 0 &&
      set.values[2 * p] === set.values[2 * q] &&
      set.values[2 * p + 1] === set.values[2 * q + 1]
    )
  }
  for (let edge = 0; edge < edgeCount; edge++) {
    const [a, b] = [edgeCorners[2 * edge]!, edgeCorners[2 * edge + 1]!]
    if (a < 0 || b < 0) continue
    const turned = mesh.faceVertices[a] === mesh.faceVertices[b]
    const [otherA, otherB] = turned ? [b, next(b)] : [next(b), b]
    if (!same(a, otherA) || !same(next(a), otherB)) continue
    over[a] = cornerFaces[b]!
    over[b] = cornerFaces[a]!
  }
  return over
}

export interface CarriedUvs {
  readonly set: UvSet
  /** New faces under which a seam of the set runs: they lie on its one side. */
  readonly acrossSeams: number
}

/**
 * @param known the set as it was carried by counterparts, one index a corner of the target.
 * @param wanted 1 for the corners that are to have UVs from the surface.
 */
export function carryUvsOver(
  places: SurfacePlaces,
  target: Mesh,
  map: CarryMap,
  set: UvSet,
  known: UvSet,
  wanted: Uint8Array,
): CarriedUvs {
  const { moved, newFaces, sampleFaces } = places
  const tiny = diagonalOf(boundsOf(moved.points)) * 1e-12
  const islands = findIslands(moved, set).faceIslands
  const over = facesOverSides(moved, set)
  const faces = facesByShare(places, target, map, (face) => islands[face]!)
  const values = [...known.values]
  const indices = known.indices.slice()
  /** UVs that were made for a point, so that the corners of one surface share one. */
  const madeOf = new Map<number, number[]>()
  const share = (point: number, u: number, v: number): number => {
    const made = madeOf.get(point) ?? []
    madeOf.set(point, made)
    const found = made.find((index) => Math.abs(values[2 * index]! - u) <= SAME_UV && Math.abs(values[2 * index + 1]! - v) <= SAME_UV) // prettier-ignore
    if (found !== undefined) return found
    const index = values.length / 2
    values.push(u, v)
    made.push(index)
    return index
  }
  const stamps = new Int32Array(faceCountOf(moved)).fill(-1)
  /** Faces of the master round one, as far as its seams and the reach of a polygon of the target. */
  const follow = (face: number, from: number, middle: readonly number[], reach: number): number[] => {
    const queue = [from]
    stamps[from] = face
    for (let at = 0; at < queue.length; at++) {
      const own = queue[at]!
      for (let corner = moved.faceOffsets[own]!; corner < moved.faceOffsets[own + 1]!; corner++) {
        const beyond = over[corner]!
        if (beyond < 0 || stamps[beyond] === face) continue
        const end = corner + 1 < moved.faceOffsets[own + 1]! ? corner + 1 : moved.faceOffsets[own]!
        const [a, b] = [moved.faceVertices[corner]!, moved.faceVertices[end]!]
        if (distanceToEdge(middle, moved.points, a, b) > reach) continue
        stamps[beyond] = face
        queue.push(beyond)
      }
    }
    return queue
  }
  /**
   * The nearest place on faces in the order in which they were come to: of a point on a seam that the surface was
   * followed round to, the side counts that was met first.
   */
  const nearestInOrder = (
    place: readonly [number, number, number],
    queue: readonly number[],
  ): Nearest | null => {
    let best: Nearest | null = null
    const put = (found: Nearest | null): void => {
      if (found && (!best || isNearer(found.distance, best.distance, tiny))) best = found
    }
    const leastOf = (found: Nearest | null): number => found?.distance ?? Infinity
    for (let at = 0; at < queue.length && at < MOST_IN_ORDER && leastOf(best) > tiny; at++)
      put(places.nearestOnFace(queue[at]!, place))
    if (queue.length > MOST_IN_ORDER && leastOf(best) > tiny)
      put(places.nearestAmong(place, (own) => stamps[own] === stamps[queue[0]!], leastOf(best)))
    return best
  }
  const take = (corner: number, found: Nearest | null): void => {
    if (!found) return
    const uvs = found.corners.map((own) => set.indices[own]!)
    if (uvs.some((uv) => uv < 0)) return
    const [u, v] = [0, 1].map((axis) =>
      uvs.reduce((sum, uv, at) => sum + found.shares[at]! * set.values[2 * uv + axis]!, 0),
    ) as [number, number]
    indices[corner] = share(target.faceVertices[corner]!, u, v)
  }
  /** Whether a place that was found on the border of a triangle has a nearer one beyond a seam. */
  const isBeyond = (place: readonly [number, number, number], face: number, found: Nearest): boolean => {
    if (found.shares.every((share) => share > 0)) return false
    const other = places.nearest(place, face)
    // what was followed has nothing nearer than what was found
    return !!other && isNearer(other.distance, found.distance, tiny)
  }
  let acrossSeams = 0
  for (const face of newFaces) {
    const from = faces[face]!
    if (from < 0 || islands[from]! < 0) continue
    const [start, end] = [target.faceOffsets[face]!, target.faceOffsets[face + 1]!]
    const corners = Array.from({ length: end - start }, (_corner, at) =>
      placeOf(target, target.faceVertices[start + at]!),
    )
    const middle = [0, 1, 2].map(
      (axis) => corners.reduce((sum, place) => sum + place[axis]!, 0) / corners.length,
    )
    const own = Math.max(
      ...corners.map((place) => Math.hypot(...place.map((value, axis) => value - middle[axis]!))),
    )
    const queue = follow(face, from, middle, REACH * own + places.distances[face]!)
    if (!wanted.subarray(start, end).some(Boolean)) continue
    let across = false
    corners.forEach((place, at) => {
      const sample = sampleFaces[start + at]!
      if (sample >= 0 && stamps[sample] !== face) across = true
      if (!wanted[start + at]) return
      const found = nearestInOrder(place, queue)
      if (found && !across && found.distance > ON_SEAM * own) across = isBeyond(place, face, found)
      take(start + at, found)
    })
    if (across) acrossSeams++
  }
  // corners that a cut has put on polygons which are known lie on these very polygons
  for (let face = 0; face < faceCountOf(target); face++) {
    if (map.faces[face]! < 0) continue
    for (let corner = target.faceOffsets[face]!; corner < target.faceOffsets[face + 1]!; corner++)
      if (wanted[corner])
        take(corner, places.nearestOnFace(map.faces[face]!, placeOf(target, target.faceVertices[corner]!)))
  }
  return {
    set: { name: set.name, values: Float64Array.from(values), indices, depths: null },
    acrossSeams,
  }
}
