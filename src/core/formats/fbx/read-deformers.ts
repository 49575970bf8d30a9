/** Blend shapes and skins of a geometry. */
import type { MessageCollector } from '../../base/messages/collector.ts'
import type { BlendShape, Skin } from '../../scene/mesh.ts'
import type { FbxGraph, FbxObject } from './objects.ts'
import { numberProperty, propertiesOf } from './properties.ts'
import { childOf, indicesOf, numbersOf, numberValue, type FbxRecord } from './tree.ts'

const found = (graph: FbxGraph, id: string, name: string): FbxObject[] =>
  graph.below(id).flatMap(({ id: below }) => {
    const object = graph.objects.get(below)
    return object?.record.name === name ? [object] : []
  })

/** Points that a shape moves; those that the mesh doesn't have are left out and told. */
function readShape(
  record: FbxRecord,
  name: string,
  pointCount: number,
  messages: MessageCollector,
): BlendShape {
  const listed = indicesOf(childOf(record, 'Indexes'))
  const offsets = numbersOf(childOf(record, 'Vertices'))
  const normals = numbersOf(childOf(record, 'Normals'))
  const sound: number[] = []
  listed.forEach((point, at) => {
    if (point >= 0 && point < pointCount && 3 * at + 2 < offsets.length) sound.push(at)
    else
      messages.add(
        'fbx.index-out-of-range',
        { kind: 'point of a blend shape', value: point, available: pointCount },
        null,
        record.place,
      )
  })
  const triples = (values: Float64Array): Float64Array =>
    Float64Array.from(sound.flatMap((at) => [values[3 * at]!, values[3 * at + 1]!, values[3 * at + 2]!]))
  const all = sound.length === listed.length
  return {
    name,
    points: Uint32Array.from(sound, (at) => listed[at]!),
    offsets: all ? offsets.slice(0, 3 * sound.length) : triples(offsets),
    normals: normals.length >= 3 * listed.length && normals.length > 0 ? triples(normals) : null,
  }
}

/** All shapes of a geometry, those of one channel in a row. */
export function readShapes(
  graph: FbxGraph,
  geometry: FbxObject,
  pointCount: number,
  used: Set<string>,
  messages: MessageCollector,
): BlendShape[] {
  const shapes: BlendShape[] = []
  // in 6.x they stand in the model itself
  for (const record of geometry.record.children)
    if (record.name === 'Shape' && typeof record.values[0] === 'string')
      shapes.push(readShape(record, record.values[0], pointCount, messages))
  for (const deformer of found(graph, geometry.id, 'Deformer')) {
    if (deformer.kind !== 'BlendShape') continue
    used.add(deformer.id)
    for (const channel of found(graph, deformer.id, 'Deformer')) {
      if (channel.kind !== 'BlendShapeChannel') continue
      used.add(channel.id)
      const targets = found(graph, channel.id, 'Geometry').filter((target) => target.kind === 'Shape')
      const full = numbersOf(childOf(channel.record, 'FullWeights'))
      const weight =
        numberValue(childOf(channel.record, 'DeformPercent')?.values[0]) ??
        numberProperty(propertiesOf(channel.record, null), 'DeformPercent', 0)
      targets.forEach((target, at) => {
        used.add(target.id)
        const fullWeight = full[at] ?? 100
        shapes.push({
          ...readShape(target.record, target.name || channel.name, pointCount, messages),
          channel: channel.name,
          ...(fullWeight === 100 ? {} : { fullWeight }),
          ...(weight ? { weight } : {}),
          source: channel.id,
        })
      })
    }
  }
  return shapes
}

const matrixOf = (record: FbxRecord | null): Float64Array | null => {
  const values = numbersOf(record)
  return values.length >= 16 && values.every(Number.isFinite) ? values.subarray(0, 16) : null
}

const IDENTITY = Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1)

/** The first skin of a geometry, with the nodes that move it by number. */
export function readSkin(
  graph: FbxGraph,
  geometry: FbxObject,
  pointCount: number,
  nodeOf: ReadonlyMap<string, number>,
  used: Set<string>,
  messages: MessageCollector,
): Skin | null {
  const skin = found(graph, geometry.id, 'Deformer').find((deformer) => deformer.kind === 'Skin')
  if (!skin) return null
  used.add(skin.id)
  const jointNodes: number[] = []
  const jointBinds: number[] = []
  const meshBinds: number[] = []
  const weights: { point: number; joint: number; weight: number }[] = []
  for (const cluster of found(graph, skin.id, 'Deformer')) {
    if (cluster.kind !== 'Cluster') continue
    used.add(cluster.id)
    const joint = jointNodes.length
    const node = found(graph, cluster.id, 'Model')[0]
    jointNodes.push(node ? (nodeOf.get(node.id) ?? -1) : -1)
    jointBinds.push(...(matrixOf(childOf(cluster.record, 'TransformLink')) ?? IDENTITY))
    meshBinds.push(...(matrixOf(childOf(cluster.record, 'Transform')) ?? IDENTITY))
    const points = indicesOf(childOf(cluster.record, 'Indexes'))
    const values = numbersOf(childOf(cluster.record, 'Weights'))
    points.forEach((point, at) => {
      if (point >= 0 && point < pointCount) weights.push({ point, joint, weight: values[at] ?? 0 })
      else
        messages.add(
          'fbx.index-out-of-range',
          { kind: 'point of a skin', value: point, available: pointCount },
          null,
          cluster.record.place,
        )
    })
  }
  const offsets = new Uint32Array(pointCount + 1)
  for (const { point } of weights) offsets[point + 1]!++
  for (let point = 0; point < pointCount; point++) offsets[point + 1]! += offsets[point]!
  const next = offsets.slice()
  const joints = new Uint32Array(weights.length)
  const shares = new Float64Array(weights.length)
  for (const { point, joint, weight } of weights) {
    const at = next[point]!++
    joints[at] = joint
    shares[at] = weight
  }
  const method = childOf(skin.record, 'SkinningType')?.values[0]
  return {
    jointNodes: Int32Array.from(jointNodes),
    jointBinds: Float64Array.from(jointBinds),
    meshBinds: Float64Array.from(meshBinds),
    ...(typeof method === 'string' ? { method } : {}),
    offsets,
    joints,
    weights: shares,
  }
}
