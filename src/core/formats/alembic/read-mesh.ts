/** Meshes with what stands on them. Source: as in read-alembic.ts (PolyMesh, SubD, FaceSet, parameters of geometry). */
import type { MessageCollector } from '../../base/messages/collector.ts'
import {
  EMPTY_MESH,
  type ColorSet,
  type Creases,
  type FaceGroups,
  type Mesh,
  type Subdivision,
  type UvSet,
} from '../../scene/mesh.ts'
import { listOf, objectOf, textOf, type Json } from '../notes/json.ts'
import { readNotes } from '../notes/mesh-notes.ts'
import { metadataOf, type AbcCompound, type AbcObject } from './archive-tree.ts'
import { readFaces, shared, spread, withAbsent } from './mesh-values.ts'
import {
  compoundIn,
  geomParam,
  numbersAt,
  schemaOf,
  textAt,
  valuesIn,
  type GeomParam,
  type Sampling,
} from './property-access.ts'

const GEOMETRY = '.geom'
/** The note’s name among a mesh’s own properties. */
export const NOTES = 'notes'
/** Sets of polygons that stand for materials begin with this in Kelbo’s own files; others’ are groups. */
export const MATERIAL_SET = 'material'

function readCreases(geometry: AbcCompound, pointCount: number, sampling: Sampling): Creases | null {
  const of = (name: string): Float64Array =>
    numbersAt(valuesIn(geometry, name), sampling) ?? new Float64Array(0)
  const [indices, lengths, sharpness] = [of('.creaseIndices'), of('.creaseLengths'), of('.creaseSharpnesses')]
  const [corners, cornerSharpness] = [of('.cornerIndices'), of('.cornerSharpnesses')]
  const isPoint = (point: number | undefined): boolean =>
    point !== undefined && point >= 0 && point < pointCount
  const edges: number[] = []
  const edgeSharpness: number[] = []
  let at = 0
  lengths.forEach((length, chain) => {
    // a chain ends with the list, however long it says that it is
    for (let k = 0; k + 1 < length && at + k < indices.length; k++) {
      const [a, b] = [indices[at + k], indices[at + k + 1]]
      if (!isPoint(a) || !isPoint(b) || sharpness[chain] === undefined) continue
      edges.push(a!, b!)
      edgeSharpness.push(sharpness[chain])
    }
    at += length
  })
  const sound = [...corners.keys()].filter((index) => isPoint(corners[index]) && cornerSharpness[index] !== undefined) // prettier-ignore
  if (edges.length + sound.length === 0) return null
  return {
    edgePoints: Uint32Array.from(edges),
    edgeSharpness: Float64Array.from(edgeSharpness),
    cornerPoints: Uint32Array.from(sound, (index) => corners[index]!),
    cornerSharpness: Float64Array.from(sound, (index) => cornerSharpness[index]!),
  }
}

const SCHEMES: Readonly<Record<string, Subdivision['scheme'] | undefined>> = {
  'catmull-clark': 'catmull-clark',
  loop: 'loop',
  bilinear: 'bilinear',
}

export const notesIn = (compound: AbcCompound | null, sampling: Sampling): Json | null => {
  const own = compound && compoundIn(compound, '.userProperties')
  const text = own && textAt(valuesIn(own, NOTES), sampling)
  if (!text) return null
  try {
    return objectOf(JSON.parse(text))
  } catch {
    // a note that was written over by hand is none
    return null
  }
}

/**
 * @param materialOf the number of a material by its name.
 * @returns null where it has no points, which is told.
 */
export function readMesh(
  object: AbcObject,
  name: string,
  sampling: Sampling,
  materialOf: (name: string) => number,
  messages: MessageCollector,
): Mesh | null {
  const geometry = compoundIn(object, GEOMETRY)
  const points = geometry && numbersAt(valuesIn(geometry, 'P'), sampling)
  if (!geometry || !points || points.length < 3) {
    messages.add('alembic.part', { place: `The mesh “${name}”`, why: 'it has no points' })
    return null
  }
  const pointCount = Math.floor(points.length / 3)
  const faces = readFaces(geometry, name, pointCount, sampling, messages)
  const notes = notesIn(geometry, sampling)
  const noted = readNotes(notes, pointCount, faces.faces.length, faces.faces.length === faces.placeOf.length)
  if (noted.stale.length) messages.add('alembic.stale', { name, what: noted.stale.join(', ') })
  const uvSets: UvSet[] = []
  const colorSets: ColorSet[] = []
  const setNames = listOf(notes?.uvSetNames).map(textOf)
  const colorNames = listOf(notes?.colorSetNames).map(textOf)
  const fits = notes?.points === pointCount && notes.polygons === faces.placeOf.length
  const absent = fits ? objectOf(notes?.absent) : null
  const addUvs = (param: GeomParam | null, own: string): void => {
    if (!param || param.width !== 2) return
    const indices = spread(param, `the UV set “${own}”`, name, faces, pointCount, messages)
    if (!indices || indices.every((index) => index < 0)) return
    const held = param.scope === 'fvr' && !param.indices ? shared(param.values, 2, indices, faces.vertices) : { values: param.values, indices } // prettier-ignore
    uvSets.push({ name: setNames[uvSets.length] || param.sourceName || own, depths: null, ...withAbsent(held, 2, absent?.[`uv ${uvSets.length}`]) }) // prettier-ignore
  }
  addUvs(
    geomParam(
      geometry.properties.find((property) => property.name === 'uv'),
      sampling,
    ),
    'uv',
  )
  const more = compoundIn(geometry, '.arbGeomParams')
  for (const property of more?.properties ?? []) {
    const param = geomParam(property, sampling)
    const isColor = /rgba?/.test(param?.interpretation ?? '')
    if (param && isColor && (param.width === 3 || param.width === 4)) {
      const indices = spread(param, `the colours “${property.name}”`, name, faces, pointCount, messages)
      if (!indices) continue
      const isOfPoints = (param.scope === 'vtx' || param.scope === 'var') && !param.indices
      colorSets.push(
        isOfPoints
          ? { name: colorNames[colorSets.length] || property.name, components: param.width, values: param.values, per: 'points', indices: new Int32Array(0) } // prettier-ignore
          : {
              name: colorNames[colorSets.length] || property.name,
              components: param.width,
              values: param.values,
              per: 'corners',
              indices,
            },
      )
    } else if (metadataOf(property.metadata).get('geoScope') === 'fvr') addUvs(param, property.name)
  }
  const stated = geomParam(
    geometry.properties.find((property) => property.name === 'N'),
    sampling,
  )
  const normalIndices = stated?.width === 3 ? spread(stated, 'its normals', name, faces, pointCount, messages) : null // prettier-ignore
  const isSubdivided = schemaOf(object).startsWith('AbcGeom_SubD')
  const scheme = SCHEMES[textAt(valuesIn(geometry, '.scheme'), sampling) ?? ''] ?? 'catmull-clark'
  const border = numbersAt(valuesIn(geometry, '.interpolateBoundary'), sampling)?.[0]
  // sets of polygons: materials where Kelbo says so, else groups
  const faceMaterials = new Int32Array(faces.faces.length).fill(-1)
  const groupNames: string[] = []
  const groupsOf = new Map<number, number[]>()
  for (const child of object.children) {
    if (!schemaOf(child).startsWith('AbcGeom_FaceSet')) continue
    const own = compoundIn(child, '.faceset')
    const listed = own && numbersAt(valuesIn(own, '.faces'), sampling)
    const said = notesIn(own, sampling)
    const shown = textOf(said?.name) || child.name
    const places = [...(listed ?? [])].flatMap((face) => {
      const place = faces.placeOf[face] ?? -1
      return place < 0 ? [] : [place]
    })
    if (said?.[MATERIAL_SET] === true) {
      const material = materialOf(shown)
      for (const face of places) faceMaterials[face] = material
      continue
    }
    const group = groupNames.push(shown) - 1
    for (const face of places) {
      const list = groupsOf.get(face)
      if (list) list.push(group)
      else groupsOf.set(face, [group])
    }
  }
  const groups: FaceGroups | null = groupNames.length
    ? combined(groupNames, groupsOf, faces.faces.length)
    : null
  return {
    ...EMPTY_MESH,
    name,
    points: points.length === 3 * pointCount ? points : points.slice(0, 3 * pointCount),
    faceOffsets: faces.offsets,
    faceVertices: faces.vertices,
    uvSets,
    colorSets,
    normals:
      stated && normalIndices
        ? stated.scope === 'fvr' && !stated.indices
          ? shared(stated.values, 3, normalIndices, faces.vertices)
          : withAbsent({ values: stated.values, indices: normalIndices }, 3, absent?.normals)
        : null,
    smoothing: noted.smoothing,
    creases: readCreases(geometry, pointCount, sampling),
    // creases have a place in a refined surface alone: one that was none says so
    subdivision:
      isSubdivided && !(fits && objectOf(notes?.subdivision)?.scheme === 'none')
        ? {
            scheme,
            levels: 0,
            ...(border === 1 ? { boundary: 'edge-and-corner' as const } : {}),
            ...(border === 2 ? { boundary: 'edge-only' as const } : {}),
            ...(noted.subdivision.scheme === scheme ? noted.subdivision : {}),
          }
        : noted.subdivision,
    groups: noted.groups ?? groups,
    faceMaterials: faceMaterials.some((material) => material >= 0) ? faceMaterials : null,
  }
}

function combined(names: string[], of: ReadonlyMap<number, number[]>, faceCount: number): FaceGroups {
  const sets: number[][] = []
  const numbers = new Map<string, number>()
  const faceSets = new Int32Array(faceCount).fill(-1)
  for (const [face, list] of of) {
    const key = list.join()
    if (!numbers.has(key)) numbers.set(key, sets.push(list) - 1)
    faceSets[face] = numbers.get(key)!
  }
  return { names, sets, faceSets }
}
