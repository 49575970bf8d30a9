/**
 * Carries one trait from a source mesh onto a target mesh along a correspondence. Elements of the target
 * that have no counterpart keep what the target has.
 */
import type { Correspondence } from '../compare/match/correspondence.ts'
import {
  cornerCountOf,
  faceCountOf,
  pointCountOf,
  type BlendShape,
  type ColorSet,
  type CornerNormals,
  type FaceGroups,
  type Mesh,
  type Skin,
  type UvSet,
} from '../scene/mesh.ts'
import { edgeKey } from '../mesh/relations/adjacency.ts'
import { pairSets } from '../compare/pair-sets.ts'

/** Target element to source element, -1 for none. */
export interface CarryMap {
  readonly points: Int32Array
  /** Source point to target point; points that one side has welded share one. */
  readonly sourcePoints: Int32Array
  readonly faces: Int32Array
  readonly corners: Int32Array
}

/** Master's elements whose counterparts each returned element is: the last of them, -1 for none. */
function invert(map: Int32Array, length: number): Int32Array {
  const inverse = new Int32Array(length).fill(-1)
  for (let index = 0; index < map.length; index++) if (map[index]! >= 0) inverse[map[index]!] = index
  return inverse
}

export const forwardMap = (correspondence: Correspondence, returned: Mesh): CarryMap => ({
  points: correspondence.pointToReturned,
  sourcePoints: invert(correspondence.pointToReturned, pointCountOf(returned)),
  faces: correspondence.faceToReturned,
  corners: correspondence.cornerToReturned,
})

export function backwardMap(correspondence: Correspondence, returned: Mesh): CarryMap {
  const { pieceToMaster } = correspondence
  const faces = invert(correspondence.faceToReturned, faceCountOf(returned))
  return {
    points: invert(correspondence.pointToReturned, pointCountOf(returned)),
    sourcePoints: correspondence.pointToReturned,
    faces: pieceToMaster ? faces.map((face, piece) => (face < 0 ? pieceToMaster[piece]! : face)) : faces,
    corners: invert(correspondence.cornerToReturned, cornerCountOf(returned)),
  }
}

/** @param tolerance points that lie closer to the source's keep the target's exact numbers. */
export function carryPoints(target: Mesh, source: Mesh, map: CarryMap, tolerance: number): Mesh {
  const points = target.points.slice()
  for (let point = 0; point < map.points.length; point++) {
    const from = map.points[point]!
    if (from < 0) continue
    const dx = source.points[3 * from]! - points[3 * point]!
    const dy = source.points[3 * from + 1]! - points[3 * point + 1]!
    const dz = source.points[3 * from + 2]! - points[3 * point + 2]!
    if (Math.sqrt(dx * dx + dy * dy + dz * dz) <= tolerance) continue
    points[3 * point] = source.points[3 * from]!
    points[3 * point + 1] = source.points[3 * from + 1]!
    points[3 * point + 2] = source.points[3 * from + 2]!
  }
  return { ...target, points }
}

/** Values per corner by index: the source's values first, then those of target corners without counterpart. */
function carryIndexed(
  target: { values: Float64Array; indices: Int32Array } | null,
  source: { values: Float64Array; indices: Int32Array },
  corners: Int32Array,
  width: number,
): { values: Float64Array; indices: Int32Array } {
  const indices = new Int32Array(corners.length).fill(-1)
  const extra: number[] = []
  const extraOf = new Map<number, number>()
  const sourceCount = source.values.length / width
  for (let corner = 0; corner < corners.length; corner++) {
    const from = corners[corner]!
    if (from >= 0) indices[corner] = source.indices[from]!
    else if (target && target.indices[corner]! >= 0) {
      const old = target.indices[corner]!
      let index = extraOf.get(old)
      if (index === undefined) {
        index = sourceCount + extra.length / width
        extraOf.set(old, index)
        for (let part = 0; part < width; part++) extra.push(target.values[old * width + part]!)
      }
      indices[corner] = index
    }
  }
  if (extra.length === 0) return { values: source.values, indices }
  const values = new Float64Array(source.values.length + extra.length)
  values.set(source.values)
  values.set(extra, source.values.length)
  return { values, indices }
}

/**
 * Sets of a kind, paired as they are compared, under the master's names. Onto the master: what came back for a
 * set, sets that came back new, and those that nothing came back for, since taking one set is no reason to lose
 * another. Onto the returned mesh: the master's sets alone, since nothing of theirs is taken.
 */
function carrySets<Named extends { readonly name: string }>(
  target: readonly Named[],
  source: readonly Named[],
  ontoMaster: boolean,
  carry: (own: Named | null, set: Named) => Named,
): Named[] {
  if (!ontoMaster)
    return pairSets(source, target).pairs.map(({ from, to }) => ({ ...carry(to, from), name: from.name }))
  const { pairs, gained } = pairSets(target, source)
  return [
    ...pairs.map(({ from, to }) => (to ? { ...carry(from, to), name: from.name } : from)),
    ...gained.map((set) => carry(null, set)),
  ]
}

export function carryUvs(target: Mesh, source: Mesh, map: CarryMap, ontoMaster: boolean): Mesh {
  const uvSets = carrySets(target.uvSets, source.uvSets, ontoMaster, (own, set): UvSet => {
    const carried = carryIndexed(own, set, map.corners, 2)
    const complete = carried.values.length === set.values.length
    return { name: set.name, ...carried, depths: complete ? set.depths : null }
  })
  // nothing came back at all: that is what was asked for
  return { ...target, uvSets: ontoMaster && source.uvSets.length === 0 ? [] : uvSets }
}

export function carryNormals(target: Mesh, source: Mesh, map: CarryMap): Mesh {
  const normals: CornerNormals | null = source.normals
    ? carryIndexed(target.normals, source.normals, map.corners, 3)
    : null
  return { ...target, normals }
}

export function carrySmoothing(target: Mesh, source: Mesh, map: CarryMap): Mesh {
  const from = source.smoothing
  const own = target.smoothing
  if (!from) return { ...target, smoothing: null }
  if (from.kind === 'groups') {
    const faceGroups = Int32Array.from(map.faces, (face, index) =>
      face >= 0 ? from.faceGroups[face]! : own?.kind === 'groups' ? own.faceGroups[index]! : 0,
    )
    return { ...target, smoothing: { kind: 'groups', faceGroups } }
  }
  if (from.kind === 'masks') {
    const faceMasks = Uint32Array.from(map.faces, (face, index) =>
      face >= 0 ? from.faceMasks[face]! : own?.kind === 'masks' ? own.faceMasks[index]! : 0,
    )
    return { ...target, smoothing: { kind: 'masks', faceMasks } }
  }
  const hard: number[] = []
  for (let at = 0; at < from.hardEdgePoints.length; at += 2) {
    const a = map.sourcePoints[from.hardEdgePoints[at]!]!
    const b = map.sourcePoints[from.hardEdgePoints[at + 1]!]!
    if (a >= 0 && b >= 0) hard.push(a, b)
  }
  return { ...target, smoothing: { kind: 'edges', hardEdgePoints: Uint32Array.from(hard) } }
}

export function carryCreases(target: Mesh, source: Mesh, map: CarryMap): Mesh {
  const from = source.creases
  if (!from) return { ...target, creases: null, subdivision: source.subdivision }
  // edges and corners that come together where points were welded are one, with the greater sharpness
  const sharper = <Key>(map: Map<Key, number>, key: Key, sharpness: number): unknown =>
    map.set(key, Math.max(sharpness, map.get(key) ?? 0))
  const edges = new Map<number, number>()
  const ends = new Map<number, readonly [number, number]>()
  from.edgeSharpness.forEach((sharpness, edge) => {
    const a = map.sourcePoints[from.edgePoints[2 * edge]!]!
    const b = map.sourcePoints[from.edgePoints[2 * edge + 1]!]!
    if (a < 0 || b < 0 || a === b) return
    const key = edgeKey(a, b)
    if (!ends.has(key)) ends.set(key, [a, b])
    sharper(edges, key, sharpness)
  })
  const corners = new Map<number, number>()
  from.cornerSharpness.forEach((sharpness, corner) => {
    const point = map.sourcePoints[from.cornerPoints[corner]!]!
    if (point >= 0) sharper(corners, point, sharpness)
  })
  return {
    ...target,
    subdivision: source.subdivision,
    creases: {
      edgePoints: Uint32Array.from([...ends.values()].flat()),
      edgeSharpness: Float64Array.from(edges.values()),
      cornerPoints: Uint32Array.from(corners.keys()),
      cornerSharpness: Float64Array.from(corners.values()),
    },
  }
}

/** @param materialOf source material index to the index in the target's scene. */
export function carryMaterials(
  target: Mesh,
  source: Mesh,
  map: CarryMap,
  materialOf: (material: number) => number,
): Mesh {
  const from = source.faceMaterials
  const own = target.faceMaterials
  const faceMaterials = Int32Array.from(map.faces, (face, index) => {
    if (face < 0) return own ? own[index]! : -1
    const material = from ? from[face]! : -1
    return material < 0 ? -1 : materialOf(material)
  })
  return { ...target, faceMaterials: faceMaterials.some((material) => material >= 0) ? faceMaterials : null }
}

export function carryGroups(target: Mesh, source: Mesh, map: CarryMap): Mesh {
  const names: string[] = []
  const sets: number[][] = []
  const setIds = new Map<string, number>()
  const intern = (groups: FaceGroups | null, set: number): number => {
    if (!groups || set < 0) return -1
    const words = groups.sets[set]!.map((name) => groups.names[name]!)
    const key = JSON.stringify(words)
    let id = setIds.get(key)
    if (id === undefined) {
      id = sets.length
      setIds.set(key, id)
      sets.push(
        words.map((word) => {
          if (!names.includes(word)) names.push(word)
          return names.indexOf(word)
        }),
      )
    }
    return id
  }
  const faceSets = Int32Array.from(map.faces, (face, index) =>
    face >= 0
      ? intern(source.groups, source.groups ? source.groups.faceSets[face]! : -1)
      : intern(target.groups, target.groups ? target.groups.faceSets[index]! : -1),
  )
  return { ...target, groups: sets.length ? { names, sets, faceSets } : null }
}

export function carryColours(target: Mesh, source: Mesh, map: CarryMap, ontoMaster: boolean): Mesh {
  const all = (of: ColorSet): Int32Array =>
    of.indices.length
      ? of.indices
      : Int32Array.from({ length: of.values.length / of.components }, (_value, index) => index)
  const colorSets = carrySets(target.colorSets, source.colorSets, ontoMaster, (own, set): ColorSet => {
    const usable = own && own.per === set.per && own.components === set.components ? own : null
    const carried = carryIndexed(
      usable && { values: usable.values, indices: all(usable) },
      { values: set.values, indices: all(set) },
      set.per === 'points' ? map.points : map.corners,
      set.components,
    )
    return { name: set.name, components: set.components, per: set.per, ...carried }
  })
  return { ...target, colorSets: ontoMaster && source.colorSets.length === 0 ? [] : colorSets }
}

/** Blend shapes and skin, whose joints must be those of the target's scene already. */
export function carryShapes(target: Mesh, source: Mesh, map: CarryMap): Mesh {
  const shapes = source.shapes.map((shape): BlendShape => {
    const placeOf = new Map<number, number>()
    shape.points.forEach((point, at) => placeOf.set(point, at))
    const points: number[] = []
    const offsets: number[] = []
    map.points.forEach((from, point) => {
      const place = from < 0 ? undefined : placeOf.get(from)
      if (place === undefined) return
      points.push(point)
      offsets.push(...shape.offsets.subarray(3 * place, 3 * place + 3))
    })
    return { ...shape, points: Uint32Array.from(points), offsets: Float64Array.from(offsets), normals: null }
  })
  return { ...target, shapes, skin: source.skin && carrySkin(source.skin, map) }
}

/** Points without counterpart are moved by no joint. */
function carrySkin(skin: Skin, map: CarryMap): Skin {
  const offsets = new Uint32Array(map.points.length + 1)
  const joints: number[] = []
  const weights: number[] = []
  map.points.forEach((from, point) => {
    if (from >= 0)
      for (let at = skin.offsets[from]!; at < skin.offsets[from + 1]!; at++) {
        joints.push(skin.joints[at]!)
        weights.push(skin.weights[at]!)
      }
    offsets[point + 1] = joints.length
  })
  return { ...skin, offsets, joints: Uint32Array.from(joints), weights: Float64Array.from(weights) }
}
