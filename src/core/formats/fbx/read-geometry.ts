/** A geometry's polygons and layers as a mesh. */
import type { MessageCollector } from '../../messages/collector.ts'
import {
  EMPTY_MESH,
  type ColorSet,
  type CornerNormals,
  type Creases,
  type Mesh,
  type Smoothing,
  type UvSet,
} from '../../scene/mesh.ts'
import { childOf, childrenOf, numbersOf, numberValue, type FbxRecord } from './tree.ts'

/** Crease weights of files run to 1; sharpness on OpenSubdiv's scale to 10. */
const CREASE_SCALE = 10

interface Polygons {
  readonly points: Float64Array
  readonly faceOffsets: Uint32Array
  readonly faceVertices: Uint32Array
  /** The place of each corner in the file's own list, where polygons were left out. */
  readonly cornerPlaces: Uint32Array
  /** The number of each face in the file. */
  readonly facePlaces: Uint32Array
  /** Two points for each entry of `Edges`; -1 where it leads nowhere. */
  readonly edgePoints: Int32Array
}

/** Polygons end with a corner that is the complement of its point. */
function readPolygons(geometry: FbxRecord, messages: MessageCollector): Polygons {
  const points = numbersOf(childOf(geometry, 'Vertices'))
  const pointCount = Math.floor(points.length / 3)
  const indices = numbersOf(childOf(geometry, 'PolygonVertexIndex'))
  const faceOffsets: number[] = [0]
  const vertices: number[] = []
  const cornerPlaces: number[] = []
  const facePlaces: number[] = []
  const at = geometry.place
  let start = 0
  let face = 0
  /** Point after each corner in its polygon, for edges. */
  const nextPoint = new Int32Array(indices.length).fill(-1)
  const pointAt = (place: number): number => (indices[place]! < 0 ? -indices[place]! - 1 : indices[place]!)
  for (let place = 0; place < indices.length; place++) {
    const isLast = indices[place]! < 0 || place === indices.length - 1
    if (!isLast) {
      nextPoint[place] = pointAt(place + 1)
      continue
    }
    nextPoint[place] = pointAt(start)
    const size = place + 1 - start
    let sound = size >= 3
    if (!sound) messages.add('fbx.short-face', { corners: size }, null, at)
    for (let corner = start; corner <= place && sound; corner++) {
      const point = pointAt(corner)
      if (point < pointCount) continue
      messages.add('fbx.index-out-of-range', { kind: 'point', value: point, available: pointCount }, null, at)
      sound = false
    }
    if (sound) {
      for (let corner = start; corner <= place; corner++) {
        vertices.push(pointAt(corner))
        cornerPlaces.push(corner)
      }
      facePlaces.push(face)
      faceOffsets.push(vertices.length)
    }
    face++
    start = place + 1
  }
  const edges = numbersOf(childOf(geometry, 'Edges'))
  const edgePoints = new Int32Array(2 * edges.length).fill(-1)
  edges.forEach((place, edge) => {
    if (place < 0 || place >= indices.length) return
    const from = pointAt(place)
    const to = nextPoint[place]!
    if (from >= pointCount || to < 0 || to >= pointCount) return
    edgePoints[2 * edge] = from
    edgePoints[2 * edge + 1] = to
  })
  return {
    points: points.slice(0, 3 * pointCount),
    faceOffsets: Uint32Array.from(faceOffsets),
    faceVertices: Uint32Array.from(vertices),
    cornerPlaces: Uint32Array.from(cornerPlaces),
    facePlaces: Uint32Array.from(facePlaces),
    edgePoints,
  }
}

type Mapping = 'corners' | 'points' | 'faces' | 'edges' | 'all'
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
  readonly indices: Float64Array | null
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
  const listed = numbersOf(childOf(layer, indexName))
  // a layer that says it has indices and has none is meant directly; readers that trust it fail
  const indices = reference !== 'Direct' && listed.length > 0 ? listed : null
  return { mapping, name: textOf(childOf(layer, 'Name')), values, indices }
}

/** The value's number for each corner, -1 where the layer ends before it. */
function cornerIndices(layer: Layer, polygons: Polygons, width: number): Int32Array {
  const valueCount = Math.floor(layer.values.length / width)
  const result = new Int32Array(polygons.faceVertices.length).fill(-1)
  for (let face = 0; face + 1 < polygons.faceOffsets.length; face++)
    for (let corner = polygons.faceOffsets[face]!; corner < polygons.faceOffsets[face + 1]!; corner++) {
      const element =
        layer.mapping === 'corners'
          ? polygons.cornerPlaces[corner]!
          : layer.mapping === 'points'
            ? polygons.faceVertices[corner]!
            : layer.mapping === 'faces'
              ? polygons.facePlaces[face]!
              : 0
      const index = layer.indices ? layer.indices[element] : element
      if (index !== undefined && index >= 0 && index < valueCount) result[corner] = index
    }
  return result
}

function readUvs(geometry: FbxRecord, polygons: Polygons, messages: MessageCollector): UvSet[] {
  return childrenOf(geometry, 'LayerElementUV').flatMap((record, order) => {
    const layer = readLayer(record, 'UV', 'UVIndex', messages)
    if (!layer || layer.mapping === 'edges') return []
    return [
      {
        name: layer.name || `uv${order ? order + 1 : ''}`,
        values: layer.values.slice(0, 2 * Math.floor(layer.values.length / 2)),
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
  const layer = record && readLayer(record, 'Normals', 'NormalsIndex', messages)
  if (!layer || layer.mapping === 'edges') return null
  return {
    values: layer.values.slice(0, 3 * Math.floor(layer.values.length / 3)),
    indices: cornerIndices(layer, polygons, 3),
  }
}

function readSmoothing(
  geometry: FbxRecord,
  polygons: Polygons,
  messages: MessageCollector,
): Smoothing | null {
  const record = childOf(geometry, 'LayerElementSmoothing')
  const layer = record && readLayer(record, 'Smoothing', 'SmoothingIndex', messages)
  if (!layer) return null
  if (layer.mapping === 'faces')
    return {
      kind: 'masks',
      faceMasks: Uint32Array.from(polygons.facePlaces, (face) => (layer.values[face] ?? 0) >>> 0),
    }
  if (layer.mapping !== 'edges') return null
  const pairs: number[] = []
  for (let edge = 0; edge < polygons.edgePoints.length / 2; edge++)
    if (layer.values[edge] === 0 && polygons.edgePoints[2 * edge]! >= 0)
      pairs.push(polygons.edgePoints[2 * edge]!, polygons.edgePoints[2 * edge + 1]!)
  return { kind: 'edges', hardEdgePoints: Uint32Array.from(pairs) }
}

function readCreases(geometry: FbxRecord, polygons: Polygons, messages: MessageCollector): Creases | null {
  const edges: number[] = []
  const edgeSharpness: number[] = []
  const edgeRecord = childOf(geometry, 'LayerElementEdgeCrease')
  const edgeLayer = edgeRecord && readLayer(edgeRecord, 'EdgeCrease', 'EdgeCreaseIndex', messages)
  if (edgeLayer?.mapping === 'edges')
    for (let edge = 0; edge < polygons.edgePoints.length / 2; edge++) {
      const weight = edgeLayer.values[edge] ?? 0
      if (!(weight > 0) || polygons.edgePoints[2 * edge]! < 0) continue
      edges.push(polygons.edgePoints[2 * edge]!, polygons.edgePoints[2 * edge + 1]!)
      edgeSharpness.push(weight * CREASE_SCALE)
    }
  const corners: number[] = []
  const cornerSharpness: number[] = []
  const pointRecord = childOf(geometry, 'LayerElementVertexCrease')
  const pointLayer = pointRecord && readLayer(pointRecord, 'VertexCrease', 'VertexCreaseIndex', messages)
  if (pointLayer?.mapping === 'points')
    for (let point = 0; point < polygons.points.length / 3; point++) {
      const weight = pointLayer.values[point] ?? 0
      if (!(weight > 0)) continue
      corners.push(point)
      cornerSharpness.push(weight * CREASE_SCALE)
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
    const layer = readLayer(record, 'Colors', 'ColorIndex', messages)
    if (!layer || layer.mapping === 'edges') return []
    return [
      {
        name: layer.name || `color${order ? order + 1 : ''}`,
        components: 4,
        values: layer.values.slice(0, 4 * Math.floor(layer.values.length / 4)),
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
  const layer = record && readLayer(record, 'Materials', 'MaterialsIndex', messages)
  if (!layer) return null
  if (layer.mapping === 'all') return new Int32Array(polygons.facePlaces.length).fill(layer.values[0]!)
  if (layer.mapping !== 'faces') return null
  return Int32Array.from(polygons.facePlaces, (face) => layer.values[face] ?? -1)
}

/**
 * @returns the mesh; `faceMaterials` counts the materials of the node that shows it, not yet the scene's.
 */
export function readGeometry(geometry: FbxRecord, name: string, messages: MessageCollector): Mesh {
  const polygons = readPolygons(geometry, messages)
  const preview = numberValue(childOf(geometry, 'PreviewDivisionLevels')?.values[0]) ?? 0
  const isSubdivided = (numberValue(childOf(geometry, 'Smoothness')?.values[0]) ?? 0) > 0
  return {
    ...EMPTY_MESH,
    name,
    points: polygons.points,
    faceOffsets: polygons.faceOffsets,
    faceVertices: polygons.faceVertices,
    uvSets: readUvs(geometry, polygons, messages),
    normals: readNormals(geometry, polygons, messages),
    smoothing: readSmoothing(geometry, polygons, messages),
    creases: readCreases(geometry, polygons, messages),
    subdivision: isSubdivided
      ? { scheme: 'catmull-clark', levels: Math.max(0, Math.min(10, preview)) }
      : EMPTY_MESH.subdivision,
    faceMaterials: readFaceMaterials(geometry, polygons, messages),
    colorSets: readColours(geometry, polygons, messages),
  }
}
