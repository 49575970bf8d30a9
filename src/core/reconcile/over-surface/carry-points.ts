/** What points and corners without counterpart carry besides UVs: colours, weights of joints, blend shapes. */
import type { Nearest } from '../../base/math/bvh.ts'
import type { CarryMap } from '../../compare/traits/trait.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type BlendShape, type ColorSet, type Mesh, type Skin } from '../../scene/mesh.ts' // prettier-ignore
import { newPoints, placeOf, type SurfacePlaces } from './find-places.ts'

/** The places of all new points: points of the master with shares that sum to 1. */
export type PointPlaces = ReadonlyMap<number, readonly (readonly [point: number, share: number])[]>

const sharesOf = (mesh: Mesh, { corners, shares }: Nearest): [number, number][] =>
  corners.flatMap((corner, at): [number, number][] =>
    shares[at]! > 0 ? [[mesh.faceVertices[corner]!, shares[at]!]] : [],
  )

export function placesOfPoints(places: SurfacePlaces, target: Mesh, map: CarryMap): PointPlaces {
  const found = new Map<number, (readonly [number, number])[]>()
  for (const [point, face] of newPoints(target, map)) {
    const place = placeOf(target, point)
    if (!place.every(Number.isFinite)) continue
    const own = map.faces[face]!
    const nearest = own >= 0 ? places.nearestOnFace(own, place) : places.nearest(place, face)
    if (nearest) found.set(point, sharesOf(places.moved, nearest))
  }
  return found
}

/** The skin with weights for the points that have none yet: those of the surface there, shared out. */
export function carrySkinOver(carried: Skin, source: Skin, points: PointPlaces): Skin {
  if (points.size === 0) return carried
  const offsets = new Uint32Array(carried.offsets.length)
  const joints: number[] = []
  const weights: number[] = []
  for (let point = 0; point + 1 < offsets.length; point++) {
    const place = points.get(point)
    if (!place)
      for (let at = carried.offsets[point]!; at < carried.offsets[point + 1]!; at++) {
        joints.push(carried.joints[at]!)
        weights.push(carried.weights[at]!)
      }
    else {
      const sums = new Map<number, number>()
      for (const [own, share] of place)
        for (let at = source.offsets[own]!; at < source.offsets[own + 1]!; at++)
          sums.set(source.joints[at]!, (sums.get(source.joints[at]!) ?? 0) + share * source.weights[at]!)
      for (const [joint, weight] of sums) {
        joints.push(joint)
        weights.push(weight)
      }
    }
    offsets[point + 1] = joints.length
  }
  return { ...carried, offsets, joints: Uint32Array.from(joints), weights: Float64Array.from(weights) }
}

/** The shape with offsets for the points that have no counterpart. */
export function carryShapeOver(carried: BlendShape, source: BlendShape, points: PointPlaces): BlendShape {
  const placeOfPoint = new Map<number, number>()
  source.points.forEach((point, at) => placeOfPoint.set(point, 3 * at))
  const moved = new Map<number, [number, number, number]>()
  carried.points.forEach((point, at) =>
    moved.set(point, [carried.offsets[3 * at]!, carried.offsets[3 * at + 1]!, carried.offsets[3 * at + 2]!]),
  )
  for (const [point, place] of points) {
    const sum: [number, number, number] = [0, 0, 0]
    let moves = false
    for (const [own, share] of place) {
      const at = placeOfPoint.get(own)
      if (at === undefined) continue
      moves = true
      for (let axis = 0; axis < 3; axis++) sum[axis]! += share * source.offsets[at + axis]!
    }
    if (moves) moved.set(point, sum)
  }
  const sorted = [...moved].sort(([a], [b]) => a - b)
  return {
    ...carried,
    points: Uint32Array.from(sorted, ([point]) => point),
    offsets: Float64Array.from(sorted.flatMap(([, offset]) => offset)),
  }
}

/**
 * A colour set with colours for what has none.
 *
 * @param carried the set as it was carried by counterparts, on the same elements as the source’s.
 * @param wanted 1 for the points, or corners, that are to have colours from the surface.
 */
export function carryColoursOver(
  places: SurfacePlaces,
  target: Mesh,
  map: CarryMap,
  carried: ColorSet,
  source: ColorSet,
  points: PointPlaces,
  wanted: Uint8Array,
): ColorSet {
  const width = source.components
  const values = [...carried.values]
  const count = source.per === 'points' ? pointCountOf(target) : cornerCountOf(target)
  const indices = carried.indices.length
    ? carried.indices.slice()
    : Int32Array.from({ length: count }, (_index, at) => at)
  const push = (element: number, shares: readonly (readonly [number, number])[]): void => {
    if (shares.some(([own]) => own < 0)) return
    indices[element] = values.length / width
    for (let part = 0; part < width; part++)
      values.push(shares.reduce((sum, [own, share]) => sum + share * source.values[width * own + part]!, 0))
  }
  const colourOf = (element: number): number => (source.indices.length ? source.indices[element]! : element)
  if (source.per === 'points') {
    for (const [point, place] of points)
      if (wanted[point])
        push(
          point,
          place.map(([own, share]) => [colourOf(own), share] as const),
        )
  } else
    for (let face = 0; face < faceCountOf(target); face++)
      for (let corner = target.faceOffsets[face]!; corner < target.faceOffsets[face + 1]!; corner++) {
        if (!wanted[corner]) continue
        const place = placeOf(target, target.faceVertices[corner]!)
        if (!place.every(Number.isFinite)) continue
        const own = map.faces[face]!
        const found = own >= 0 ? places.nearestOnFace(own, place) : places.nearest(place, face)
        if (found)
          push(
            corner,
            found.corners.map((at, k) => [colourOf(at), found.shares[k]!] as const),
          )
      }
  return { ...carried, values: Float64Array.from(values), indices }
}
