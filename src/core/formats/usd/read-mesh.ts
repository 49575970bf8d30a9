/** Meshes with what stands on their points, sides and polygons. Source: OpenUSD, UsdGeomMesh, UsdGeomPrimvar, UsdGeomSubset. */
import type { MessageCollector } from '../../base/messages/collector.ts'
import {
  EMPTY_MESH,
  type ColorSet,
  type CornerNormals,
  type FaceGroups,
  type KeptLayer,
  type Mesh,
  type UvSet,
} from '../../scene/mesh.ts'
import { readNotes } from '../notes/mesh-notes.ts'
import { listOf, textOf } from '../notes/json.ts'
import type { StagePrim } from './compose.ts'
import { widthOf } from './layer.ts'
import { ofCorners, readFaces, spread, type Faces, type Per, type Spread } from './mesh-values.ts'
import { notesIn } from './prim-notes.ts'
import { readCreases, readSubdivision } from './read-creases.ts'
import { numbersIn, textIn } from './read-transform.ts'

/** What a prim or a property is called where people read it. */
export const shownName = ({ metadata }: Pick<StagePrim, 'metadata'>, otherwise: string): string => {
  const shown = metadata.get('displayName')
  return typeof shown === 'string' ? shown : otherwise
}
export const nameOf = (prim: StagePrim): string => shownName(prim, prim.name)

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
  const listed = new Set(holes ?? [])
  const marked = holes ? Int32Array.from(faces.faces, (face) => (listed.has(face) ? 1 : 0)) : null
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
