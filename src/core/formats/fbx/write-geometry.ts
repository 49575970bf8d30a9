/** A mesh as a geometry's records. */
import { groupsFromHardEdges } from '../../mesh/smoothing/smoothing-groups.ts'
import { computeNormals } from '../../mesh/normals/compute-normals.ts'
import { meshTangents } from '../../mesh/normals/mesh-tangents.ts'
import { edgeKey } from '../../mesh/relations/adjacency.ts'
import { createMeshFacts, type MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import {
  faceCountOf,
  type ColorSet,
  type CornerNormals,
  type KeptLayer,
  type Mesh,
  turnsTangents,
} from '../../scene/mesh.ts'
import { weightOf } from './creases.ts'
import type { FbxWriteOptions } from './options.ts'
import { GROUP_NAMES } from './read-face-groups.ts'
import { int, keptRow, propertyRow, record, type WriteRecord } from './write-tree.ts'

type GeometryOptions = Pick<
  FbxWriteOptions,
  | 'normals'
  | 'tangents'
  | 'uvs'
  | 'uvSetNames'
  | 'smoothing'
  | 'smoothingForm'
  | 'creases'
  | 'creaseScale'
  | 'creaseExponent'
  | 'colors'
  | 'groups'
  | 'groupsAs'
  | 'materials'
  | 'shapes'
>

/** Groups that a 32-bit mask has room for. */
const MASK_BITS = 32

const text = (name: string, value: string): WriteRecord => record(name, [value])

function layer(
  kind: string,
  place: number,
  name: string,
  mapping: string,
  reference: string,
  content: readonly WriteRecord[],
): WriteRecord {
  return record(
    kind,
    [int(place)],
    [
      record('Version', [int(kind === 'LayerElementSmoothing' ? 102 : 101)]),
      text('Name', name),
      text('MappingInformationType', mapping),
      text('ReferenceInformationType', reference),
      ...content,
    ],
  )
}

const colorsTravel = ({ components }: ColorSet): boolean => components === 3 || components === 4
function normalsAreWhole({ indices }: CornerNormals): boolean {
  for (let corner = 0; corner < indices.length; corner++) if (indices[corner]! < 0) return false
  return true
}

/** What of a mesh the writer leaves out although it was asked for, in an artist's words. */
/**
 * The normals that are written: the part's own where every corner has one; where it has none at all and tangents are
 * asked for, those of its smoothing, since tangents say nothing without them.
 */
function writtenNormals(mesh: Mesh, options: GeometryOptions): CornerNormals | null {
  if (!options.normals) return null
  if (mesh.normals) return normalsAreWhole(mesh.normals) ? mesh.normals : null
  return options.tangents && mesh.uvSets.length ? computeNormals(mesh, null) : null
}

export function lossesOf(mesh: Mesh, options: GeometryOptions): string[] {
  const lost: string[] = []
  if (mesh.lines || mesh.pointElements) lost.push('loose lines and points')
  if (mesh.pointWeights) lost.push('weights of points')
  if (options.shapes && turnsTangents(mesh)) lost.push('how blend shapes turn tangents')
  for (const { kind, per } of mesh.layers ?? [])
    if (!LAYER_RECORDS[kind]) lost.push(`the layer “${kind}” of its ${per}`)
  if (mesh.uvSets.some((set) => set.depths)) lost.push('third UV coordinates')
  if (mesh.subdivision.scheme !== 'none' && mesh.subdivision.scheme !== 'catmull-clark')
    lost.push(`the subdivision scheme “${mesh.subdivision.scheme}”`)
  if (options.normals && mesh.normals && !normalsAreWhole(mesh.normals))
    lost.push('normals that only some corners have')
  if (options.tangents && mesh.uvSets.length && !options.normals)
    lost.push('tangents while normals are left out')
  if (options.tangents && options.normals && mesh.normals && !normalsAreWhole(mesh.normals))
    lost.push('tangents where only some corners have normals')
  if (options.colors && !mesh.colorSets.every(colorsTravel))
    lost.push('colours of other than 3 or 4 channels')
  if (options.smoothing && options.smoothingForm === 'polygons' && mesh.smoothing?.kind === 'edges') {
    const { faceGroups, inexpressible } = groupsFromHardEdges(createMeshFacts(mesh))
    if (inexpressible.length)
      lost.push(`${inexpressible.length} hard edges of “${mesh.name}” that end inside a soft area`)
    if (faceGroups.some((group) => group > MASK_BITS)) lost.push('smoothing by more than 32 groups')
  }
  return lost
}

/** A mask of groups a polygon; a group's number is its bit. */
function polygonMasks(facts: MeshFacts): Int32Array {
  const { smoothing } = facts.mesh
  if (smoothing?.kind === 'masks') return Int32Array.from(smoothing.faceMasks, (mask) => mask | 0)
  const groups = smoothing?.kind === 'groups' ? smoothing.faceGroups : groupsFromHardEdges(facts).faceGroups
  return Int32Array.from(groups, (group) => (group > 0 ? 1 << ((group - 1) % MASK_BITS) : 0))
}

function isInOrder(indices: Int32Array, valueCount: number): boolean {
  if (indices.length !== valueCount) return false
  for (let at = 0; at < valueCount; at++) if (indices[at] !== at) return false
  return true
}

/** Values over corners: with a list of indices, and without where it would say nothing. */
function cornerLayer(
  kind: string,
  place: number,
  name: string,
  dataName: string,
  indexName: string,
  values: Float64Array,
  width: number,
  indices: Int32Array,
): WriteRecord {
  const direct = isInOrder(indices, values.length / width)
  return layer(kind, place, name, 'ByPolygonVertex', direct ? 'Direct' : 'IndexToDirect', [
    record(dataName, [values]),
    ...(direct ? [] : [record(indexName, [indices])]),
  ])
}

const LAYER_RECORDS: Readonly<Record<string, readonly [record: string, values: string, indices: string]>> = {
  tangents: ['LayerElementTangent', 'Tangents', 'TangentsIndex'],
  binormals: ['LayerElementBinormal', 'Binormals', 'BinormalsIndex'],
  normals: ['LayerElementNormal', 'Normals', 'NormalsIndex'],
  visibility: ['LayerElementVisibility', 'Visibility', 'VisibilityIndex'],
  holes: ['LayerElementHole', 'Hole', 'HoleIndex'],
}
const LAYER_MAPPINGS = {
  corners: 'ByPolygonVertex',
  points: 'ByVertice',
  faces: 'ByPolygon',
  edges: 'ByEdge',
  all: 'AllSame',
} as const

/** One value an edge of the list: `rest` but for the given pairs of points. */
type ByEdge = (pairs: Uint32Array, valueOf: (at: number) => number, rest: number) => Float64Array

function carriedLayer(kept: KeptLayer, place: number, byEdge: ByEdge): WriteRecord | null {
  const names = LAYER_RECORDS[kept.kind]
  if (!names) return null
  const [kind, dataName, indexName] = names
  let { values } = kept
  if (kept.per === 'edges' && kept.edgePoints) values = byEdge(kept.edgePoints, (at) => kept.values[at]!, 0)
  return layer(kind, place, kept.name, LAYER_MAPPINGS[kept.per], kept.indices ? 'IndexToDirect' : 'Direct', [
    record(dataName, [kept.whole ? Int32Array.from(values) : values]),
    ...(kept.indices ? [record(indexName, [kept.indices])] : []),
  ])
}

/** The geometry's children. */
export function writeGeometry(mesh: Mesh, options: GeometryOptions): WriteRecord[] {
  const facts = createMeshFacts(mesh)
  const corners = new Int32Array(mesh.faceVertices)
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const last = mesh.faceOffsets[face + 1]! - 1
    corners[last] = ~corners[last]!
  }
  const layers: { record: WriteRecord; place: number }[] = []
  const add = (entry: WriteRecord | null, place: number): void => {
    if (entry) layers.push({ record: entry, place })
  }
  /** A file without layers over edges has no list of edges. */
  let hasEdges = false
  const byEdge: ByEdge = (pairs, valueOf, rest) => {
    hasEdges = true
    const placeOf = new Map<number, number>()
    for (let at = 0; at < pairs.length / 2; at++) placeOf.set(edgeKey(pairs[2 * at]!, pairs[2 * at + 1]!), at)
    const { edgeCount, edgePoints } = facts.edges()
    const values = new Float64Array(edgeCount).fill(rest)
    for (let edge = 0; edge < edgeCount; edge++) {
      const at = placeOf.get(edgeKey(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!))
      if (at !== undefined) values[edge] = valueOf(at)
    }
    return values
  }

  /** A flag an edge: 1 is soft. */
  const softFlags = (): Int32Array => {
    hasEdges = true
    const hard = facts.hardEdges()
    const flags = new Int32Array(hard.length)
    for (let edge = 0; edge < flags.length; edge++) flags[edge] = hard[edge] ? 0 : 1
    return flags
  }

  const { smoothing, creases } = mesh
  const normals = writtenNormals(mesh, options)
  if (normals)
    add(
      cornerLayer('LayerElementNormal', 0, '', 'Normals', 'NormalsIndex', normals.values, 3, normals.indices),
      0,
    )
  // tangents lie on normals: without them they say nothing
  const computed = options.tangents && normals ? meshTangents(mesh, mesh.uvSets[0], facts) : null
  const places = new Map<string, number>()
  for (const kept of [
    ...(computed ?? []),
    ...(mesh.layers ?? []).filter((kept) => !computed || computed.every(({ kind }) => kind !== kept.kind)),
  ]) {
    // normals, tangents and what hangs on them are left out together
    if (!options.normals && kept.width === 3) continue
    const place = places.get(kept.kind) ?? (kept.kind === 'normals' ? 1 : 0)
    places.set(kept.kind, place + 1)
    add(carriedLayer(kept, place, byEdge), place)
  }
  const setNames = options.uvSetNames
    .split(',')
    .map((name) => name.trim())
    .filter(Boolean)
  if (options.uvs)
    mesh.uvSets.forEach((set, place) =>
      add(
        cornerLayer(
          'LayerElementUV',
          place,
          setNames[place] ?? set.name,
          'UV',
          'UVIndex',
          set.values,
          2,
          set.indices,
        ),
        place,
      ),
    )
  if (smoothing && options.smoothing) {
    const byPolygon =
      options.smoothingForm === 'polygons' || (options.smoothingForm === 'own' && smoothing.kind === 'masks')
    const values = byPolygon ? polygonMasks(facts) : softFlags()
    add(
      layer('LayerElementSmoothing', 0, '', byPolygon ? 'ByPolygon' : 'ByEdge', 'Direct', [
        record('Smoothing', [values]),
      ]),
      0,
    )
  }
  if (options.creases && creases) {
    const { edgePoints, edgeSharpness, cornerPoints, cornerSharpness } = creases
    if (edgeSharpness.length)
      add(
        layer('LayerElementEdgeCrease', 0, '', 'ByEdge', 'Direct', [
          record('EdgeCrease', [byEdge(edgePoints, (at) => weightOf(edgeSharpness[at]!, options), 0)]),
        ]),
        0,
      )
    if (cornerSharpness.length) {
      const weights = new Float64Array(mesh.points.length / 3)
      cornerPoints.forEach((point, at) => (weights[point] = weightOf(cornerSharpness[at]!, options)))
      add(
        layer('LayerElementVertexCrease', 0, '', 'ByVertice', 'Direct', [record('VertexCrease', [weights])]),
        0,
      )
    }
  }
  if (options.colors)
    mesh.colorSets.forEach((set, place) => {
      if (!colorsTravel(set)) return
      const count = set.values.length / set.components
      const values = new Float64Array(4 * count).fill(1)
      for (let at = 0; at < count; at++)
        for (let k = 0; k < set.components; k++) values[4 * at + k] = set.values[set.components * at + k]!
      const indices = set.per === 'corners' ? set.indices : Int32Array.from(mesh.faceVertices)
      add(
        cornerLayer('LayerElementColor', place, set.name, 'Colors', 'ColorIndex', values, 4, indices),
        place,
      )
    })
  if (options.materials !== 'none' && mesh.faceMaterials) {
    // the file counts the materials of the part, in the order they are linked
    const order = new Map<number, number>()
    for (const material of mesh.faceMaterials)
      if (material >= 0 && !order.has(material)) order.set(material, order.size)
    const local = mesh.faceMaterials.map((material) => order.get(material) ?? -1)
    const same = local.every((material) => material === local[0])
    add(
      layer('LayerElementMaterial', 0, '', same ? 'AllSame' : 'ByPolygon', 'IndexToDirect', [
        record('Materials', [same ? local.slice(0, 1) : local]),
      ]),
      0,
    )
  }
  const groups = options.groups && options.groupsAs === 'sets' ? mesh.groups : null
  if (groups)
    add(
      layer('LayerElementPolygonGroup', 0, '', 'ByPolygon', 'IndexToDirect', [
        record('PolygonGroup', [groups.faceSets]),
      ]),
      0,
    )

  const properties = [
    ...(mesh.kept ?? []).map(keptRow),
    ...(groups
      ? [propertyRow(GROUP_NAMES, 'KString', '', 'U', JSON.stringify([groups.names, groups.sets]))]
      : []),
  ]
  const edges = hasEdges ? [record('Edges', [edgeCorners(facts)])] : []
  const layerCount = Math.max(0, ...layers.map((entry) => entry.place + 1))
  return [
    record('Properties70', [], properties),
    record('GeometryVersion', [int(124)]),
    record('Vertices', [mesh.points]),
    record('PolygonVertexIndex', [corners]),
    ...edges,
    ...layers.map((entry) => entry.record),
    ...Array.from({ length: layerCount }, (_value, place) =>
      record(
        'Layer',
        [int(place)],
        [
          record('Version', [int(100)]),
          ...layers
            .filter((entry) => entry.place === place)
            .map((entry) =>
              record(
                'LayerElement',
                [],
                [text('Type', entry.record.name), record('TypedIndex', [int(entry.place)])],
              ),
            ),
        ],
      ),
    ),
    ...subdivisionRecords(mesh),
  ]
}

/** Each edge by the first corner that starts it. */
function edgeCorners(facts: MeshFacts): Int32Array {
  const { edgeCount, cornerEdges } = facts.edges()
  const edges = new Int32Array(edgeCount).fill(-1)
  for (let corner = cornerEdges.length - 1; corner >= 0; corner--) edges[cornerEdges[corner]!] = corner
  return edges
}

function subdivisionRecords({ subdivision }: Mesh): WriteRecord[] {
  if (subdivision.scheme !== 'catmull-clark') return []
  const { levels, renderLevels, boundary } = subdivision
  return [
    record('Smoothness', [int(2)]),
    record('PreviewDivisionLevels', [int(levels)]),
    ...(renderLevels === undefined ? [] : [record('RenderDivisionLevels', [int(renderLevels)])]),
    ...(boundary ? [record('BoundaryRule', [int(boundary === 'edge-and-corner' ? 1 : 2)])] : []),
  ]
}
