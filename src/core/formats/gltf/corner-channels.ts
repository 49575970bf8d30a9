/** What corners carry into a file: UVs, colours, normals, tangents, and attributes that a program has named itself. */
import { computeNormals } from '../../mesh/normals/compute-normals.ts'
import { meshTangents } from '../../mesh/normals/mesh-tangents.ts'
import type { CornerNormals, KeptLayer, Mesh, UvSet } from '../../scene/mesh.ts'
import type { GltfWriteOptions } from './options.ts'
import { uvSetName } from './read-corner-values.ts'
import type { CornerChannel, SplitVertices } from './split-vertices.ts'

/** Floats as they are written; what is no number is 0 and counted. */
export function floatsOf(values: ArrayLike<number>, broken: { count: number }): Float32Array {
  const floats = new Float32Array(values.length)
  for (let at = 0; at < values.length; at++) {
    const value = Math.fround(values[at]!)
    // a zero with a sign says nothing more than one without; what is taken from itself is 0 unless it is no number
    if (value - value === 0) floats[at] = value + 0
    else broken.count++
  }
  return floats
}

/** Vectors of length 1; those without a length take the ones that `fallback` gives for their number. */
export function unitVectors(
  values: Float64Array,
  fallback: (index: number) => readonly number[],
): Float32Array {
  const units = new Float32Array(values.length)
  for (let at = 0; at < values.length; at += 3) {
    let [x, y, z] = [values[at]!, values[at + 1]!, values[at + 2]!]
    let length = Math.sqrt(x * x + y * y + z * z)
    // squares of what is very long or short are no numbers any more
    if (!(length > 1e-100 && length < 1e100)) length = Math.hypot(x, y, z)
    // what is shorter than any float is too rough to say a direction
    if (!(length > 1e-38) || !Number.isFinite(length)) {
      ;[x, y, z] = fallback(at / 3) as [number, number, number]
      length = Math.hypot(x, y, z) || 1
    }
    // a length of 1 is left to the last bit
    const by = Math.abs(length - 1) < 1e-6 ? 1 : length
    // a zero with a sign says nothing more than one without
    units[at] = Math.fround(x / by) + 0
    units[at + 1] = Math.fround(y / by) + 0
    units[at + 2] = Math.fround(z / by) + 0
  }
  return units
}

const UP = [0, 1, 0] as const

function isLacking(indices: Int32Array): boolean {
  for (let corner = 0; corner < indices.length; corner++) if (indices[corner]! < 0) return true
  return false
}

/** Normals of every corner; those that a mesh lacks are computed. */
function writtenNormals(mesh: Mesh): { normals: CornerNormals; isComputed: boolean; isMended: boolean } {
  const { normals } = mesh
  if (!normals) return { normals: computeNormals(mesh, null), isComputed: true, isMended: false }
  if (!isLacking(normals.indices)) return { normals, isComputed: false, isMended: false }
  const computed = computeNormals(mesh, null)
  const offset = normals.values.length / 3
  const values = new Float64Array(normals.values.length + computed.values.length)
  values.set(normals.values)
  values.set(computed.values, normals.values.length)
  return {
    normals: {
      values,
      indices: normals.indices.map((index, corner) =>
        index >= 0 ? index : offset + computed.indices[corner]!,
      ),
    },
    isComputed: false,
    isMended: true,
  }
}

/** Tangents with their sign. V runs down in the file and up here, so that the sign is the other one. */
function tangentChannel(
  mesh: Mesh,
  normals: CornerNormals,
  layers: readonly KeptLayer[],
): CornerChannel | null {
  const along = layers.find(({ kind, per }) => kind === 'tangents' && per === 'corners')
  const across = layers.find(({ kind, per }) => kind === 'binormals' && per === 'corners')
  if (!along || along.width < 3) return null
  const cornerCount = mesh.faceVertices.length
  const values = new Float64Array(4 * cornerCount)
  for (let corner = 0; corner < cornerCount; corner++) {
    const t = along.width * (along.indices?.[corner] ?? corner)
    const n = 3 * normals.indices[corner]!
    const [nx, ny, nz] = [normals.values[n]!, normals.values[n + 1]!, normals.values[n + 2]!]
    let [tx, ty, tz] = [along.values[t]!, along.values[t + 1]!, along.values[t + 2]!]
    let length = Math.hypot(tx, ty, tz)
    if (!(length > 0) || !Number.isFinite(length)) {
      // where nothing is known any direction along the surface does
      ;[tx, ty, tz] = Math.abs(nx) < 0.9 ? [0, nz, -ny] : [-nz, 0, nx]
      length = Math.hypot(tx, ty, tz)
      if (!(length > 0)) [tx, ty, tz, length] = [1, 0, 0, 1]
    }
    let sign = 1
    if (across) {
      const b = across.width * (across.indices?.[corner] ?? corner)
      const turn =
        (ny * tz - nz * ty) * across.values[b]! +
        (nz * tx - nx * tz) * across.values[b + 1]! +
        (nx * ty - ny * tx) * across.values[b + 2]!
      sign = turn < 0 ? 1 : -1
    }
    values.set([tx / length, ty / length, tz / length, sign], 4 * corner)
  }
  return {
    semantic: 'TANGENT',
    width: 4,
    values: Float32Array.from(values),
    indices: Uint32Array.from({ length: cornerCount }, (_none, corner) => corner),
  }
}

export interface Channels {
  readonly list: readonly CornerChannel[]
  /** For each face the sets that all its corners have, a bit each; by the place in `masked`. */
  readonly faceMasks: Uint32Array
  readonly masked: readonly string[]
  readonly notes: Record<string, unknown>
}

export function channelsOf(
  mesh: Mesh,
  tangentSet: UvSet | null,
  settings: GltfWriteOptions,
  lost: Set<string>,
  broken: { count: number },
): Channels {
  const list: CornerChannel[] = []
  const masked: string[] = []
  const notes: Record<string, unknown> = {}
  const faceCount = mesh.faceOffsets.length - 1
  const faceMasks = new Uint32Array(faceCount)
  const mask = (semantic: string, indices: ArrayLike<number>): void => {
    const bit = masked.push(semantic) - 1
    for (let face = 0; face < faceCount; face++) {
      let has = 0
      const size = mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]!
      for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
        if (indices[corner]! >= 0) has++
      if (has === size) faceMasks[face]! |= 1 << bit
      else if (has > 0) lost.add('UVs and colours of polygons that have them on some corners alone')
    }
  }
  if (settings.uvs)
    mesh.uvSets.forEach((set, number) => {
      if (number >= 12) {
        lost.add('more than 12 UV sets')
        return
      }
      const values = floatsOf(set.values, broken)
      // what is written is V as it runs down
      for (let at = 1; at < values.length; at += 2) values[at] = Math.fround(1 - set.values[at]!) || 0
      list.push({ semantic: `TEXCOORD_${number}`, width: 2, values, indices: set.indices })
      mask(`TEXCOORD_${number}`, set.indices)
      if (set.depths) lost.add('third UV coordinates')
    })
  if (settings.uvs && mesh.uvSets.some(({ name }, number) => name !== uvSetName(number)))
    notes.uvSetNames = mesh.uvSets.map(({ name }) => name)
  if (settings.colors) {
    mesh.colorSets.forEach((set, number) => {
      if (number >= 8) {
        lost.add('more than 8 sets of vertex colours')
        return
      }
      const indices = set.per === 'points' ? mesh.faceVertices : set.indices
      const semantic = `COLOR_${number}`
      const values = floatsOf(set.values, broken)
      if (values.some((value) => value < 0 || value > 1)) {
        lost.add('vertex colours beyond 0 and 1; they are the nearest of these in it')
        for (let at = 0; at < values.length; at++) values[at] = Math.max(0, Math.min(1, values[at]!))
      }
      list.push({ semantic, width: set.components, values, indices })
      mask(semantic, indices)
    })
    if (mesh.colorSets.length) notes.colorSetNames = mesh.colorSets.map(({ name }) => name)
  }
  if (settings.normals && faceCount > 0) {
    const { normals, isComputed, isMended } = writtenNormals(mesh)
    if (isMended) lost.add('which corners have no normals of their own')
    if (isComputed) notes.normals = 'computed'
    if (isComputed && mesh.layers?.some(({ kind }) => kind === 'tangents')) lost.add('tangents without normals') // prettier-ignore
    list.push({
      semantic: 'NORMAL',
      width: 3,
      values: unitVectors(normals.values, () => UP),
      indices: normals.indices,
    })
    const own = isComputed ? null : (mesh.layers ?? null)
    const hasOwn = own?.some(({ kind }) => kind === 'tangents') === true
    const computes = settings.uvs && tangentSet !== null && (settings.tangents || !hasOwn)
    const layers = computes ? meshTangents(mesh, tangentSet, undefined, normals) : own
    const tangents = layers && tangentChannel(mesh, normals, layers)
    if (tangents) list.push(tangents)
    if (computes) notes.tangents = 'computed'
  }
  for (const layer of mesh.layers ?? []) {
    if (!layer.kind.startsWith('_') || layer.width > 4 || layer.per === 'edges' || layer.per === 'all') {
      if (!['tangents', 'binormals'].includes(layer.kind))
        lost.add(`the values “${layer.kind}” that its file has beside the mesh`)
      continue
    }
    const cornerFaces = layer.per === 'faces' ? cornerFacesOf(mesh) : null
    const element = (corner: number): number =>
      layer.per === 'corners'
        ? corner
        : layer.per === 'points'
          ? mesh.faceVertices[corner]!
          : cornerFaces![corner]!
    const indices = Int32Array.from(
      { length: mesh.faceVertices.length },
      (_none, corner) => layer.indices?.[element(corner)] ?? element(corner),
    )
    list.push({ semantic: layer.kind, width: layer.width, values: floatsOf(layer.values, broken), indices })
    mask(layer.kind, indices)
  }
  return { list, faceMasks, masked, notes }
}

function cornerFacesOf({ faceOffsets, faceVertices }: Mesh): Uint32Array {
  const faces = new Uint32Array(faceVertices.length)
  for (let face = 0; face + 1 < faceOffsets.length; face++)
    faces.fill(face, faceOffsets[face]!, faceOffsets[face + 1]!)
  return faces
}

/**
 * The UV set that tangents are of: that of the first map of normals on the mesh, which asks for them; the first set where
 * the artist does; else none.
 * @param normalSets by materials with such maps, the name of the set that they lie on; empty: the first.
 */
export function tangentSetOf(
  { uvSets, faceMaterials }: Mesh,
  normalSets: ReadonlyMap<number, string>,
  isAsked: boolean,
): UvSet | null {
  const used = new Set(faceMaterials ?? [])
  for (const [material, name] of normalSets)
    if (used.has(material)) return uvSets.find((set) => set.name === name) ?? uvSets[0] ?? null
  return isAsked ? (uvSets[0] ?? null) : null
}

/** Vertices that no polygon has still need normals and tangents of length 1. */
export function mendUnused({ values }: SplitVertices): void {
  const normals = values.get('NORMAL')
  for (let at = 0; normals && at < normals.length; at += 3)
    if (normals[at] === 0 && normals[at + 1] === 0 && normals[at + 2] === 0) normals.set(UP, at)
  const tangents = values.get('TANGENT')
  for (let at = 0; tangents && at < tangents.length; at += 4)
    if (tangents[at + 3] === 0) tangents.set([1, 0, 0, 1], at)
}
