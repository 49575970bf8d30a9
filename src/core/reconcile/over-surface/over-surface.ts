/**
 * What the master has, on elements of a returned mesh that have no counterpart: on polygons that a tool made anew, on
 * points that a loop was cut through, on pieces that were added. Polygons, points and corners take it from the place on
 * the master's surface that is nearest and faces the same way, creases and hard edges along the edges that run nearest.
 * Never as sure as a counterpart: how far off it was, and what found no place, is told with it.
 */
import type { CarryMap } from '../../compare/traits/trait.ts'
import { TRAIT_DESCRIPTORS } from '../../compare/traits/registry.ts'
import { faceCountOf, type Mesh, type UvSet } from '../../scene/mesh.ts'
import { leadEdges, type LedEdges } from './carry-chains.ts'
import { carryColoursOver, carryShapeOver, carrySkinOver, placesOfPoints, type PointPlaces } from './carry-points.ts' // prettier-ignore
import { carryUvsOver } from './carry-uvs.ts'
import { facesByShare, findPlaces, newPoints } from './find-places.ts'

/** Traits that are carried so. */
export const SURFACE_TRAITS = [
  'uvs',
  'materials',
  'groups',
  'smoothing',
  'colours',
  'creases',
  'shapes',
] as const
export type SurfaceTrait = (typeof SURFACE_TRAITS)[number]

/** Edges of the master that were led along the new polygons. */
export interface LedCount {
  readonly found: number
  readonly total: number
}

export interface OverSurface {
  /** The part with everything that was asked for. */
  readonly mesh: Mesh
  /** Traits that new polygons, or their points and corners, took from the surface. */
  readonly traits: readonly SurfaceTrait[]
  /** Polygons that were carried over so. */
  readonly faces: number
  /** How many of these lie far off, or face another way than what is nearest. */
  readonly doubtful: number
  /** How many lie across a seam of the first UV set: they have UVs of its one side. */
  readonly acrossSeams: number
  /** The farthest of their samples from the surface, in the part's own unit. */
  readonly farthest: number
  readonly creases: LedCount | null
  readonly hardEdges: LedCount | null
}

/** Below this share of polygons with counterparts a part was made anew, and all of it is carried, however far off. */
const FEW_COUNTERPARTS = 0.5

/**
 * @param target the returned mesh with what was carried by counterparts.
 * @param map from the target's elements to the master's.
 * @param wants traits that are the master's and not taken from what came back.
 * @param agrees traits in which what came back is as the master where there are counterparts: what a tool has given
 *   its new polygons of them then is of the same kind, and stays.
 * @returns null where everything has its counterpart.
 */
export function carryOverSurface(
  master: Mesh,
  target: Mesh,
  map: CarryMap,
  wants: (trait: SurfaceTrait) => boolean,
  agrees: (trait: SurfaceTrait) => boolean,
): OverSurface | null {
  const isLacking = map.faces.includes(-1) || map.corners.includes(-1) || newPoints(target, map).size > 0
  if (faceCountOf(master) === 0 || !isLacking) return null
  const places = findPlaces(master, target, map)
  const known = faceCountOf(target) - places.newFaces.length
  const remade = known < faceCountOf(target) * FEW_COUNTERPARTS
  const traits = new Set<SurfaceTrait>()
  const hasKnownPoints = (face: number): boolean => {
    for (let corner = target.faceOffsets[face]!; corner < target.faceOffsets[face + 1]!; corner++)
      if (map.points[target.faceVertices[corner]!]! < 0) return false
    return true
  }
  /**
   * Faces that take from the surface: in a part that was only edited not those that stand off it, unless they lie between
   * points that are all known, as where polygons became fewer.
   */
  const onSurface = (face: number): boolean => remade || !places.doubtful[face] || hasKnownPoints(face)
  const agreed = new Map<SurfaceTrait, boolean>()
  const keeps = (trait: SurfaceTrait): boolean => {
    if (remade) return false
    // a comparison each
    if (!agreed.has(trait)) agreed.set(trait, agrees(trait))
    return agreed.get(trait)!
  }
  const taking = new Set<number>()
  let mesh = target

  const byFaces = (trait: SurfaceTrait, keyOf: (face: number) => number): void => {
    const { carry } = TRAIT_DESCRIPTORS[trait]
    if (carry.kind !== 'elements' || !wants(trait) || keeps(trait) || places.newFaces.length === 0) return
    mesh = carry.carry(mesh, master, {
      map: { ...map, faces: facesByShare(places, target, map, keyOf) },
      ontoMaster: false,
      materialOf: (material) => material,
      pointTolerance: () => 0,
    })
    traits.add(trait)
    for (const face of places.newFaces) taking.add(face)
  }
  const { faceMaterials, groups, smoothing } = master
  if (faceMaterials) byFaces('materials', (face) => faceMaterials[face]!)
  if (groups) byFaces('groups', (face) => groups.faceSets[face]!)
  if (smoothing?.kind === 'groups') byFaces('smoothing', (face) => smoothing.faceGroups[face]!)
  if (smoothing?.kind === 'masks') byFaces('smoothing', (face) => smoothing.faceMasks[face]!)

  /**
   * Corners without counterpart that are to take from the surface. What they have of another kind than the master goes
   * from `indices` in any case.
   */
  const cornersFor = (trait: SurfaceTrait, indices: Int32Array): Uint8Array => {
    const wanted = new Uint8Array(indices.length)
    const stays = keeps(trait)
    for (let face = 0; face < faceCountOf(target); face++) {
      const isNew = map.faces[face]! < 0
      for (let corner = target.faceOffsets[face]!; corner < target.faceOffsets[face + 1]!; corner++) {
        if (map.corners[corner]! >= 0 || (stays && indices[corner]! >= 0)) continue
        indices[corner] = -1
        // what is nowhere lies nowhere on the surface
        if (isNew && (Number.isNaN(places.distances[face]) || !onSurface(face))) continue
        wanted[corner] = 1
        if (isNew) taking.add(face)
      }
    }
    return wanted
  }
  let acrossSeams = 0
  if (wants('uvs') && master.uvSets.length) {
    const uvSets = master.uvSets.map((set, at): UvSet => {
      const carried = { ...mesh.uvSets[at]!, indices: mesh.uvSets[at]!.indices.slice() }
      const wanted = cornersFor('uvs', carried.indices)
      if (!wanted.includes(1)) return carried
      traits.add('uvs')
      const done = carryUvsOver(places, target, map, set, carried, wanted)
      if (at === 0) acrossSeams = done.acrossSeams
      return done.set
    })
    mesh = { ...mesh, uvSets }
  }
  let found: PointPlaces | null = null
  const points = (): PointPlaces => (found ??= placesOfPoints(places, target, map))
  /** New points that are to take from the surface: all, or those that have nothing of their own. */
  const pointsFor = (indices: Int32Array): Uint8Array => {
    const wanted = new Uint8Array(map.points.length)
    const stays = keeps('colours')
    for (const point of points().keys()) if (!stays || (indices[point] ?? -1) < 0) wanted[point] = 1
    return wanted
  }
  if (wants('colours') && master.colorSets.length) {
    const colorSets = mesh.colorSets.map((before, at) => {
      const set = master.colorSets[at]!
      const carried = { ...before, indices: before.indices.slice() }
      const wanted =
        set.per === 'corners' ? cornersFor('colours', carried.indices) : pointsFor(carried.indices)
      if (!wanted.includes(1)) return carried
      traits.add('colours')
      return carryColoursOver(places, target, map, carried, set, points(), wanted)
    })
    mesh = { ...mesh, colorSets }
  }
  if (wants('shapes') && (master.skin || master.shapes.length) && points().size) {
    traits.add('shapes')
    const { shapes, skin } = mesh
    mesh = {
      ...mesh,
      skin: skin && master.skin ? carrySkinOver(skin, master.skin, points()) : skin,
      shapes: shapes.map((shape, at) => (master.shapes[at] ? carryShapeOver(shape, master.shapes[at], points()) : shape)), // prettier-ignore
    }
  }
  const lead = (points: ArrayLike<number>, values: ArrayLike<number>): LedEdges =>
    leadEdges(places.moved, target, map.sourcePoints, { points, values })
  let creases: LedCount | null = null
  if (wants('creases') && master.creases) {
    const { edgePoints, edgeSharpness, cornerPoints, cornerSharpness } = master.creases
    const { edges, found: ways, total, pointOf } = lead(edgePoints, edgeSharpness)
    const corners = new Map<number, number>()
    let pointsFound = 0
    cornerPoints.forEach((point, at) => {
      const other = pointOf(point)
      if (other < 0) return
      pointsFound++
      corners.set(other, Math.max(cornerSharpness[at]!, corners.get(other) ?? 0))
    })
    creases = { found: ways + pointsFound, total: total + cornerPoints.length }
    mesh = { ...mesh, creases: { ...pairsOf(edges), cornerPoints: Uint32Array.from(corners.keys()), cornerSharpness: Float64Array.from(corners.values()) } } // prettier-ignore
  }
  let hardEdges: LedCount | null = null
  if (wants('smoothing') && smoothing?.kind === 'edges') {
    const { hardEdgePoints } = smoothing
    const {
      edges,
      found: ways,
      total,
    } = lead(hardEdgePoints, new Uint8Array(hardEdgePoints.length / 2).fill(1))
    hardEdges = { found: ways, total }
    mesh = { ...mesh, smoothing: { kind: 'edges', hardEdgePoints: pairsOf(edges).edgePoints } }
  }
  const taken = [...taking]
  return {
    mesh,
    traits: SURFACE_TRAITS.filter((trait) => traits.has(trait)),
    faces: taken.length,
    doubtful: taken.filter((face) => places.doubtful[face]).length,
    acrossSeams,
    farthest: taken.reduce((most, face) => Math.max(most, places.distances[face]!), 0),
    creases,
    hardEdges,
  }
}

const pairsOf = (edges: LedEdges['edges']): { edgePoints: Uint32Array; edgeSharpness: Float64Array } => ({
  edgePoints: Uint32Array.from([...edges.values()].flatMap(({ a, b }) => [a, b])),
  edgeSharpness: Float64Array.from(edges.values(), ({ value }) => value),
})
