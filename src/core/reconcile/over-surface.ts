/**
 * Traits carried over to polygons that no counterpart was found for, by the place on the master's surface that is nearest
 * and faces the same way. Never as sure as a counterpart: how far off it was is told with it.
 */
import { buildBvh, type Nearest } from '../base/math/bvh.ts'
import { boundsOf, diagonalOf } from '../base/math/box.ts'
import type { CarryMap } from '../compare/traits/trait.ts'
import { computeFaceNormals } from '../mesh/relations/face-normals.ts'
import { faceCountOf, type Mesh, type UvSet } from '../scene/mesh.ts'
import { findIslands } from '../uv/find-islands.ts'

export interface OverSurface {
  /** The carry map with the nearest polygon of the master for those that had none. */
  readonly map: CarryMap
  /** The master's UV sets on the target's corners: its very UVs where there is a counterpart, else from the surface. */
  readonly uvSets: readonly UvSet[]
  /** Polygons that were carried over so. */
  readonly faces: number
  /** How many of these lie far off, or face another way than what is nearest. */
  readonly doubtful: number
  /** The farthest of their middles from the surface, in the part's own unit. */
  readonly farthest: number
}

/** Below this share of polygons with counterparts the rest is looked for on the surface. */
export const FEW_COUNTERPARTS = 0.5
/** Polygons whose middle lies farther off than this share of the part's diagonal are doubtful. */
const FAR_OFF = 0.02
/** Cosine between the normals of what is the same surface; below it another place is looked for. */
const FACES_ALIKE = 0.3
/** How far a corner is drawn towards its polygon's middle before it is looked for, so that it stays on its side of a seam. */
const INWARDS = 0.02

export function carryOverSurface(master: Mesh, target: Mesh, map: CarryMap): OverSurface {
  const tree = buildBvh(master)
  const size = diagonalOf(boundsOf(master.points)) || 1
  const [ownNormals, targetNormals] = [computeFaceNormals(master), computeFaceNormals(target)]
  const alike = (own: number, face: number): number => {
    let product = 0
    let a = 0
    let b = 0
    for (let axis = 0; axis < 3; axis++) {
      const [x, y] = [ownNormals[3 * own + axis]!, targetNormals[3 * face + axis]!]
      product += x * y
      a += x * x
      b += y * y
    }
    return a > 0 && b > 0 ? product / Math.sqrt(a * b) : 1
  }
  const faces = map.faces.slice()
  const islands = master.uvSets.map((set) => findIslands(master, set).faceIslands)
  const values = master.uvSets.map((set) => [...set.values])
  const indices = master.uvSets.map((set) =>
    Int32Array.from(map.corners, (corner) => (corner < 0 ? -1 : set.indices[corner]!)),
  )
  const blend = (set: UvSet, { corners, shares }: Nearest): [number, number] | null => {
    const uvs = corners.map((corner) => set.indices[corner]!)
    if (uvs.some((uv) => uv < 0)) return null
    return [0, 1].map((axis) =>
      uvs.reduce((sum, uv, at) => sum + shares[at]! * set.values[2 * uv + axis]!, 0),
    ) as [number, number]
  }
  let count = 0
  let doubtful = 0
  let farthest = 0
  for (let face = 0; face < faceCountOf(target); face++) {
    if (faces[face]! >= 0) continue
    const [start, end] = [target.faceOffsets[face]!, target.faceOffsets[face + 1]!]
    const middle = [0, 0, 0]
    for (let corner = start; corner < end; corner++)
      for (let axis = 0; axis < 3; axis++)
        middle[axis]! += target.points[3 * target.faceVertices[corner]! + axis]! / (end - start)
    const [x, y, z] = middle as [number, number, number]
    const found = tree.nearest(x, y, z, (own) => alike(own, face) > FACES_ALIKE) ?? tree.nearest(x, y, z)
    if (!found) continue
    count++
    farthest = Math.max(farthest, found.distance)
    if (found.distance > FAR_OFF * size || alike(found.face, face) <= FACES_ALIKE) doubtful++
    faces[face] = found.face
    master.uvSets.forEach((set, at) => {
      const island = islands[at]![found.face]!
      if (island < 0) return
      for (let corner = start; corner < end; corner++) {
        const point = 3 * target.faceVertices[corner]!
        const drawn = [0, 1, 2].map((axis) => {
          const value = target.points[point + axis]!
          return value + (middle[axis]! - value) * INWARDS
        }) as [number, number, number]
        // all corners of a polygon in one island: across a seam it would be torn over the map
        const place =
          tree.nearest(...drawn, (own) => islands[at]![own] === island && alike(own, face) > FACES_ALIKE) ??
          found
        const uv = blend(set, place)
        if (!uv) continue
        indices[at]![corner] = values[at]!.length / 2
        values[at]!.push(...uv)
      }
    })
  }
  return {
    map: { ...map, faces },
    uvSets: master.uvSets.map((set, at) => ({
      name: set.name,
      values: Float64Array.from(values[at]!),
      indices: indices[at]!,
      depths: null,
    })),
    faces: count,
    doubtful,
    farthest,
  }
}
