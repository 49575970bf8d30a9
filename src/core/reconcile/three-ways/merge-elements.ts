/** What was changed on both sides of one part, element by element: what only one side touched is that side's. */
import { createUnion } from '../../mesh/relations/adjacency.ts'
import type { Mesh, UvSet } from '../../scene/mesh.ts'
import type { Material } from '../../scene/material.ts'

export type Side = 'there' | 'here'

/** Three meshes of the same polygons and numbering, each with the materials of its scene. */
export interface ThreeMeshes {
  /** What left. */
  readonly base: Mesh
  /** What came back, on the polygons of what left. */
  readonly there: Mesh
  /** The master as it is now. */
  readonly here: Mesh
  readonly materials: Readonly<Record<'base' | Side, readonly Material[]>>
}

export interface MergedElements {
  /** The mesh from there with what was changed here on it. */
  readonly mesh: Mesh
  /** Elements that both sides changed, each its own way. */
  readonly conflicts: number
  /** Materials of the scene there, with those that only the one here has behind them. */
  readonly materials?: readonly Material[]
}

/** @param prefer whose value stands where both sides changed an element. */
export type ElementMerge = (meshes: ThreeMeshes, prefer: Side) => MergedElements | null

/** Rational weights of points; a point without has 1. */
function mergeWeights(
  { base, there, here }: Pick<ThreeMeshes, 'base' | 'there' | 'here'>,
  prefer: Side,
): { readonly values: Float64Array | null; readonly conflicts: number } {
  if (!there.pointWeights && !here.pointWeights) return { values: null, conflicts: 0 }
  const weightOf = (mesh: Mesh, point: number): number => mesh.pointWeights?.[point] ?? 1
  let conflicts = 0
  const values = Float64Array.from({ length: base.points.length / 3 }, (_value, point) => {
    const [was, came, is] = [weightOf(base, point), weightOf(there, point), weightOf(here, point)]
    if (is === was) return came
    const both = came !== was && came !== is
    if (both) conflicts++
    return both && prefer === 'there' ? came : is
  })
  return { values, conflicts }
}

const mergePoints: ElementMerge = ({ base, there, here }, prefer) => {
  const points = there.points.slice()
  let conflicts = 0
  for (let at = 0; at < points.length; at += 3) {
    const differs = (a: Mesh, b: Mesh): boolean =>
      [0, 1, 2].some((axis) => a.points[at + axis] !== b.points[at + axis])
    if (!differs(here, base)) continue
    const both = differs(there, base) && differs(there, here)
    if (both) conflicts++
    if (both && prefer === 'there') continue
    for (let axis = 0; axis < 3; axis++) points[at + axis] = here.points[at + axis]!
  }
  const pointWeights = mergeWeights({ base, there, here }, prefer)
  return {
    mesh: { ...there, points, pointWeights: pointWeights.values },
    conflicts: conflicts + pointWeights.conflicts,
  }
}

const mergeMaterials: ElementMerge = ({ base, there, here, materials }, prefer) => {
  const nameOf = (mesh: Mesh, side: 'base' | Side, face: number): string | null => {
    const material = mesh.faceMaterials?.[face] ?? -1
    return material < 0 ? null : materials[side][material]!.name
  }
  const all = [...materials.there]
  const numberOf = new Map(all.map(({ name }, at) => [name, at]))
  const count = base.faceOffsets.length - 1
  const faceMaterials = there.faceMaterials?.slice() ?? new Int32Array(count).fill(-1)
  let conflicts = 0
  for (let face = 0; face < count; face++) {
    const [was, is, came] = [
      nameOf(base, 'base', face),
      nameOf(here, 'here', face),
      nameOf(there, 'there', face),
    ]
    if (is === was) continue
    const both = came !== was && came !== is
    if (both) conflicts++
    if (both && prefer === 'there') continue
    if (is !== null && !numberOf.has(is))
      numberOf.set(is, all.push(materials.here[here.faceMaterials![face]!]!) - 1)
    faceMaterials[face] = is === null ? -1 : numberOf.get(is)!
  }
  return { mesh: { ...there, faceMaterials }, conflicts, materials: all }
}

const sameUv = (a: UvSet, b: UvSet, corner: number): boolean => {
  const [x, y] = [a.indices[corner]!, b.indices[corner]!]
  if (x < 0 || y < 0) return x < 0 === y < 0
  return (
    a.values[2 * x] === b.values[2 * y] &&
    a.values[2 * x + 1] === b.values[2 * y + 1] &&
    (a.depths?.[x] ?? 0) === (b.depths?.[y] ?? 0)
  )
}
/** Of each value of a set its third coordinate; 0 where the set has none. */
const depthsOf = ({ depths, values }: UvSet): Float64Array => depths ?? new Float64Array(values.length / 2)

/** Island by island of what left: half an island from each side would be torn. */
const mergeUvs: ElementMerge = ({ base, there, here }, prefer) => {
  const names = (mesh: Mesh): string => mesh.uvSets.map(({ name }) => name).join('\n')
  if (names(base) !== names(there) || names(base) !== names(here)) return null
  let conflicts = 0
  const uvSets = base.uvSets.map((set, at): UvSet => {
    const [came, is] = [there.uvSets[at]!, here.uvSets[at]!]
    const { join, rootOf } = createUnion(set.values.length / 2)
    for (let face = 0; face + 1 < base.faceOffsets.length; face++) {
      const first = set.indices[base.faceOffsets[face]!]!
      for (let corner = base.faceOffsets[face]! + 1; corner < base.faceOffsets[face + 1]!; corner++)
        if (first >= 0 && set.indices[corner]! >= 0) join(first, set.indices[corner]!)
    }
    const changed = { there: new Set<number>(), here: new Set<number>() }
    const islandOf = (corner: number): number =>
      set.indices[corner]! < 0 ? -1 : rootOf(set.indices[corner]!)
    for (let corner = 0; corner < set.indices.length; corner++) {
      if (!sameUv(set, came, corner)) changed.there.add(islandOf(corner))
      if (!sameUv(set, is, corner)) changed.here.add(islandOf(corner))
    }
    const other = new Set<number>()
    for (let corner = 0; corner < set.indices.length; corner++)
      if (!sameUv(came, is, corner)) other.add(islandOf(corner))
    for (const island of changed.here)
      if (changed.there.has(island) && other.has(island)) {
        conflicts++
        if (prefer === 'there') changed.here.delete(island)
      }
    const values = new Float64Array(came.values.length + is.values.length)
    values.set(came.values)
    values.set(is.values, came.values.length)
    const indices = came.indices.map((uv, corner) => {
      if (!changed.here.has(islandOf(corner))) return uv
      const own = is.indices[corner]!
      return own < 0 ? -1 : own + came.values.length / 2
    })
    const depths = came.depths || is.depths ? Float64Array.from([...depthsOf(came), ...depthsOf(is)]) : null
    return { ...came, values, indices, depths }
  })
  return { mesh: { ...there, uvSets }, conflicts }
}

/** Traits of which different elements can be changed on both sides and both be right. */
export const ELEMENT_MERGES: Readonly<Partial<Record<string, ElementMerge>>> = {
  points: mergePoints,
  materials: mergeMaterials,
  uvs: mergeUvs,
}
