/** A geometry's records to a mesh: control points, polygons, and its layers in every mapping. */
import type { MessageCollector } from '../../base/messages/collector.ts'
import {
  EMPTY_MESH,
  type ColorSet,
  type CornerNormals,
  type Creases,
  type FaceGroups,
  type KeptLayer,
  type Mesh,
  type Smoothing,
  type Subdivision,
  type UvSet,
} from '../../scene/mesh.ts'
import { sharpnessOf } from './creases.ts'
import type { CreaseScale } from './options.ts'
import { keptOf, propertiesOf, propertyOf } from './properties.ts'
import { childOf, childrenOf, indicesOf, numbersOf, numberValue, type FbxRecord } from './tree.ts'

interface Polygons {
  readonly points: Float64Array
  readonly faceOffsets: Uint32Array
  readonly faceVertices: Uint32Array
  /** The place of each corner in the file's own list; null where no polygon was left out. */
  readonly cornerPlaces: Uint32Array | null
  /** The number of each face in the file; null where no polygon was left out. */
  readonly facePlaces: Uint32Array | null
  /** Two points for each entry of `Edges`; -1 where it leads nowhere. */
  readonly edgePoints: () => Int32Array
}

/** Polygons end with a corner that is the complement of its point. */
function readPolygons(geometry: FbxRecord, messages: MessageCollector): Polygons {
  const stored = numbersOf(childOf(geometry, 'Vertices'))
  const pointCount = Math.floor(stored.length / 3)
  const points = stored.length === 3 * pointCount ? stored : stored.slice(0, 3 * pointCount)
  const indices = indicesOf(childOf(geometry, 'PolygonVertexIndex'))
  const at = geometry.place
  const faceVertices = new Uint32Array(indices.length)
  const faceOffsets = new Uint32Array(countEnds(indices) + 1)
  let faceCount = 0
  let cornerCount = 0
  let fileFace = 0
  /** Filled from the first polygon on that is left out. */
  let left: { corners: number[]; faces: number[] } | null = null
  for (let start = 0; start < indices.length; fileFace++) {
    let end = start
    let sound = true
    for (;;) {
      const index = indices[end]!
      const point = index < 0 ? ~index : index
      if (point < pointCount) faceVertices[cornerCount + end - start] = point
      else {
        messages.add(
          'fbx.index-out-of-range',
          { kind: 'point', value: point, available: pointCount },
          null,
          at,
        )
        sound = false
      }
      end++
      if (index < 0 || end === indices.length) break
    }
    if (end - start < 3) {
      messages.add('fbx.short-face', { corners: end - start }, null, at)
      sound = false
    }
    if (!sound && !left)
      left = {
        corners: Array.from({ length: cornerCount }, (_value, corner) => corner),
        faces: Array.from({ length: faceCount }, (_value, face) => face),
      }
    if (sound) {
      if (left) {
        for (let corner = start; corner < end; corner++) left.corners.push(corner)
        left.faces.push(fileFace)
      }
      cornerCount += end - start
      faceOffsets[++faceCount] = cornerCount
    }
    start = end
  }
  return {
    points,
    faceOffsets: left ? faceOffsets.slice(0, faceCount + 1) : faceOffsets,
    faceVertices: left ? faceVertices.slice(0, cornerCount) : faceVertices,
    cornerPlaces: left && Uint32Array.from(left.corners),
    facePlaces: left && Uint32Array.from(left.faces),
    edgePoints: () => readEdgePoints(indicesOf(childOf(geometry, 'Edges')), indices, pointCount),
  }
}

function countEnds(indices: Int32Array): number {
  let ends = 0
  for (let at = 0; at < indices.length; at++) if (indices[at]! < 0) ends++
  // a list without an end closes with its last corner
  return ends + (indices.length > 0 && indices[indices.length - 1]! >= 0 ? 1 : 0)
}

/** Polygons with more corners than this have their beginning remembered, so that no list of edges makes it slow. */
const LONG_POLYGON = 64

/** An edge goes from the corner it names to the next of the same polygon. */
function readEdgePoints(edges: Int32Array, indices: Int32Array, pointCount: number): Int32Array {
  const edgePoints = new Int32Array(2 * edges.length).fill(-1)
  const known = new Map<number, number>()
  /** First corner of the polygon that ends with `last`. */
  const startOf = (last: number): number => {
    let start = last
    while (start > 0 && indices[start - 1]! >= 0) {
      if (last - start === LONG_POLYGON) {
        const found = known.get(last)
        if (found !== undefined) return found
      }
      start--
    }
    if (last - start >= LONG_POLYGON) known.set(last, start)
    return start
  }
  const final = indices.length - 1
  for (let edge = 0; edge < edges.length; edge++) {
    const place = edges[edge]!
    if (place < 0 || place > final) continue
    const isLast = indices[place]! < 0 || place === final
    const next = indices[isLast ? startOf(place) : place + 1]!
    const from = indices[place]! < 0 ? ~indices[place]! : indices[place]!
    const to = next < 0 ? ~next : next
    if (from >= pointCount || to >= pointCount) continue
    edgePoints[2 * edge] = from
    edgePoints[2 * edge + 1] = to
  }
  return edgePoints
}

type Mapping = KeptLayer['per']
const MAPPINGS: Readonly<Record<string, Mapping>> = {
  ByPolygonVertex: 'corners',
  ByVertex: 'points',
  ByVertice: 'points',
  ByPolygon: 'faces',
  ByEdge: 'edges',
  AllSame: 'all',
}

const textOf = (record: FbxRecord | null): string => String(record?.values[0] ?? '')

interface Layer {
  readonly mapping: Mapping
  readonly name: string
  readonly values: Float64Array
  /** Index of the value for each element of the mapping; null: the element's own number. */
  readonly indices: Int32Array | null
}

/** @returns null for a layer without data or of an unknown mapping, with a finding in the second case. */
function readLayer(
  layer: FbxRecord,
  dataName: string,
  indexName: string,
  messages: MessageCollector,
): Layer | null {
  const values = numbersOf(childOf(layer, dataName))
  const mappingText = textOf(childOf(layer, 'MappingInformationType'))
  const mapping = MAPPINGS[mappingText]
  if (!mapping) {
    if (mappingText && mappingText !== 'NoMappingInformation')
      messages.add('fbx.layer', { layer: layer.name, mapping: mappingText }, null, layer.place)
    return null
  }
  if (values.length === 0) return null
  const reference = textOf(childOf(layer, 'ReferenceInformationType'))
  const listed = indicesOf(childOf(layer, indexName))
  // a layer that says it has indices and has none is meant directly; readers that trust it fail
  const indices = reference !== 'Direct' && listed.length > 0 ? listed : null
  return { mapping, name: textOf(childOf(layer, 'Name')), values, indices }
}

/** A layer that corners can have values from; one over edges is left out and said. */
function overCorners(layer: Layer | null, record: FbxRecord, messages: MessageCollector): Layer | null {
  if (layer?.mapping !== 'edges') return layer
  messages.add('fbx.layer', { layer: record.name, mapping: 'ByEdge' }, null, record.place)
  return null
}

const whole = (values: Float64Array, width: number): Float64Array =>
  values.length % width === 0 ? values : values.slice(0, values.length - (values.length % width))

/** The value's number for each corner, -1 where the layer ends before it. */
function cornerIndices(layer: Layer, polygons: Polygons, width: number): Int32Array {
  const valueCount = Math.floor(layer.values.length / width)
  const { faceOffsets, faceVertices, cornerPlaces, facePlaces } = polygons
  const { indices, mapping } = layer
  const cornerCount = faceVertices.length
  // a sound list of an undamaged mesh is taken as it is
  if (mapping === 'corners' && !cornerPlaces && indices?.length === cornerCount) {
    let sound = true
    for (let corner = 0; corner < cornerCount && sound; corner++)
      sound = indices[corner]! >= -1 && indices[corner]! < valueCount
    if (sound) return indices
  }
  const result = new Int32Array(cornerCount)
  const valueOf = (element: number): number => {
    const index = indices ? (element < indices.length ? indices[element]! : -1) : element
    return index < valueCount ? index : -1
  }
  if (mapping === 'corners')
    for (let corner = 0; corner < cornerCount; corner++)
      result[corner] = valueOf(cornerPlaces ? cornerPlaces[corner]! : corner)
  else if (mapping === 'points')
    for (let corner = 0; corner < cornerCount; corner++) result[corner] = valueOf(faceVertices[corner]!)
  else if (mapping === 'faces')
    for (let face = 0; face + 1 < faceOffsets.length; face++)
      result.fill(valueOf(facePlaces ? facePlaces[face]! : face), faceOffsets[face]!, faceOffsets[face + 1]!)
  else result.fill(valueOf(0))
  for (let corner = 0; corner < cornerCount; corner++) if (result[corner]! < 0) result[corner] = -1
  return result
}

/** The value of each face, `missing` where the layer ends before it; null for a mapping that faces can't have. */
function faceValues(layer: Layer, polygons: Polygons, missing: number): Float64Array | null {
  if (layer.mapping !== 'faces' && layer.mapping !== 'all') return null
  const faceCount = polygons.faceOffsets.length - 1
  const values = new Float64Array(faceCount)
  for (let face = 0; face < faceCount; face++) {
    const element = layer.mapping === 'all' ? 0 : polygons.facePlaces ? polygons.facePlaces[face]! : face
    const value = layer.values[layer.indices ? (layer.indices[element] ?? -1) : element]
    values[face] = value ?? missing
  }
  return values
}

function readUvs(geometry: FbxRecord, polygons: Polygons, messages: MessageCollector): UvSet[] {
  return childrenOf(geometry, 'LayerElementUV').flatMap((record, order) => {
    const layer = overCorners(readLayer(record, 'UV', 'UVIndex', messages), record, messages)
    if (!layer) return []
    return [
      {
        name: layer.name || `uv${order ? order + 1 : ''}`,
        values: whole(layer.values, 2),
        indices: cornerIndices(layer, polygons, 2),
        depths: null,
      },
    ]
  })
}

function readNormals(
  geometry: FbxRecord,
  polygons: Polygons,
  messages: MessageCollector,
): CornerNormals | null {
  const record = childOf(geometry, 'LayerElementNormal')
  const layer =
    record && overCorners(readLayer(record, 'Normals', 'NormalsIndex', messages), record, messages)
  if (!layer) return null
  return { values: whole(layer.values, 3), indices: cornerIndices(layer, polygons, 3) }
}

function readSmoothing(
  geometry: FbxRecord,
  polygons: Polygons,
  messages: MessageCollector,
): Smoothing | null {
  const record = childOf(geometry, 'LayerElementSmoothing')
  // a layer of all zeros may be written without numbers by some tools: nothing is said then
  const layer = record && readLayer(record, 'Smoothing', 'SmoothingIndex', messages)
  if (!layer) return null
  const masks = faceValues(layer, polygons, 0)
  if (masks) return { kind: 'masks', faceMasks: Uint32Array.from(masks, (mask) => mask >>> 0) }
  if (layer.mapping !== 'edges') {
    messages.add('fbx.layer', { layer: record.name, mapping: textOf(childOf(record, 'MappingInformationType')) }, null, record.place) // prettier-ignore
    return null
  }
  const edgePoints = polygons.edgePoints()
  const pairs: number[] = []
  for (let edge = 0; edge < edgePoints.length / 2; edge++)
    if (layer.values[edge] === 0 && edgePoints[2 * edge]! >= 0)
      pairs.push(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!)
  return { kind: 'edges', hardEdgePoints: Uint32Array.from(pairs) }
}

function readCreases(
  geometry: FbxRecord,
  polygons: Polygons,
  messages: MessageCollector,
  scale: CreaseScale,
): Creases | null {
  const edges: number[] = []
  const edgeSharpness: number[] = []
  const edgeRecord = childOf(geometry, 'LayerElementEdgeCrease')
  const edgeLayer = edgeRecord && readLayer(edgeRecord, 'EdgeCrease', 'EdgeCreaseIndex', messages)
  if (edgeLayer?.mapping === 'edges') {
    const edgePoints = polygons.edgePoints()
    for (let edge = 0; edge < edgePoints.length / 2; edge++) {
      const weight = edgeLayer.values[edge] ?? 0
      if (!(weight > 0) || edgePoints[2 * edge]! < 0) continue
      edges.push(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!)
      edgeSharpness.push(sharpnessOf(weight, scale))
    }
  }
  const corners: number[] = []
  const cornerSharpness: number[] = []
  const pointRecord = childOf(geometry, 'LayerElementVertexCrease')
  const pointLayer = pointRecord && readLayer(pointRecord, 'VertexCrease', 'VertexCreaseIndex', messages)
  if (pointLayer?.mapping === 'points')
    for (let point = 0; point < polygons.points.length / 3; point++) {
      const weight = pointLayer.values[pointLayer.indices ? pointLayer.indices[point]! : point] ?? 0
      if (!(weight > 0)) continue
      corners.push(point)
      cornerSharpness.push(sharpnessOf(weight, scale))
    }
  if (edgeSharpness.length + cornerSharpness.length === 0) return null
  return {
    edgePoints: Uint32Array.from(edges),
    edgeSharpness: Float64Array.from(edgeSharpness),
    cornerPoints: Uint32Array.from(corners),
    cornerSharpness: Float64Array.from(cornerSharpness),
  }
}

function readColours(geometry: FbxRecord, polygons: Polygons, messages: MessageCollector): ColorSet[] {
  return childrenOf(geometry, 'LayerElementColor').flatMap((record, order): ColorSet[] => {
    const layer = overCorners(readLayer(record, 'Colors', 'ColorIndex', messages), record, messages)
    if (!layer) return []
    return [
      {
        name: layer.name || `color${order ? order + 1 : ''}`,
        components: 4,
        values: whole(layer.values, 4),
        per: 'corners',
        indices: cornerIndices(layer, polygons, 4),
      },
    ]
  })
}

/** faceCount; which of the node's materials each face has, -1 for none; null where the geometry doesn't say. */
function readFaceMaterials(
  geometry: FbxRecord,
  polygons: Polygons,
  messages: MessageCollector,
): Int32Array | null {
  const record = childOf(geometry, 'LayerElementMaterial')
  // the layer's numbers are the materials themselves: it has no second list
  const layer = record && readLayer(record, 'Materials', '', messages)
  const values = layer && faceValues({ ...layer, indices: null }, polygons, -1)
  return values && Int32Array.from(values)
}

/**
 * Where the writer leaves the names of groups, since the format has numbers only: the JSON of [names, sets of
 * places among these]. Without braces, which some readers of the text form stumble over.
 */
export const GROUP_NAMES = 'faceGroupNames'

/** Numbered sets of faces, with names where the geometry has a list of them. */
function readGroups(geometry: FbxRecord, polygons: Polygons, messages: MessageCollector): FaceGroups | null {
  const record = childOf(geometry, 'LayerElementPolygonGroup')
  const layer = record && readLayer(record, 'PolygonGroup', '', messages)
  const values = layer && faceValues({ ...layer, indices: null }, polygons, -1)
  if (!values) return null
  const listed = propertyOf(propertiesOf(geometry, null), GROUP_NAMES)?.values[0]
  const named = typeof listed === 'string' ? parseGroupNames(listed) : null
  const names: string[] = named ? [...named.names] : []
  const sets: number[][] = named ? named.sets.map((set) => [...set]) : []
  const setOf = new Map<number, number>(sets.map((_set, at) => [at, at]))
  const faceSets = new Int32Array(values.length).fill(-1)
  // groups come in runs
  let last = -1
  let lastSet = -1
  for (let face = 0; face < faceSets.length; face++) {
    const value = values[face]!
    if (!(value >= 0)) continue
    if (value !== last) {
      let set = setOf.get(value)
      if (set === undefined) {
        set = sets.push([names.push(`group_${value}`) - 1]) - 1
        setOf.set(value, set)
      }
      last = value
      lastSet = set
    }
    faceSets[face] = lastSet
  }
  return { names, sets, faceSets }
}

function parseGroupNames(text: string): { names: string[]; sets: number[][] } | null {
  try {
    const parsed = JSON.parse(text) as unknown
    const [names, sets] = Array.isArray(parsed) ? (parsed as unknown[]) : []
    const sound =
      Array.isArray(names) &&
      names.every((name) => typeof name === 'string') &&
      Array.isArray(sets) &&
      sets.every(
        (set) =>
          Array.isArray(set) &&
          set.every((name) => Number.isInteger(name) && names[name as number] !== undefined),
      )
    return sound ? { names: names as string[], sets: sets as number[][] } : null
  } catch {
    // a text of another program under the same name: groups keep their numbers
    return null
  }
}

/** Layers that are carried along, by their record: kind, data, index list, values an element. */
const CARRIED: Readonly<
  Record<string, readonly [kind: string, values: string, indices: string, width: number]>
> = {
  LayerElementTangent: ['tangents', 'Tangents', 'TangentsIndex', 3],
  LayerElementTangents: ['tangents', 'Tangents', 'TangentsIndex', 3],
  LayerElementBinormal: ['binormals', 'Binormals', 'BinormalsIndex', 3],
  LayerElementBinormals: ['binormals', 'Binormals', 'BinormalsIndex', 3],
  LayerElementNormal: ['normals', 'Normals', 'NormalsIndex', 3],
  LayerElementVisibility: ['visibility', 'Visibility', 'VisibilityIndex', 1],
  LayerElementHole: ['holes', 'Hole', 'HoleIndex', 1],
}
/** Layers that are read into the mesh, or mean nothing without what the format has left behind. */
const UNDERSTOOD = new Set([
  'LayerElementUV',
  'LayerElementSmoothing',
  'LayerElementEdgeCrease',
  'LayerElementVertexCrease',
  'LayerElementColor',
  'LayerElementMaterial',
  'LayerElementPolygonGroup',
  'LayerElementTexture',
])

function readCarried(geometry: FbxRecord, polygons: Polygons, messages: MessageCollector): KeptLayer[] {
  let normalLayers = 0
  return geometry.children.flatMap((record): KeptLayer[] => {
    if (!record.name.startsWith('LayerElement') || UNDERSTOOD.has(record.name)) return []
    const known = CARRIED[record.name]
    if (!known) {
      messages.add('fbx.layer-unknown', { layer: record.name }, null, record.place)
      return []
    }
    const [kind, dataName, indexName, width] = known
    // the first normals are the mesh's own
    if (kind === 'normals' && normalLayers++ === 0) return []
    const layer = readLayer(record, dataName, indexName, messages)
    if (!layer) return []
    const stored = childOf(record, dataName)?.values[0]
    const isWhole = width === 1 && (stored instanceof Int32Array || layer.values.every(Number.isInteger))
    const plain = { kind, name: layer.name, width, whole: isWhole }
    if (layer.mapping === 'edges') {
      const found = polygons.edgePoints()
      const pairs: number[] = []
      const values: number[] = []
      for (let edge = 0; edge < found.length / 2; edge++) {
        if (found[2 * edge]! < 0 || layer.values[edge] === undefined) continue
        pairs.push(found[2 * edge]!, found[2 * edge + 1]!)
        values.push(layer.values[edge]!)
      }
      return [
        {
          ...plain,
          per: 'edges',
          values: Float64Array.from(values),
          indices: null,
          edgePoints: Uint32Array.from(pairs),
        },
      ]
    }
    // directions a face are the same for all its corners
    if (layer.mapping === 'faces' && width === 1)
      return [
        { ...plain, per: 'faces', values: faceValues(layer, polygons, 0)!, indices: null, edgePoints: null },
      ]
    if (layer.mapping === 'all')
      return [{ ...plain, per: 'all', values: layer.values, indices: null, edgePoints: null }]
    return [
      {
        ...plain,
        per: 'corners',
        values: whole(layer.values, width),
        indices: cornerIndices(layer, polygons, width),
        edgePoints: null,
      },
    ]
  })
}

/** By the number that files hold; 0 is the rule of tools before it was told. From memory. */
const BOUNDARY_RULES: readonly (Subdivision['boundary'] | undefined)[] = [
  undefined,
  'edge-and-corner',
  'edge-only',
]

function readSubdivision(geometry: FbxRecord): Subdivision {
  const number = (name: string): number => numberValue(childOf(geometry, name)?.values[0]) ?? 0
  const levels = (name: string): number => Math.max(0, Math.min(10, Math.round(number(name))))
  if (!(number('Smoothness') > 0)) return EMPTY_MESH.subdivision
  const boundary = BOUNDARY_RULES[number('BoundaryRule')]
  return {
    scheme: 'catmull-clark',
    levels: levels('PreviewDivisionLevels'),
    ...(childOf(geometry, 'RenderDivisionLevels') ? { renderLevels: levels('RenderDivisionLevels') } : {}),
    ...(boundary ? { boundary } : {}),
  }
}

/**
 * @returns the mesh; `faceMaterials` counts the materials of the node that shows it, not yet the scene's.
 */
export function readGeometry(
  geometry: FbxRecord,
  name: string,
  messages: MessageCollector,
  scale: CreaseScale,
): Mesh {
  const polygons = readPolygons(geometry, messages)
  const layers = readCarried(geometry, polygons, messages)
  return {
    ...EMPTY_MESH,
    name,
    points: polygons.points,
    faceOffsets: polygons.faceOffsets,
    faceVertices: polygons.faceVertices,
    uvSets: readUvs(geometry, polygons, messages),
    normals: readNormals(geometry, polygons, messages),
    smoothing: readSmoothing(geometry, polygons, messages),
    creases: readCreases(geometry, polygons, messages, scale),
    subdivision: readSubdivision(geometry),
    faceMaterials: readFaceMaterials(geometry, polygons, messages),
    groups: readGroups(geometry, polygons, messages),
    colorSets: readColours(geometry, polygons, messages),
    ...(layers.length ? { layers } : {}),
    ...keptOf(propertiesOf(geometry, null), new Set([GROUP_NAMES])),
  }
}
