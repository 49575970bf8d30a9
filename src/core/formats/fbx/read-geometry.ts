import { GROUP_NAMES, readGroups } from './read-face-groups.ts'
import { textOf, readLayer, overCorners, whole, cornerIndices, faceValues } from './read-layer.ts'
import { type Polygons, readPolygons } from './read-polygons.ts'
/** A geometry's records to a mesh: control points, polygons, and its layers in every mapping. */
import type { MessageCollector } from '../../base/messages/collector.ts'
import {
  EMPTY_MESH,
  type ColorSet,
  type CornerNormals,
  type Creases,
  type KeptLayer,
  type Mesh,
  type Smoothing,
  type Subdivision,
  type UvSet,
} from '../../scene/mesh.ts'
import { sharpnessOf } from './creases.ts'
import type { CreaseScale } from './options.ts'
import { keptOf, propertiesOf } from './properties.ts'
import { childOf, childrenOf, numberValue, type FbxRecord } from './tree.ts'

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
