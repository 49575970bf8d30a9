/** PLY to a scene, in text and both kinds of binary. Source: G. Turk, “The PLY Polygon File Format” (1994). */
import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages, KelboError, type MessageCollector } from '../../base/messages/collector.ts'
import { decodeLatin1, normalizeTextBytes } from '../../base/bytes/text.ts'
import { bareMaterial } from '../../scene/bare-material.ts'
import {
  EMPTY_MESH,
  type ColorSet,
  type CornerNormals,
  type KeptLayer,
  type Mesh,
  type UvSet,
} from '../../scene/mesh.ts'
import { EMPTY_SCENE, rootNodes, type Scene, type SceneImage } from '../../scene/scene.ts'
import { signed } from '../../base/bytes/signed.ts'
import { joinMesh } from '../../mesh/welds/join-mesh.ts'
import { findImage } from '../package/find-image.ts'
import { stemOf, type PackageFile } from '../package/package-file.ts'
import { readHeader } from './header.ts'
import { notesIn, splitByParts } from './notes.ts'
import { PLY_READ_DEFAULTS, type PlyReadOptions } from './options.ts'
import { readElements, type PlyColumn, type PlyEntries } from './read-elements.ts'

const WHOLE = /^u?int/

const named = (entries: PlyEntries | undefined, ...names: readonly string[]): PlyColumn | null => {
  for (const name of names) {
    const found = entries?.columns.find(({ property }) => property.name === name)
    if (found) return found
  }
  return null
}
/** Columns of one value an entry under the first of several spellings that the file has all of. */
function columnsOf(
  entries: PlyEntries | undefined,
  spellings: readonly (readonly string[])[],
): PlyColumn[] | null {
  for (const names of spellings) {
    const found = names.map((name) => named(entries, name))
    if (found.every((column) => column && !column.offsets)) return found as PlyColumn[]
  }
  return null
}

const interleaved = (columns: readonly PlyColumn[], count: number): Float64Array => {
  const values = new Float64Array(columns.length * count)
  columns.forEach((column, k) => {
    for (let at = 0; at < count; at++) values[columns.length * at + k] = column.values[at]!
  })
  return values
}

/** Spellings that programs have for the same (common practice). */
const PLACES = [['x', 'y', 'z']]
const NORMALS = [['nx', 'ny', 'nz'], ['normal_x', 'normal_y', 'normal_z']] // prettier-ignore
const UVS = [['u', 'v'], ['s', 't'], ['texture_u', 'texture_v'], ['texture_s', 'texture_t']] // prettier-ignore
const COLORS = [
  ['red', 'green', 'blue'],
  ['diffuse_red', 'diffuse_green', 'diffuse_blue'],
  ['r', 'g', 'b'],
]
const ALPHAS = ['alpha', 'diffuse_alpha', 'a']
const CORNERS = ['vertex_indices', 'vertex_index']

interface Polygons {
  readonly faceOffsets: Uint32Array
  readonly faceVertices: Uint32Array
  /** The entry of each polygon. */
  readonly entries: Uint32Array
}

/** Polygons of lists; those of too few corners or with points that are not there are left out and told. */
function polygonsOf(faces: PlyEntries | undefined, pointCount: number, messages: MessageCollector): Polygons {
  const lists = named(faces, ...CORNERS)
  if (!faces || !lists?.offsets)
    return { faceOffsets: new Uint32Array(1), faceVertices: new Uint32Array(0), entries: new Uint32Array(0) }
  const whole = wholePolygons(lists, faces.count, pointCount)
  if (whole) return whole
  const offsets = new Uint32Array(faces.count + 1)
  const vertices = new Uint32Array(lists.values.length)
  const entries = new Uint32Array(faces.count)
  let faceCount = 0
  let used = 0
  for (let entry = 0; entry < faces.count; entry++) {
    const start = lists.offsets[entry]!
    const end = lists.offsets[entry + 1]!
    let wrong = -1
    for (let at = start; at < end; at++) {
      const point = lists.values[at]!
      if (!(point >= 0 && point < pointCount)) wrong = at
    }
    if (wrong >= 0)
      messages.add('ply.index-out-of-range', { value: lists.values[wrong]!, available: pointCount })
    else if (end - start < 3) messages.add('ply.short-face', { corners: end - start })
    else {
      for (let at = start; at < end; at++) vertices[used++] = lists.values[at]!
      entries[faceCount] = entry
      offsets[++faceCount] = used
    }
  }
  return {
    faceOffsets: offsets.slice(0, faceCount + 1),
    faceVertices: vertices.slice(0, used),
    entries: entries.subarray(0, faceCount),
  }
}

/** Lists of whole numbers all of which are polygons, as they are; null for any other. */
function wholePolygons({ offsets, values }: PlyColumn, count: number, pointCount: number): Polygons | null {
  if (!offsets || values instanceof Float64Array) return null
  for (let entry = 0; entry < count; entry++) if (offsets[entry + 1]! - offsets[entry]! < 3) return null
  // seen without a sign what is below 0 is beyond all points
  const faceVertices = new Uint32Array(values.buffer, values.byteOffset, values.length)
  for (let at = 0; at < faceVertices.length; at++) if (faceVertices[at]! >= pointCount) return null
  const entries = new Uint32Array(count)
  for (let entry = 0; entry < count; entry++) entries[entry] = entry
  return { faceOffsets: offsets, faceVertices, entries }
}

/** Triangles of strips: lists of points, begun anew at a negative one. */
function stripsOf(strips: PlyEntries | undefined, pointCount: number, messages: MessageCollector): number[] {
  const lists = named(strips, ...CORNERS)
  const triangles: number[] = []
  if (!strips || !lists?.offsets) return triangles
  for (let entry = 0; entry < strips.count; entry++) {
    let run: number[] = []
    for (let at = lists.offsets[entry]!; at < lists.offsets[entry + 1]!; at++) {
      const point = lists.values[at]!
      if (point < 0) {
        run = []
        continue
      }
      if (point >= pointCount) {
        messages.add('ply.index-out-of-range', { value: point, available: pointCount })
        run = []
        continue
      }
      run.push(point)
      if (run.length < 3) continue
      const [a, b, c] = run.slice(-3) as [number, number, number]
      if (a === b || b === c || a === c) continue
      triangles.push(...(run.length % 2 ? [a, b, c] : [b, a, c]))
    }
  }
  return triangles
}

/** Colours as shares: bytes stand for 255ths. */
function colorsOf(
  entries: PlyEntries | undefined,
  count: number,
): { values: Float64Array; components: 3 | 4 } | null {
  const columns = columnsOf(entries, COLORS)
  if (!columns) return null
  const alpha = named(entries, ...ALPHAS)
  const all = alpha && !alpha.offsets ? [...columns, alpha] : columns
  const values = interleaved(all, count)
  const most = { uint8: 255, uint16: 65535, int8: 127, int16: 32767, int32: 255, uint32: 255 }
  all.forEach(({ property: { type } }, k) => {
    if (!WHOLE.test(type)) return
    for (let at = k; at < values.length; at += all.length) values[at]! /= most[type as keyof typeof most]
  })
  return { values, components: all.length as 3 | 4 }
}

/** UVs of corners, those of one point that say the same shared. */
function cornerUvs(
  lists: PlyColumn,
  { faceOffsets, faceVertices, entries }: Polygons,
  name: string,
): UvSet | null {
  const indices = new Int32Array(faceVertices.length).fill(-1)
  const values: number[] = []
  const known = new Map<number, number[]>()
  for (let face = 0; face < entries.length; face++) {
    const start = lists.offsets![entries[face]!]!
    const size = faceOffsets[face + 1]! - faceOffsets[face]!
    if (lists.offsets![entries[face]! + 1]! - start !== 2 * size) continue
    for (let k = 0; k < size; k++) {
      const corner = faceOffsets[face]! + k
      const u = lists.values[start + 2 * k]!
      const v = lists.values[start + 2 * k + 1]!
      const own = known.get(faceVertices[corner]!) ?? []
      let uv = own.find((index) => values[2 * index] === u && values[2 * index + 1] === v)
      if (uv === undefined) {
        uv = values.push(u, v) / 2 - 1
        own.push(uv)
        known.set(faceVertices[corner]!, own)
      }
      indices[corner] = uv
    }
  }
  return values.length ? { name, values: Float64Array.from(values), indices, depths: null } : null
}

const layer = (column: PlyColumn, per: KeptLayer['per'], values: PlyColumn['values']): KeptLayer => ({
  kind: column.property.name,
  name: '',
  per,
  width: 1,
  values: values instanceof Float64Array ? values : Float64Array.from(values),
  indices: null,
  edgePoints: null,
  whole: WHOLE.test(column.property.type),
})

/**
 * The file says nothing of unit and axes: the options do.
 *
 * Findings: `ply.*`, `image.missing`, `image.outside`.
 * @throws KelboError `file.empty`, `file.not-a-model`, `ply.header`.
 */
export function readPly(
  file: PackageFile,
  beside: readonly PackageFile[],
  options: Partial<PlyReadOptions> = {},
): { scene: Scene; findings: readonly Finding[] } {
  const settings: PlyReadOptions = { ...PLY_READ_DEFAULTS, ...options }
  const messages = collectMessages(file.name)
  // a text may be in any of the encodings that texts are in
  const text = normalizeTextBytes(file.bytes)
  const bytes = decodeLatin1(text, 0, 3) === 'ply' ? text : file.bytes
  const header = readHeader(bytes, file.name)
  const elements = readElements(bytes, header, messages)
  const element = (name: string): PlyEntries | undefined => elements.find((own) => own.element.name === name)
  const vertex = element('vertex')
  const places = columnsOf(vertex, PLACES)
  if (!vertex || !places || vertex.count === 0) throw new KelboError('file.not-a-model', {}, file.name)
  const pointCount = vertex.count
  for (const { element: own, count } of elements)
    if (!['vertex', 'face', 'tristrips', 'edge'].includes(own.name) && own.count > 0)
      messages.add('ply.left', { element: own.name, entries: count })

  const faces = element('face')
  const polygons = polygonsOf(faces, pointCount, messages)
  const strips = stripsOf(element('tristrips'), pointCount, messages)
  const hasStrips = strips.length > 0
  const faceVertices = hasStrips
    ? Uint32Array.from([...polygons.faceVertices, ...strips])
    : polygons.faceVertices
  const faceOffsets = hasStrips
    ? Uint32Array.from([
        ...polygons.faceOffsets,
        ...Array.from(
          { length: strips.length / 3 },
          (_none, at) => polygons.faceVertices.length + 3 * (at + 1),
        ),
      ])
    : polygons.faceOffsets
  const whole: Polygons = { ...polygons, faceOffsets, faceVertices }
  const notes = notesIn(header.comments)

  const name = stemOf(file.name)
  const edge = element('edge')
  const ends = columnsOf(edge, [['vertex1', 'vertex2']])
  const lines = ends
    ? Array.from({ length: edge!.count }, (_none, at) => [ends[0]!.values[at]!, ends[1]!.values[at]!]).filter(
        (line) => line.every((point) => point >= 0 && point < pointCount),
      )
    : []
  const read: Mesh = {
    ...EMPTY_MESH,
    name,
    points: interleaved(places, pointCount),
    faceOffsets,
    faceVertices,
    uvSets: uvSetsOf(vertex, faces, whole, notes.uvName),
    normals: normalsOf(vertex, faceVertices),
    colorSets: colorSetsOf(vertex, faces, whole),
    lines: lines.length
      ? {
          offsets: Uint32Array.from({ length: lines.length + 1 }, (_none, at) => 2 * at),
          points: Uint32Array.from(lines.flat()),
          uvs: new Int32Array(2 * lines.length).fill(-1),
        }
      : null,
    ...layersOf(vertex, faces, polygons, faceOffsets.length - 1, hasStrips),
  }
  const images: SceneImage[] = []
  const maps = notes.maps.map((path) => {
    const { image, outside } = findImage(beside, file.name, path)
    if (outside) messages.add('image.outside', { file: path })
    if (!image.bytes) messages.add('image.missing', { file: path })
    images.push(image)
    return { property: 'map_Kd', slot: 'baseColor' as const, file: path, options: [] }
  })
  const byFace = (property: string): Int32Array | null => {
    const column = hasStrips ? null : named(faces, property)
    return column && !column.offsets
      ? Int32Array.from(polygons.entries, (entry) => column.values[entry]!)
      : null
  }
  // where points carry UVs or normals of their own some were split for them
  const isSplit = read.normals !== null || read.uvSets.length > 0
  const { mesh, joined } =
    settings.join && isSplit && notes.parts.length === 0 ? joinMesh(read) : { mesh: read, joined: 0 }
  if (joined > 0) messages.add('ply.joined', { joined, points: mesh.points.length / 3 })
  const { meshes, materials } = splitByParts(mesh, notes, byFace)
  const textured =
    maps.length && materials.length === 0
      ? {
          meshes: meshes.map((mesh) => ({
            ...mesh,
            faceMaterials: new Int32Array(mesh.faceOffsets.length - 1),
          })),
          materials: [{ ...bareMaterial(name), maps: maps.slice(0, 1) }],
        }
      : { meshes, materials }
  return {
    scene: {
      ...EMPTY_SCENE,
      format: 'ply',
      formatVersion: header.form,
      space: {
        unitMeters: settings.unitMeters,
        upAxis: settings.upAxis,
        frontAxis: settings.frontAxis,
        handedness: settings.mirrored ? 'left' : 'right',
      },
      nodes: rootNodes(textured.meshes),
      ...textured,
      images,
    },
    findings: messages.list(),
  }
}

function normalsOf(vertex: PlyEntries, faceVertices: Uint32Array): CornerNormals | null {
  const columns = columnsOf(vertex, NORMALS)
  return columns && faceVertices.length
    ? { values: interleaved(columns, vertex.count), indices: signed(faceVertices) }
    : null
}

function uvSetsOf(
  vertex: PlyEntries,
  faces: PlyEntries | undefined,
  polygons: Polygons,
  name: string,
): UvSet[] {
  const lists = named(faces, 'texcoord')
  const own = lists?.offsets ? cornerUvs(lists, polygons, name) : null
  if (own) return [own]
  const columns = columnsOf(vertex, UVS)
  return columns && polygons.faceVertices.length
    ? [
        {
          name,
          values: interleaved(columns, vertex.count),
          indices: signed(polygons.faceVertices),
          depths: null,
        },
      ]
    : []
}

function colorSetsOf(vertex: PlyEntries, faces: PlyEntries | undefined, polygons: Polygons): ColorSet[] {
  const own = colorsOf(vertex, vertex.count)
  if (own) return [{ name: 'colour', ...own, per: 'points', indices: new Int32Array(0) }]
  const byFace = faces && colorsOf(faces, faces.count)
  if (!byFace || polygons.entries.length === 0) return []
  const indices = new Int32Array(polygons.faceVertices.length).fill(-1)
  polygons.entries.forEach((entry, face) =>
    indices.fill(entry, polygons.faceOffsets[face]!, polygons.faceOffsets[face + 1]!),
  )
  return [{ name: 'colour', ...byFace, per: 'corners', indices }]
}

/** Properties that are used; any other is carried under its own name. */
const USED = new Set([
  ...[...PLACES, ...NORMALS, ...UVS, ...COLORS].flat(),
  ...ALPHAS,
  ...CORNERS,
  'texcoord',
  'part',
  'material',
  'smoothing',
  'group',
])

function layersOf(
  vertex: PlyEntries,
  faces: PlyEntries | undefined,
  { entries }: Polygons,
  faceCount: number,
  hasStrips: boolean,
): { layers: KeptLayer[] } | Record<string, never> {
  // normals and UVs are of corners: points without polygons carry them as any other values
  const unused = new Set(faceCount > 0 ? [] : [...NORMALS, ...UVS].flat())
  const isKept = ({ property: { name }, offsets }: PlyColumn): boolean =>
    !offsets && (!USED.has(name) || unused.has(name))
  const layers = [
    ...vertex.columns.filter(isKept).map((column) => layer(column, 'points', column.values)),
    ...(faces && !hasStrips && faceCount > 0
      ? faces.columns.filter(isKept).map((column) =>
          layer(
            column,
            'faces',
            Float64Array.from(entries, (entry) => column.values[entry]!),
          ),
        )
      : []),
  ]
  return layers.length ? { layers } : {}
}
