/** A mesh as a geometry's records. */
import { hardEdgePoints } from '../../edit/smoothing-groups.ts'
import { edgeKey } from '../../scene/adjacency.ts'
import { createMeshFacts } from '../../scene/mesh-facts.ts'
import { faceCountOf, type ColorSet, type CornerNormals, type Mesh } from '../../scene/mesh.ts'
import { int, record, type WriteRecord } from './write-binary-tree.ts'

export interface GeometryOptions {
  readonly normals: boolean
  readonly uvs: boolean
  /** By edge: a flag an edge; by polygon: a mask of groups. 'own': as the part stores it, by edge for groups. */
  readonly smoothing: 'own' | 'edges' | 'polygons' | 'none'
  readonly creases: boolean
  readonly colors: boolean
  readonly materials: boolean
}

/** Creases run from 0 to 1 in the file, sharpness to 10. */
const CREASE_SCALE = 10

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
const normalsAreWhole = (normals: CornerNormals): boolean => normals.indices.every((index) => index >= 0)

/** What of a mesh `writeGeometry` leaves out although it was asked for, in an artist's words. */
export function lossesOf(mesh: Mesh, options: GeometryOptions): string[] {
  const lost: string[] = []
  if (mesh.shapes.length) lost.push('blend shapes')
  if (mesh.skin) lost.push('skin weights')
  if (mesh.groups) lost.push('face groups')
  if (mesh.lines || mesh.pointElements) lost.push('loose lines and points')
  if (mesh.pointWeights) lost.push('weights of points')
  if (mesh.subdivision.scheme !== 'none') lost.push('the subdivision scheme')
  if (options.normals && mesh.normals && !normalsAreWhole(mesh.normals))
    lost.push('normals that only some corners have')
  if (options.colors && !mesh.colorSets.every(colorsTravel))
    lost.push('colours of other than 3 or 4 channels')
  return lost
}

/** The geometry's children. */
export function writeGeometry(mesh: Mesh, options: GeometryOptions): WriteRecord[] {
  const facts = createMeshFacts(mesh)
  const corners = new Int32Array(mesh.faceVertices)
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const last = mesh.faceOffsets[face + 1]! - 1
    corners[last] = -corners[last]! - 1
  }
  // an edge is named by the first corner that starts it
  const { edgeCount, cornerEdges, edgePoints } = facts.edges()
  const edges = new Int32Array(edgeCount).fill(-1)
  for (let corner = cornerEdges.length - 1; corner >= 0; corner--) edges[cornerEdges[corner]!] = corner
  const records: WriteRecord[] = [
    record('GeometryVersion', [int(124)]),
    record('Vertices', [mesh.points]),
    record('PolygonVertexIndex', [corners]),
    record('Edges', [edges]),
  ]
  const layers: { kind: string; place: number }[] = []
  const add = (entry: WriteRecord, place: number): void => {
    records.push(entry)
    layers.push({ kind: entry.name, place })
  }
  if (options.normals && mesh.normals && normalsAreWhole(mesh.normals))
    add(
      layer('LayerElementNormal', 0, '', 'ByPolygonVertex', 'IndexToDirect', [
        record('Normals', [mesh.normals.values]),
        record('NormalsIndex', [mesh.normals.indices]),
      ]),
      0,
    )
  if (options.uvs)
    mesh.uvSets.forEach((set, place) =>
      add(
        layer('LayerElementUV', place, set.name, 'ByPolygonVertex', 'IndexToDirect', [
          record('UV', [set.values]),
          record('UVIndex', [set.indices]),
        ]),
        place,
      ),
    )
  const { smoothing } = mesh
  const byPolygon =
    options.smoothing === 'polygons' || (options.smoothing === 'own' && smoothing?.kind === 'masks')
  if (smoothing && options.smoothing !== 'none') {
    if (byPolygon && smoothing.kind !== 'edges') {
      const masks = Int32Array.from({ length: faceCountOf(mesh) }, (_value, face) =>
        smoothing.kind === 'masks'
          ? smoothing.faceMasks[face]! | 0
          : smoothing.faceGroups[face]! > 0
            ? 1 << ((smoothing.faceGroups[face]! - 1) % 32)
            : 0,
      )
      add(layer('LayerElementSmoothing', 0, '', 'ByPolygon', 'Direct', [record('Smoothing', [masks])]), 0)
    } else {
      const hard = new Set<number>()
      const pairs = hardEdgePoints(facts)
      for (let at = 0; at < pairs.length; at += 2) hard.add(edgeKey(pairs[at]!, pairs[at + 1]!))
      const flags = Int32Array.from({ length: edgeCount }, (_value, edge) =>
        hard.has(edgeKey(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!)) ? 0 : 1,
      )
      add(layer('LayerElementSmoothing', 0, '', 'ByEdge', 'Direct', [record('Smoothing', [flags])]), 0)
    }
  }
  if (options.creases && mesh.creases) {
    const { creases } = mesh
    if (creases.edgeSharpness.length) {
      const sharpness = new Map<number, number>()
      creases.edgeSharpness.forEach((value, at) =>
        sharpness.set(edgeKey(creases.edgePoints[2 * at]!, creases.edgePoints[2 * at + 1]!), value),
      )
      const weights = Float64Array.from(
        { length: edgeCount },
        (_value, edge) =>
          (sharpness.get(edgeKey(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!)) ?? 0) / CREASE_SCALE,
      )
      add(layer('LayerElementEdgeCrease', 0, '', 'ByEdge', 'Direct', [record('EdgeCrease', [weights])]), 0)
    }
    if (creases.cornerSharpness.length) {
      const weights = new Float64Array(mesh.points.length / 3)
      creases.cornerPoints.forEach(
        (point, at) => (weights[point] = creases.cornerSharpness[at]! / CREASE_SCALE),
      )
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
        layer('LayerElementColor', place, set.name, 'ByPolygonVertex', 'IndexToDirect', [
          record('Colors', [values]),
          record('ColorIndex', [indices]),
        ]),
        place,
      )
    })
  if (options.materials && mesh.faceMaterials) {
    // the file counts the materials of the part, in the order they are linked
    const order = [...new Set(mesh.faceMaterials)].filter((material) => material >= 0)
    const local = mesh.faceMaterials.map((material) => order.indexOf(material))
    const same = local.every((material) => material === local[0])
    add(
      layer('LayerElementMaterial', 0, '', same ? 'AllSame' : 'ByPolygon', 'IndexToDirect', [
        record('Materials', [same ? local.slice(0, 1) : local]),
      ]),
      0,
    )
  }
  const count = Math.max(0, ...layers.map((entry) => entry.place + 1))
  for (let place = 0; place < count; place++)
    records.push(
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
                [text('Type', entry.kind), record('TypedIndex', [int(entry.place)])],
              ),
            ),
        ],
      ),
    )
  return records
}
