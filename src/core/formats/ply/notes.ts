/**
 * What PLY has no words for, as comments and properties of polygons under plain names: the parts that a file was made of,
 * the names of materials and groups, smoothing groups, and what its UVs are called.
 */
import { bareMaterial } from '../../scene/bare-material.ts'
import type { Material } from '../../scene/material.ts'
import type { FaceGroups, Mesh } from '../../scene/mesh.ts'

export interface PlyNotes {
  readonly parts: readonly { readonly name: string; readonly points: number }[]
  readonly materials: readonly string[]
  readonly groups: readonly string[]
  /** Combinations of groups, by their numbers; the property of a polygon says which. */
  readonly groupSets: readonly (readonly number[])[]
  readonly uvName: string
  /** Paths of images that programs name in comments (common practice). */
  readonly maps: readonly string[]
}

export const UV_NAME = 'uv'

/** A name as one line may hold it. */
export const lineName = (name: string): string => name.replace(/[\r\n]+/g, ' ').trim()

export function notesIn(comments: readonly string[]): PlyNotes {
  const listed = (word: string): string[] =>
    comments.flatMap((comment) => new RegExp(`^${word} (.*)$`).exec(comment)?.[1] ?? [])
  return {
    parts: listed('part').flatMap((text) => {
      const found = /^(\d{1,10}) points (.*)$/.exec(text)
      return found ? [{ points: Number(found[1]), name: found[2]! }] : []
    }),
    materials: listed('material'),
    groups: listed('group'),
    groupSets: listed('groups').map((text) => text.split(' ').map(Number)),
    uvName: listed('uvs')[0] ?? UV_NAME,
    maps: comments.flatMap((comment) => /^texture_?file\s+(.+)$/i.exec(comment)?.[1]?.trim() ?? []),
  }
}

/** Points of a mesh from one to another, and the polygons over them. */
function slice(mesh: Mesh, name: string, from: number, to: number, faces: readonly number[]): Mesh {
  const faceOffsets = new Uint32Array(faces.length + 1)
  for (let at = 0; at < faces.length; at++)
    faceOffsets[at + 1] = faceOffsets[at]! + mesh.faceOffsets[faces[at]! + 1]! - mesh.faceOffsets[faces[at]!]!
  const corners = new Uint32Array(faceOffsets[faces.length]!)
  for (let at = 0, to = 0; at < faces.length; at++)
    for (let corner = mesh.faceOffsets[faces[at]!]!; corner < mesh.faceOffsets[faces[at]! + 1]!; corner++)
      corners[to++] = corner
  /** Values that are still used, in the order they are met in. */
  const indexed = (width: number, values: Float64Array, indices: Int32Array) => {
    const numbers = new Int32Array(values.length / width).fill(-1)
    const used = new Uint32Array(numbers.length)
    const own = new Int32Array(corners.length).fill(-1)
    let count = 0
    for (let at = 0; at < corners.length; at++) {
      const index = indices[corners[at]!]!
      if (index < 0) continue
      if (numbers[index]! < 0) {
        used[count] = index
        numbers[index] = count++
      }
      own[at] = numbers[index]!
    }
    const kept = new Float64Array(width * count)
    for (let place = 0; place < count; place++)
      for (let k = 0; k < width; k++) kept[width * place + k] = values[width * used[place]! + k]!
    return { values: kept, indices: own }
  }
  const onPoints = (width: number, values: Float64Array): Float64Array =>
    values.slice(width * from, width * to)
  return {
    ...mesh,
    name,
    points: onPoints(3, mesh.points),
    faceOffsets,
    faceVertices: corners.map((corner) => mesh.faceVertices[corner]! - from),
    uvSets: mesh.uvSets
      .map((set) => ({ ...set, ...indexed(2, set.values, set.indices) }))
      .filter((set) => set.values.length),
    normals: mesh.normals && indexed(3, mesh.normals.values, mesh.normals.indices),
    colorSets: mesh.colorSets.map((set) =>
      set.per === 'points'
        ? { ...set, values: onPoints(set.components, set.values) }
        : { ...set, ...indexed(set.components, set.values, set.indices) },
    ),
    ...(mesh.layers
      ? {
          layers: mesh.layers.map((own) => ({
            ...own,
            values:
              own.per === 'points'
                ? onPoints(1, own.values)
                : Float64Array.from(faces, (face) => own.values[face]!),
          })),
        }
      : {}),
    lines: null,
  }
}

/**
 * The parts that a mesh was made of, where its notes still fit it; else the mesh as it is.
 * @param byFace a property of polygons by its name; null where the file has none.
 */
export function splitByParts(
  mesh: Mesh,
  { parts, materials, groups, groupSets }: PlyNotes,
  byFace: (property: string) => Int32Array | null,
): { meshes: Mesh[]; materials: Material[] } {
  const faceCount = mesh.faceOffsets.length - 1
  const whole: Mesh = { ...mesh, ...faceNotes(byFace, materials.length, groups, groupSets) }
  const made = materials.map((name) => bareMaterial(name))
  const pointCount = mesh.points.length / 3
  const sum = parts.reduce((all, { points }) => all + points, 0)
  if (parts.length === 0 || sum !== pointCount || mesh.lines) return { meshes: [whole], materials: made }
  const [only] = parts
  if (parts.length === 1) return { meshes: [{ ...whole, name: only!.name }], materials: made }
  const faces = parts.map((): number[] => [])
  const starts = [0]
  for (const { points } of parts) starts.push(starts.at(-1)! + points)
  const partOf = new Uint32Array(pointCount)
  parts.forEach((_part, at) => partOf.fill(at, starts[at]!, starts[at + 1]!))
  for (let face = 0; face < faceCount; face++) {
    const own = partOf[mesh.faceVertices[mesh.faceOffsets[face]!]!]!
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
      // a tool has put them together or numbered them anew
      if (partOf[mesh.faceVertices[corner]!] !== own) return { meshes: [whole], materials: made }
    faces[own]!.push(face)
  }
  const known = new Map<string, Int32Array | null>()
  const once = (property: string): Int32Array | null => {
    if (!known.has(property)) known.set(property, byFace(property))
    return known.get(property)!
  }
  return {
    materials: made,
    meshes: parts.map(({ name }, at) => {
      const part = slice(mesh, name, starts[at]!, starts[at + 1]!, faces[at]!)
      const own = faceNotes(
        (property) => {
          const values = once(property)
          return values && Int32Array.from(faces[at]!, (face) => values[face]!)
        },
        materials.length,
        groups,
        groupSets,
      )
      return { ...part, ...own }
    }),
  }
}

/** Materials, smoothing groups and face groups of polygons. */
function faceNotes(
  byFace: (property: string) => Int32Array | null,
  materialCount: number,
  groups: readonly string[],
  groupSets: readonly (readonly number[])[],
): Pick<Mesh, 'faceMaterials' | 'smoothing' | 'groups'> {
  const material = byFace('material')
  const smoothing = byFace('smoothing')
  const group = byFace('group')
  const isNumbered = (values: Int32Array | null, count: number): values is Int32Array =>
    values !== null && values.every((value) => value >= -1 && value < count)
  return {
    faceMaterials:
      isNumbered(material, materialCount) && material.some((value) => value >= 0) ? material : null,
    smoothing: smoothing ? { kind: 'groups', faceGroups: smoothing } : null,
    groups:
      isNumbered(group, groupSets.length) &&
      group.some((value) => value >= 0) &&
      groupSets.every((set) => set.every((name) => groups[name] !== undefined))
        ? usedGroups(group, groups, groupSets)
        : null,
  }
}

/** Of the file's groups those that a part has polygons in. */
function usedGroups(
  group: Int32Array,
  groups: readonly string[],
  groupSets: readonly (readonly number[])[],
): FaceGroups {
  const rising = (values: Iterable<number>): number[] => [...new Set(values)].sort((a, b) => a - b)
  const sets = rising(group).filter((value) => value >= 0)
  const names = rising(sets.flatMap((set) => [...groupSets[set]!]))
  return {
    names: names.map((name) => groups[name]!),
    sets: sets.map((set) => groupSets[set]!.map((name) => names.indexOf(name))),
    faceSets: group.map((value) => sets.indexOf(value)),
  }
}
