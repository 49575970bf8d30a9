/** Blend shapes and skin weights of vertices. Source: glTF 2.0, sections 3.7.2.2 and 3.7.3. */
import type { BlendShape, Mesh } from '../../scene/mesh.ts'
import { TARGETS, type BufferWriter } from './buffer-writer.ts'

/** Sets of four joints that a point may have. */
const MOST_SETS = 4

/**
 * One shape: moves of all vertices, or of those that move where they are few.
 *
 * @param vertices which attributes they have: what they don't have can't be changed. @param lost what that leaves out, but for
 * what is not wanted.
 */
export function writeTarget(
  shape: BlendShape,
  vertexPoints: Uint32Array,
  pointCount: number,
  writer: BufferWriter,
  vertices: object,
  { normals }: { readonly normals: boolean },
  lost: Set<string>,
): Record<string, number> {
  const placeOf = new Int32Array(pointCount).fill(-1)
  shape.points.forEach((point, at) => (placeOf[point] = at))
  const moved: number[] = []
  vertexPoints.forEach((point, vertex) => placeOf[point]! >= 0 && moved.push(vertex))
  const write = (moves: Float64Array): number => {
    const values = new Float32Array(3 * moved.length)
    moved.forEach((vertex, at) => {
      const place = placeOf[vertexPoints[vertex]!]!
      for (let axis = 0; axis < 3; axis++) values[3 * at + axis] = Math.fround(moves[3 * place + axis]!) || 0
    })
    if (moved.length > 0 && 3 * moved.length < vertexPoints.length)
      return writer.sparse(vertexPoints.length, Uint32Array.from(moved), values)
    const all = new Float32Array(3 * vertexPoints.length)
    moved.forEach((vertex, at) => all.set(values.subarray(3 * at, 3 * at + 3), 3 * vertex))
    return writer.floats(all, 'VEC3', { bounds: true, target: TARGETS.vertices })
  }
  const written: Record<string, number> = { POSITION: write(shape.offsets) }
  for (const [semantic, turns, what] of [
    ['NORMAL', shape.normals, 'normals'],
    ['TANGENT', shape.tangents, 'tangents'],
  ] as const) {
    if (!turns) continue
    if (semantic in vertices) written[semantic] = write(turns)
    else if (normals && turns.some((value) => value !== 0)) lost.add(`how blend shapes turn ${what}`)
  }
  return written
}

/** Joints and weights of points, four a set; the heaviest where there are more than can be. */
export interface PointInfluences {
  readonly setCount: number
  readonly joints: Uint16Array
  readonly weights: Float32Array
  readonly jointCount: number
}

/** Weights of a point make one together. */
export function influencesOf(mesh: Mesh, lost: Set<string>): PointInfluences {
  const { offsets, joints, weights, jointNodes } = mesh.skin!
  let most = 1
  for (let point = 0; point + 1 < offsets.length; point++)
    most = Math.max(most, offsets[point + 1]! - offsets[point]!)
  const setCount = Math.min(MOST_SETS, Math.ceil(most / 4))
  if (most > 4 * setCount) lost.add(`more than ${4 * setCount} joints of a point`)
  const perVertex = 4 * setCount
  const pointCount = mesh.points.length / 3
  const pointJoints = new Uint16Array(perVertex * pointCount)
  const pointWeights = new Float32Array(perVertex * pointCount)
  for (let point = 0; point < pointCount; point++) {
    const own: { joint: number; weight: number }[] = []
    for (let at = offsets[point]!; at < offsets[point + 1]!; at++)
      if (weights[at]! > 0) own.push({ joint: joints[at]!, weight: weights[at]! })
    // in their own order, unless some have to go
    if (own.length > perVertex) own.sort((a, b) => b.weight - a.weight).splice(perVertex)
    const sum = own.reduce((total, { weight }) => total + weight, 0)
    if (own.length === 0) {
      lost.add('points that no joint moves; they go with the first')
      own.push({ joint: 0, weight: 1 })
    }
    const by = sum > 0 && Math.abs(sum - 1) > 1e-6 ? sum : 1
    // what numbers of 32 bits leave of a sum is nothing that anyone set
    if (Math.abs(by - 1) > 1e-4) lost.add('weights of joints that are not 1 together; they are in it')
    own.forEach(({ joint, weight }, at) => {
      pointJoints[perVertex * point + at] = joint
      pointWeights[perVertex * point + at] = weight / by
    })
  }
  return { setCount, joints: pointJoints, weights: pointWeights, jointCount: jointNodes.length }
}

/** @param vertexPoints the point of each vertex. */
export function writeInfluences(
  { setCount, joints, weights, jointCount }: PointInfluences,
  vertexPoints: Uint32Array,
  writer: BufferWriter,
): Record<string, number> {
  const perVertex = 4 * setCount
  const attributes: Record<string, number> = {}
  for (let set = 0; set < setCount; set++) {
    const ownJoints = new Uint16Array(4 * vertexPoints.length)
    const ownWeights = new Float32Array(4 * vertexPoints.length)
    vertexPoints.forEach((point, vertex) => {
      for (let k = 0; k < 4; k++) {
        ownJoints[4 * vertex + k] = joints[perVertex * point + 4 * set + k]!
        ownWeights[4 * vertex + k] = weights[perVertex * point + 4 * set + k]!
      }
    })
    attributes[`JOINTS_${set}`] = writer.joints(ownJoints, jointCount)
    attributes[`WEIGHTS_${set}`] = writer.floats(ownWeights, 'VEC4', { target: TARGETS.vertices })
  }
  return attributes
}
