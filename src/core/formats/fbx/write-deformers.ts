/** Blend shapes and skins as objects that hang under a geometry. */
import { invertAffine, multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import type { BlendShape, Mesh } from '../../scene/mesh.ts'
import { IDENTITY_MATRIX } from '../../scene/scene.ts'
import type { GraphWriter } from './write-graph.ts'
import { double, int, propertyRow, record } from './write-tree.ts'

/** Puts a mesh’s blend shapes into the graph, in-betweens under one channel. */
export function writeShapes(mesh: Mesh, geometry: bigint, graph: GraphWriter): void {
  if (mesh.shapes.length === 0) return
  const channels = new Map<string, BlendShape[]>()
  for (const shape of mesh.shapes) {
    const name = shape.channel ?? shape.name
    const held = channels.get(name)
    if (held) held.push(shape)
    else channels.set(name, [shape])
  }
  const deformer = graph.add('Deformer', mesh.name, 'BlendShape', [record('Version', [int(100)])])
  graph.link(deformer, geometry)
  for (const [name, shapes] of channels) {
    const weight = shapes[0]!.weight ?? 0
    const channel = graph.add(
      'Deformer',
      name,
      'BlendShapeChannel',
      [
        record('Version', [int(100)]),
        record('DeformPercent', [double(weight)]),
        record('FullWeights', [Float64Array.from(shapes, (shape) => shape.fullWeight ?? 100)]),
        record('Properties70', [], [propertyRow('DeformPercent', 'Number', '', 'A', double(weight))]),
      ],
      shapes[0]!.source,
    )
    graph.link(channel, deformer)
    for (const shape of shapes) {
      const target = graph.add('Geometry', shape.name, 'Shape', [
        record('Version', [int(100)]),
        record('Indexes', [Int32Array.from(shape.points)]),
        record('Vertices', [shape.offsets]),
        record('Normals', [shape.normals ?? new Float64Array(shape.offsets.length)]),
      ])
      graph.link(target, channel)
    }
  }
}

/**
 * @param worlds world matrix of each node, for joints of which it isn't known where they were bound.
 * @param node a node that shows the mesh.
 */
export function writeSkin(
  mesh: Mesh,
  geometry: bigint,
  graph: GraphWriter,
  nodeIds: readonly bigint[],
  worlds: readonly Matrix[],
  node: number,
): void {
  const { skin } = mesh
  if (!skin) return
  const deformer = graph.add('Deformer', mesh.name, 'Skin', [
    record('Version', [int(101)]),
    record('Link_DeformAcuracy', [double(50)]),
    ...(skin.method ? [record('SkinningType', [skin.method])] : []),
  ])
  graph.link(deformer, geometry)
  const points: number[][] = Array.from(skin.jointNodes, () => [])
  const weights: number[][] = Array.from(skin.jointNodes, () => [])
  for (let point = 0; point + 1 < skin.offsets.length; point++)
    for (let at = skin.offsets[point]!; at < skin.offsets[point + 1]!; at++) {
      points[skin.joints[at]!]!.push(point)
      weights[skin.joints[at]!]!.push(skin.weights[at]!)
    }
  skin.jointNodes.forEach((jointNode, joint) => {
    const here = jointNode >= 0 ? worlds[jointNode]! : IDENTITY_MATRIX
    const bind = skin.jointBinds?.subarray(16 * joint, 16 * joint + 16) ?? Float64Array.from(here)
    const place =
      skin.meshBinds?.subarray(16 * joint, 16 * joint + 16) ??
      Float64Array.from(multiplyMatrices(invertAffine(here) ?? IDENTITY_MATRIX, worlds[node]!))
    const cluster = graph.add('Deformer', '', 'Cluster', [
      record('Version', [int(100)]),
      record('UserData', ['', '']),
      ...(points[joint]!.length
        ? [
            record('Indexes', [Int32Array.from(points[joint]!)]),
            record('Weights', [Float64Array.from(weights[joint]!)]),
          ]
        : []),
      record('Transform', [place.slice()]),
      record('TransformLink', [bind.slice()]),
    ])
    graph.link(cluster, deformer)
    if (jointNode >= 0) graph.link(nodeIds[jointNode]!, cluster)
  })
}
