/** Skeletons, skins and shapes. Source: OpenUSD, UsdSkel (“schemas in-depth”: Skeleton, binding, BlendShape). */
import { counted } from '../../base/messages/render.ts'
import { invertAffine, multiplyMatrices } from '../../base/math/matrix.ts'
import type { MessageCollector } from '../../base/messages/collector.ts'
import type { BlendShape, Mesh, Skin } from '../../scene/mesh.ts'
import { IDENTITY_MATRIX } from '../../scene/scene.ts'
import { withChannels } from '../notes/mesh-notes.ts'
import type { Stage, StagePrim } from './compose.ts'
import { notesIn } from './prim-notes.ts'
import { nameOf, shownName } from './read-mesh.ts'
import { numbersIn, textsIn } from './read-transform.ts'

/** The joints of a skeleton: their words, parents and places. */
export interface ReadJoints {
  readonly words: readonly string[]
  readonly names: readonly string[]
  /** Places in the list; -1 for one that hangs under the skeleton. */
  readonly parents: readonly number[]
  /** Column-major, in the parent joint’s space. */
  readonly locals: readonly (readonly number[])[]
  /** Column-major, in the skeleton’s space: where each was bound. */
  readonly binds: readonly (readonly number[])[]
}

const matrixAt = (values: Float64Array | null, index: number): readonly number[] | null =>
  values && values.length >= 16 * (index + 1) ? [...values.subarray(16 * index, 16 * index + 16)] : null

/** A joint’s word is a path of joints: what stands before its last part is its parent. */
export function readJoints(skeleton: StagePrim): ReadJoints {
  const words = textsIn(skeleton, 'joints')
  const numberOf = new Map(words.map((word, index) => [word, index]))
  const names = textsIn(skeleton, 'jointNames')
  const rest = numbersIn(skeleton, 'restTransforms')
  const bound = numbersIn(skeleton, 'bindTransforms')
  const parents = words.map((word, index) => {
    for (let end = word.lastIndexOf('/'); end > 0; end = word.lastIndexOf('/', end - 1)) {
      const parent = numberOf.get(word.slice(0, end))
      // a parent stands before its joints
      if (parent !== undefined && parent < index) return parent
    }
    return -1
  })
  const binds = words.map((_word, index) => matrixAt(bound, index) ?? IDENTITY_MATRIX)
  const locals = words.map((_word, index) => {
    const own = matrixAt(rest, index)
    if (own) return own
    const above = parents[index]! < 0 ? null : binds[parents[index]!]!
    return above ? multiplyMatrices(invertAffine(above) ?? IDENTITY_MATRIX, binds[index]!) : binds[index]!
  })
  return {
    words,
    names: words.map((word, index) => names[index] || word.split('/').pop() || `joint_${index + 1}`),
    parents,
    locals,
    binds,
  }
}

/** A list that a prim or what it hangs under says: bindings of skeletons go down. */
export function inherited(prim: StagePrim, above: readonly StagePrim[], name: string): StagePrim | null {
  for (const own of [prim, ...[...above].reverse()]) if (own.properties.has(name)) return own
  return null
}

/**
 * @param joints of the skeleton that the mesh is bound to, with their nodes in the scene.
 * @param isOfSkeleton where the mesh lists joints of its own, they are some of the skeleton’s.
 */
export function readSkin(
  prim: StagePrim,
  pointCount: number,
  joints: ReadJoints,
  nodes: readonly number[],
  messages: MessageCollector,
): Skin | null {
  const indices = numbersIn(prim, 'primvars:skel:jointIndices')
  const weights = numbersIn(prim, 'primvars:skel:jointWeights')
  if (!indices || !weights || indices.length === 0) return null
  const property = prim.properties.get('primvars:skel:jointIndices')!
  const stated = property.metadata.get('elementSize')
  const isConstant = property.metadata.get('interpolation') === 'constant'
  const perPoint = typeof stated === 'number' && stated > 0 ? stated : isConstant ? indices.length : Math.max(1, Math.round(indices.length / pointCount)) // prettier-ignore
  if (indices.length !== weights.length || indices.length < (isConstant ? perPoint : perPoint * pointCount)) {
    messages.add('usd.values', {
      name: nameOf(prim),
      what: 'its skin',
      found: Math.min(indices.length, weights.length),
      wanted: perPoint * pointCount,
    })
    return null
  }
  const listed = textsIn(prim, 'skel:joints')
  const order = listed.length
    ? listed.map((word) => joints.words.indexOf(word))
    : joints.words.map((_word, at) => at)
  const shape = matrixAt(numbersIn(prim, 'primvars:skel:geomBindTransform'), 0) ?? IDENTITY_MATRIX
  const jointBinds = new Float64Array(16 * order.length)
  const meshBinds = new Float64Array(16 * order.length)
  order.forEach((joint, at) => {
    const bind = joints.binds[joint] ?? IDENTITY_MATRIX
    jointBinds.set(bind, 16 * at)
    meshBinds.set(multiplyMatrices(invertAffine(bind) ?? IDENTITY_MATRIX, shape), 16 * at)
  })
  const offsets = new Uint32Array(pointCount + 1)
  const own: number[] = []
  const shares: number[] = []
  let bad = 0
  for (let point = 0; point < pointCount; point++) {
    const first = own.length
    const from = isConstant ? 0 : perPoint * point
    for (let at = from; at < from + perPoint; at++) {
      const [joint, weight] = [indices[at]!, weights[at]!]
      if (!(weight > 0)) continue
      if (!(joint >= 0 && joint < order.length)) {
        bad++
        continue
      }
      const known = own.indexOf(joint, first)
      if (known >= 0) shares[known]! += weight
      else {
        own.push(joint)
        shares.push(weight)
      }
    }
    offsets[point + 1] = own.length
  }
  if (bad > 0)
    messages.add('usd.values', { name: nameOf(prim), what: `${counted(bad, 'weight')} of its skin`, found: order.length, wanted: 'more joints' }) // prettier-ignore
  const method = prim.properties.get('primvars:skel:skinningMethod')?.value
  return {
    jointNodes: Int32Array.from(order, (joint) => nodes[joint] ?? -1),
    jointBinds,
    meshBinds,
    ...(typeof method === 'string' ? { method } : {}),
    offsets,
    joints: Uint32Array.from(own),
    weights: Float64Array.from(shares),
  }
}

/** Shapes of one prim list the same points: what a shape leaves where it is was listed for the others. */
function withoutStill({ points, offsets, normals }: Pick<BlendShape, 'points' | 'offsets' | 'normals'>) {
  const moves = (values: Float64Array | null | undefined, at: number): boolean =>
    values?.subarray(3 * at, 3 * at + 3).some((value) => value !== 0) ?? false
  const isMoved = Array.from(points, (_point, at) => moves(offsets, at) || moves(normals, at))
  const kept = (values: Float64Array): Float64Array => values.filter((_value, at) => isMoved[Math.floor(at / 3)]) // prettier-ignore
  return {
    points: points.filter((_point, at) => isMoved[at]),
    offsets: kept(offsets),
    ...(normals ? { normals: kept(normals) } : {}),
  }
}

/** Shapes of a mesh, by the prims that it names. @param weightOf the present weight of a shape by its word, 0 to 1. */
export function readShapes(
  stage: Stage,
  prim: StagePrim,
  pointCount: number,
  weightOf: (word: string) => number,
  messages: MessageCollector,
): readonly BlendShape[] {
  const words = textsIn(prim, 'skel:blendShapes')
  const targets = prim.properties.get('skel:blendShapeTargets')?.targets ?? []
  const shapes: BlendShape[] = []
  targets.forEach((target, at) => {
    const shape = stage.find(target)
    if (!shape) {
      messages.add('usd.missing-prim', { place: `“${nameOf(prim)}”`, path: target.slice(0, 200) })
      return
    }
    const word = words[at] ?? shape.name
    const stated = numbersIn(shape, 'pointIndices')
    const points = stated ?? Float64Array.from({ length: pointCount }, (_none, point) => point)
    const add = (
      offsets: Float64Array | null,
      normals: Float64Array | null,
      more: Partial<BlendShape>,
    ): void => {
      const isWhole = offsets && offsets.length === 3 * points.length
      if (!isWhole || points.some((point) => !(point >= 0 && point < pointCount))) {
        messages.add('usd.values', {
          name: nameOf(prim),
          what: `the shape “${word}”`,
          found: (offsets?.length ?? 0) / 3,
          wanted: points.length,
        })
        return
      }
      const weight = weightOf(word)
      const own = { points: Uint32Array.from(points), offsets, ...(normals && normals.length === offsets.length ? { normals } : {}) } // prettier-ignore
      shapes.push({
        name: shownName(shape, word),
        ...(between.length ? withoutStill(own) : own),
        ...(weight === 0 ? {} : { weight: 100 * weight }),
        ...more,
      })
    }
    // in-betweens stand beside the shape that they lead to
    const between = [...shape.properties.values()]
      .filter(({ name }) => /^inbetweens:[^:]+$/.test(name))
      .map((property) => ({ property, at: Number(property.metadata.get('weight') ?? NaN) }))
      .filter((one) => one.at > 0 && one.at < 1)
      .sort((a, b) => a.at - b.at)
    for (const { property, at: full } of between)
      add(
        property.value instanceof Float64Array ? property.value : null,
        numbersIn(shape, `${property.name}:normalOffsets`),
        {
          name: shownName(property, property.name.slice('inbetweens:'.length)),
          channel: word,
          fullWeight: 100 * full,
        },
      )
    add(
      numbersIn(shape, 'offsets'),
      numbersIn(shape, 'normalOffsets'),
      between.length ? { channel: word } : {},
    )
  })
  return withChannels(shapes, notesIn(prim))
}

/** The mesh with its shapes and skin. */
export const deformed = (mesh: Mesh, shapes: readonly BlendShape[], skin: Skin | null): Mesh => ({
  ...mesh,
  ...(shapes.length ? { shapes } : {}),
  ...(skin ? { skin } : {}),
})
