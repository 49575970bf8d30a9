/** Meshes with what stands on their points, sides and polygons. Source: OpenUSD, UsdGeomMesh, UsdGeomPrimvar, UsdGeomSubset. */
import type { MessageCollector } from '../../base/messages/collector.ts'
import {
  EMPTY_MESH,
  type ColorSet,
  type CornerNormals,
  type Creases,
  type FaceGroups,
  type KeptLayer,
  type Mesh,
  type Subdivision,
  type UvSet,
} from '../../scene/mesh.ts'
import { readNotes } from '../notes/mesh-notes.ts'
import { listOf, textOf } from '../notes/json.ts'
import type { StagePrim } from './compose.ts'
import { widthOf, type UsdProperty } from './layer.ts'
import { notesIn } from './prim-notes.ts'
import { numbersIn, textIn, valueOf } from './read-transform.ts'

/** How values stand on a mesh. */
type Per = 'constant' | 'uniform' | 'vertex' | 'faceVarying'

/** Polygons that were taken, with where each of their corners stands in the file. */
interface Faces {
  readonly offsets: Uint32Array
  readonly vertices: Uint32Array
  /** Each polygon’s number in the file. */
  readonly faces: Uint32Array
  /** Each corner’s number in the file. */
  readonly corners: Uint32Array
  readonly all: number
  readonly allCorners: number
  /** Each polygon’s place here by its number in the file; -1 for one that was left out. */
  readonly placeOf: Int32Array
}

function readFaces(prim: StagePrim, pointCount: number, messages: MessageCollector): Faces {
  const counts = numbersIn(prim, 'faceVertexCounts') ?? new Float64Array(0)
  const indices = numbersIn(prim, 'faceVertexIndices') ?? new Float64Array(0)
  const isTurned = textIn(prim, 'orientation') === 'leftHanded'
  const offsets = [0]
  const vertices = new Uint32Array(indices.length)
  const corners = new Uint32Array(indices.length)
  const faces: number[] = []
  const placeOf = new Int32Array(counts.length).fill(-1)
  let used = 0
  let at = 0
  for (let face = 0; face < counts.length; face++) {
    const count = counts[face]!
    if (!(count >= 0) || at + count > indices.length || !Number.isInteger(count)) {
      messages.add('usd.part', {
        place: `What follows polygon ${face} of “${prim.name}”`,
        why: 'the file has no corners for it',
      })
      break
    }
    const from = at
    at += count
    if (count < 3) {
      messages.add('usd.short-face', { name: prim.name, corners: count })
      continue
    }
    let bad: number | null = null
    for (let corner = from; corner < at; corner++) {
      const point = indices[corner]!
      if (!(point >= 0 && point < pointCount)) bad = point
    }
    if (bad !== null) {
      messages.add('usd.index-out-of-range', { name: prim.name, value: bad, available: pointCount })
      continue
    }
    placeOf[face] = faces.length
    faces.push(face)
    for (let k = 0; k < count; k++) {
      // the first corner stays the first
      const corner = isTurned && k > 0 ? at - k : from + k
      vertices[used] = indices[corner]!
      corners[used++] = corner
    }
    offsets.push(used)
  }
  return {
    offsets: Uint32Array.from(offsets),
    vertices: vertices.slice(0, used),
    faces: Uint32Array.from(faces),
    corners: corners.slice(0, used),
    all: counts.length,
    allCorners: indices.length,
    placeOf,
  }
}

const perOf = (property: UsdProperty, standard: Per): Per => {
  const stated = property.metadata.get('interpolation')
  if (stated === 'varying') return 'vertex'
  return (['constant', 'uniform', 'vertex', 'faceVarying'] as const).find((per) => per === stated) ?? standard
}

/** Values of a primvar, with one of them a corner. */
interface Spread {
  readonly values: Float64Array
  /** A corner each; -1 where it has none. */
  readonly indices: Int32Array
  readonly per: Per
  readonly isIndexed: boolean
}

/** @returns null where there is nothing, or it doesn’t fit, which is told. */
function spread(
  prim: StagePrim,
  name: string,
  width: number,
  standard: Per,
  faces: Faces,
  pointCount: number,
  messages: MessageCollector,
): Spread | null {
  const property = prim.properties.get(name)
  const values = valueOf(property)
  if (!property || !(values instanceof Float64Array) || values.length < width) return null
  const per = perOf(property, standard)
  const count = Math.floor(values.length / width)
  const stated = numbersIn(prim, `${name}:indices`)
  const elements = { constant: 1, uniform: faces.all, vertex: pointCount, faceVarying: faces.allCorners }[per]
  const found = stated ? stated.length : count
  if (found < elements) {
    messages.add('usd.values', {
      name: prim.name,
      what: `“${name.replace('primvars:', '')}”`,
      found,
      wanted: elements,
    })
    return null
  }
  const none = property.metadata.get('unauthoredValuesIndex')
  const indices = new Int32Array(faces.corners.length)
  let bad = 0
  for (let face = 0; face + 1 < faces.offsets.length; face++)
    for (let corner = faces.offsets[face]!; corner < faces.offsets[face + 1]!; corner++) {
      const element =
        per === 'constant'
          ? 0
          : per === 'uniform'
            ? faces.faces[face]!
            : per === 'vertex'
              ? faces.vertices[corner]!
              : faces.corners[corner]!
      const index = stated ? stated[element]! : element
      const isHeld = index >= 0 && index < count
      if (!isHeld && index !== -1) bad++
      indices[corner] = isHeld && index !== none ? index : -1
    }
  if (bad > 0)
    messages.add('usd.values', {
      name: prim.name,
      what: `“${name.replace('primvars:', '')}” of ${bad} corners`,
      found: count,
      wanted: 'more',
    })
  // the value that stands for none is no value of its own
  const own = none === count - 1 ? count - 1 : count
  const used = values.length === own * width ? values : values.slice(0, own * width)
  return { values: used, indices, per, isIndexed: stated !== null }
}

/** Values that stand once a corner: those of a point that are the same are one, so that what is whole stays whole. */
function shared(
  { values, indices }: Spread,
  width: number,
  faces: Faces,
): { values: Float64Array; indices: Int32Array } {
  // prettier-ignore
  const heads = new Map<number, number[]>()
  const kept: number[] = []
  const own = new Int32Array(indices.length)
  for (let corner = 0; corner < indices.length; corner++) {
    const index = indices[corner]!
    if (index < 0) {
      own[corner] = -1
      continue
    }
    const point = faces.vertices[corner]!
    const list = heads.get(point)
    let found = -1
    for (const candidate of list ?? []) {
      let isSame = true
      for (let k = 0; k < width; k++)
        if (!Object.is(values[kept[candidate]! * width + k], values[index * width + k])) isSame = false
      if (isSame) {
        found = candidate
        break
      }
    }
    if (found < 0) {
      found = kept.push(index) - 1
      if (list) list.push(found)
      else heads.set(point, [found])
    }
    own[corner] = found
  }
  const packed = new Float64Array(kept.length * width)
  kept.forEach((index, at) => packed.set(values.subarray(index * width, (index + 1) * width), at * width))
  return { values: packed, indices: own }
}

const ofCorners = (
  read: Spread,
  width: number,
  faces: Faces,
): { values: Float64Array; indices: Int32Array } =>
  read.per === 'faceVarying' && !read.isIndexed
    ? shared(read, width, faces)
    : { values: read.values, indices: read.indices }

function readCreases(prim: StagePrim, pointCount: number, messages: MessageCollector): Creases | null {
  const indices = numbersIn(prim, 'creaseIndices') ?? new Float64Array(0)
  const lengths = numbersIn(prim, 'creaseLengths') ?? new Float64Array(0)
  const sharpness = numbersIn(prim, 'creaseSharpnesses') ?? new Float64Array(0)
  const cornerIndices = numbersIn(prim, 'cornerIndices') ?? new Float64Array(0)
  const cornerSharpness = numbersIn(prim, 'cornerSharpnesses') ?? new Float64Array(0)
  const isPoint = (point: number | undefined): boolean =>
    point !== undefined && point >= 0 && point < pointCount && Number.isInteger(point)
  const edges: number[] = []
  const edgeSharpness: number[] = []
  // one for each chain, or one for each of its edges
  const byChain = sharpness.length === lengths.length
  let left = 0
  let at = 0
  let edge = 0
  lengths.forEach((length, chain) => {
    for (let k = 0; k + 1 < length; k++, edge++) {
      const [a, b] = [indices[at + k], indices[at + k + 1]]
      const value = sharpness[byChain ? chain : edge]
      if (!isPoint(a) || !isPoint(b) || value === undefined) left++
      else {
        edges.push(a!, b!)
        edgeSharpness.push(value)
      }
    }
    at += length
  })
  const corners: number[] = []
  const ofCorner: number[] = []
  cornerIndices.forEach((point, index) => {
    const value = cornerSharpness[cornerSharpness.length === 1 ? 0 : index]
    if (!isPoint(point) || value === undefined) left++
    else {
      corners.push(point)
      ofCorner.push(value)
    }
  })
  if (left > 0)
    messages.add('usd.values', {
      name: prim.name,
      what: `${left} of its creases`,
      found: edgeSharpness.length + corners.length,
      wanted: edgeSharpness.length + corners.length + left,
    })
  if (edges.length + corners.length === 0) return null
  return {
    edgePoints: Uint32Array.from(edges),
    edgeSharpness: Float64Array.from(edgeSharpness),
    cornerPoints: Uint32Array.from(corners),
    cornerSharpness: Float64Array.from(ofCorner),
  }
}

const SCHEMES: Readonly<Record<string, 'catmull-clark' | 'loop' | 'bilinear' | undefined>> = {
  catmullClark: 'catmull-clark',
  loop: 'loop',
  bilinear: 'bilinear',
}

function readSubdivision(prim: StagePrim): Subdivision {
  const stated = textIn(prim, 'subdivisionScheme')
  // what a file doesn’t say is Catmull-Clark, as the schema has it
  const scheme = stated === '' ? 'catmull-clark' : SCHEMES[stated]
  if (scheme === undefined) return { scheme: 'none', levels: 0 }
  const boundary = textIn(prim, 'interpolateBoundary')
  return {
    scheme,
    levels: 0,
    ...(boundary === 'edgeOnly' ? { boundary: 'edge-only' as const } : {}),
    ...(boundary === 'edgeAndCorner' ? { boundary: 'edge-and-corner' as const } : {}),
  }
}

/** What a prim is called where people read it. */
export const nameOf = (prim: StagePrim): string => {
  const shown = prim.metadata.get('displayName')
  return typeof shown === 'string' ? shown : prim.name
}

export interface Subsets {
  readonly groups: FaceGroups | null
  /** Polygons by the subset prims that materials are bound to. */
  readonly bound: readonly { readonly prim: StagePrim; readonly faces: readonly number[] }[]
}

/** @param isBound whether a subset has a material of its own. */
function readSubsets(prim: StagePrim, faces: Faces, isBound: (subset: StagePrim) => boolean): Subsets {
  const bound: { prim: StagePrim; faces: number[] }[] = []
  const names: string[] = []
  const namesOf = new Map<number, number[]>()
  for (const child of prim.children) {
    if (child.type !== 'GeomSubset') continue
    const kind = textIn(child, 'elementType') || 'face'
    if (kind !== 'face') continue
    const own = [...(numbersIn(child, 'indices') ?? [])].flatMap((face) => {
      const place = faces.placeOf[face] ?? -1
      return place < 0 ? [] : [place]
    })
    if (isBound(child)) bound.push({ prim: child, faces: own })
    if (isBound(child) && textIn(child, 'familyName') === 'materialBind') continue
    const name = names.push(nameOf(child)) - 1
    for (const face of own) {
      const list = namesOf.get(face)
      if (list) list.push(name)
      else namesOf.set(face, [name])
    }
  }
  if (names.length === 0) return { groups: null, bound }
  const sets: number[][] = []
  const numbers = new Map<string, number>()
  const faceSets = new Int32Array(faces.faces.length).fill(-1)
  for (const [face, list] of namesOf) {
    const key = list.join()
    if (!numbers.has(key)) numbers.set(key, sets.push(list) - 1)
    faceSets[face] = numbers.get(key)!
  }
  return { groups: { names, sets, faceSets }, bound }
}

const UV_TYPES = /^(?:texCoord[23][fdh]|(?:float|double|half)2)\[\]$/
const COLOR_TYPES = /^color([34])[fdh]\[\]$/
/** Attributes of a mesh that this reader understands. */
export const MESH_PROPERTIES: ReadonlySet<string> = new Set([
  'points',
  'faceVertexCounts',
  'faceVertexIndices',
  'normals',
  'orientation',
  'subdivisionScheme',
  'interpolateBoundary',
  'creaseIndices',
  'creaseLengths',
  'creaseSharpnesses',
  'cornerIndices',
  'cornerSharpnesses',
  'holeIndices',
  // worked out anew from the points
  'extent',
  'velocities',
  'accelerations',
])

export interface ReadMesh {
  readonly mesh: Mesh
  readonly subsets: Subsets
  /** Names of the sets of UVs by what the file calls them; the first set has none, since it is what maps lie on. */
  readonly uvNames: ReadonlyMap<string, string>
}

/** @returns null where it has no points, which is told. */
export function readMesh(
  prim: StagePrim,
  isBound: (subset: StagePrim) => boolean,
  messages: MessageCollector,
): ReadMesh | null {
  const stated = numbersIn(prim, 'points')
  const name = nameOf(prim)
  if (!stated || stated.length < 3) {
    messages.add('usd.part', { place: `The mesh “${name}”`, why: 'it has no points' })
    return null
  }
  const pointCount = Math.floor(stated.length / 3)
  const points = stated.length === 3 * pointCount ? stated : stated.slice(0, 3 * pointCount)
  const faces = readFaces(prim, pointCount, messages)
  const notes = notesIn(prim)
  const spreadOf = (own: string, width: number, standard: Per): Spread | null =>
    spread(prim, own, width, standard, faces, pointCount, messages)

  const uvSets: UvSet[] = []
  const colorSets: ColorSet[] = []
  const layers: KeptLayer[] = []
  const setNames = listOf(notes?.uvSetNames).map(textOf)
  const uvNames = new Map<string, string>()
  const colorNames = listOf(notes?.colorSetNames).map(textOf)
  for (const [key, property] of prim.properties) {
    if (!key.startsWith('primvars:') || key.endsWith(':indices') || key.startsWith('primvars:skel:')) continue
    const own = key.slice('primvars:'.length)
    if (own === 'normals' || own === 'displayOpacity') continue
    const elements = property.metadata.get('elementSize')
    const width = widthOf(property.type) * (typeof elements === 'number' && elements > 0 ? elements : 1)
    if (UV_TYPES.test(property.type) && (width === 2 || width === 3)) {
      const read = spreadOf(key, width, 'constant')
      if (!read || read.per === 'constant') continue
      const { values, indices } = ofCorners(read, width, faces)
      if (indices.every((index) => index < 0)) continue
      const count = values.length / width
      const flat = width === 2 ? values : new Float64Array(2 * count)
      const depths = width === 3 ? new Float64Array(count) : null
      if (depths)
        for (let at = 0; at < count; at++) {
          flat[2 * at] = values[3 * at]!
          flat[2 * at + 1] = values[3 * at + 1]!
          depths[at] = values[3 * at + 2]!
        }
      const shown = setNames[uvSets.length] || own
      uvNames.set(own, uvSets.length === 0 ? '' : shown)
      uvSets.push({
        name: shown,
        values: flat,
        indices,
        depths: depths?.some((depth) => depth !== 0) ? depths : null,
      })
      continue
    }
    const components = Number(COLOR_TYPES.exec(property.type)?.[1] ?? 0)
    if (components) {
      const set = readColors(own, components as 3 | 4, colorNames[colorSets.length] || own)
      if (set) colorSets.push(set)
      continue
    }
    const read = property.value instanceof Float64Array ? spreadOf(key, width, 'constant') : null
    if (read)
      layers.push({
        kind: property.type,
        name: key,
        per: read.per === 'constant' ? 'all' : 'corners',
        width,
        values: read.values,
        indices: read.per === 'constant' ? null : read.indices,
        edgePoints: null,
        whole: /^u?int/.test(property.type),
      })
  }
  function readColors(own: string, components: 3 | 4, shown: string): ColorSet | null {
    const read = spreadOf(`primvars:${own}`, components, 'constant')
    // one colour for the whole is no colour of points; the part's own property keeps it
    if (!read || (read.per === 'constant' && components === 3)) return null
    const opacity = own === 'displayColor' ? spreadOf('primvars:displayOpacity', 1, 'constant') : null
    const isPlain = read.per === 'vertex' && !read.isIndexed
    if (opacity && opacity.values.length === read.values.length / 3) {
      const count = opacity.values.length
      const values = new Float64Array(4 * count)
      for (let at = 0; at < count; at++) {
        values.set(read.values.subarray(3 * at, 3 * at + 3), 4 * at)
        values[4 * at + 3] = opacity.values[at]!
      }
      const both: Spread = { ...read, values }
      return isPlain
        ? { name: shown, components: 4, values, per: 'points', indices: new Int32Array(0) }
        : { name: shown, components: 4, per: 'corners', ...ofCorners(both, 4, faces) }
    }
    return isPlain
      ? { name: shown, components, values: read.values, per: 'points', indices: new Int32Array(0) }
      : { name: shown, components, per: 'corners', ...ofCorners(read, components, faces) }
  }

  const normalsKey = prim.properties.has('primvars:normals') ? 'primvars:normals' : 'normals'
  const spreadNormals = spreadOf(normalsKey, 3, 'vertex')
  const normals: CornerNormals | null =
    spreadNormals && spreadNormals.per !== 'constant' ? ofCorners(spreadNormals, 3, faces) : null
  const holes = numbersIn(prim, 'holeIndices')
  const marked = holes ? Int32Array.from(faces.faces, (face) => (holes.includes(face) ? 1 : 0)) : null
  if (marked?.includes(1)) {
    messages.add('usd.holes', { name, count: marked.reduce((sum, one) => sum + one, 0) })
    layers.push({
      kind: 'holes',
      name: '',
      per: 'faces',
      width: 1,
      values: Float64Array.of(0, 1),
      indices: marked,
      edgePoints: null,
      whole: true,
    })
  }
  const subsets = readSubsets(prim, faces, isBound)
  const isWhole = faces.faces.length === faces.all
  const noted = readNotes(notes, pointCount, faces.faces.length, isWhole)
  if (noted.stale.length) messages.add('usd.stale', { name, what: noted.stale.join(', ') })
  const subdivision = readSubdivision(prim)
  const creases = readCreases(prim, pointCount, messages)
  return {
    subsets,
    uvNames,
    mesh: {
      ...EMPTY_MESH,
      name,
      points,
      faceOffsets: faces.offsets,
      faceVertices: faces.vertices,
      uvSets,
      normals,
      smoothing: noted.smoothing,
      creases,
      subdivision: {
        ...subdivision,
        // how often is in no word of the format
        ...(noted.subdivision.scheme === subdivision.scheme ? noted.subdivision : {}),
      },
      groups: subsets.groups,
      colorSets,
      ...(layers.length ? { layers } : {}),
      source: prim.path,
    },
  }
}
