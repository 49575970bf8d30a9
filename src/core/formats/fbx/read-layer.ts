/** A layer of an FBX geometry: values on points, polygons, edges or corners, direct or by index. */
import type { Polygons } from './read-polygons.ts'
import type { MessageCollector } from '../../base/messages/collector.ts'
import { type KeptLayer } from '../../scene/mesh.ts'
import { childOf, indicesOf, numbersOf, type FbxRecord } from './tree.ts'

export type Mapping = KeptLayer['per']

export const MAPPINGS: Readonly<Record<string, Mapping>> = {
  ByPolygonVertex: 'corners',
  ByVertex: 'points',
  ByVertice: 'points',
  ByPolygon: 'faces',
  ByEdge: 'edges',
  AllSame: 'all',
}

/** A record’s first value as text; empty without one. */
export const textOf = (record: FbxRecord | null): string => String(record?.values[0] ?? '')

export interface Layer {
  readonly mapping: Mapping
  readonly name: string
  readonly values: Float64Array
  /** Index of the value for each element of the mapping; null: the element's own number. */
  readonly indices: Int32Array | null
}

/** @returns null for a layer without data or of an unknown mapping, with a finding in the second case. */
export function readLayer(
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
export function overCorners(
  layer: Layer | null,
  record: FbxRecord,
  messages: MessageCollector,
): Layer | null {
  if (layer?.mapping !== 'edges') return layer
  messages.add('fbx.layer', { layer: record.name, mapping: 'ByEdge' }, null, record.place)
  return null
}

/** Values without a last one that is not whole. */
export const whole = (values: Float64Array, width: number): Float64Array =>
  values.length % width === 0 ? values : values.slice(0, values.length - (values.length % width))

/** The value's number for each corner, -1 where the layer ends before it. */
export function cornerIndices(layer: Layer, polygons: Polygons, width: number): Int32Array {
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
export function faceValues(layer: Layer, polygons: Polygons, missing: number): Float64Array | null {
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
