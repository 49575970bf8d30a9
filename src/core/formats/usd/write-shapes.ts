/** Blend shapes of a mesh as prims beneath it. Source: OpenUSD, UsdSkelBlendShape, UsdSkelInbetweenShape. */
import type { BlendShape, Mesh } from '../../scene/mesh.ts'
import { identifierOf, usdNames, type UsdNames } from './names.ts'
import { numberText, quote, valueText, type UsdWriter } from './write-text.ts'

export interface PlannedShape {
  /** The word by which skeletons and their animations name it. */
  readonly word: string
  readonly shape: BlendShape
  /** Shapes that are passed on the way to it, by the weight at which each is reached, in rising order. */
  readonly between: readonly BlendShape[]
}

/** Where a channel is reached. */
const WHOLE = 100

/** Those of one channel, where they are one that it leads to and others on the way, none of them at one weight. */
function alongChannel(shapes: readonly BlendShape[]): Omit<PlannedShape, 'word'> | null {
  const rising = [...shapes].sort((a, b) => (a.fullWeight ?? WHOLE) - (b.fullWeight ?? WHOLE))
  const shape = rising.pop()!
  const weights = rising.map(({ fullWeight }) => fullWeight!)
  const isRising = weights.every((weight, at) => weight > (weights[at - 1] ?? 0) && weight < WHOLE)
  return (shape.fullWeight ?? WHOLE) === WHOLE && isRising ? { shape, between: rising } : null
}

/** Shapes as they are written: those on the way to another with it, the rest each by itself. */
export function planShapes({ shapes }: Pick<Mesh, 'shapes'>): PlannedShape[] {
  const channels = new Map<string | BlendShape, BlendShape[]>()
  for (const shape of shapes) {
    const channel = shape.channel ?? shape
    channels.set(channel, [...(channels.get(channel) ?? []), shape])
  }
  return [...channels].flatMap(([channel, own]): PlannedShape[] => {
    const along = typeof channel === 'string' && own.length > 1 ? alongChannel(own) : null
    return along
      ? [{ word: channel as string, ...along }]
      : own.map((shape) => ({ word: shape.name, shape, between: [] }))
  })
}

/** In the order in which they are read again. */
export const inWrittenOrder = (planned: readonly PlannedShape[]): BlendShape[] =>
  planned.flatMap(({ shape, between }) => [...between, shape])

/** A shape's values at points of which it moves some. @param points in rising order, all of its own among them. */
function spread(points: Uint32Array, own: Uint32Array, values: Float64Array): Float64Array {
  const places = new Map(Array.from(points, (point, at) => [point, at]))
  const all = new Float64Array(3 * points.length)
  own.forEach((point, at) => all.set(values.subarray(3 * at, 3 * at + 3), 3 * places.get(point)!))
  return all
}

/** @param taken names that prims beneath the mesh already have. @param path of the mesh. */
export function writeShapes(
  writer: UsdWriter,
  mesh: Mesh,
  names: UsdNames,
  { own: path, taken }: { readonly own: string; readonly taken: Set<string> },
): void {
  const planned = planShapes(mesh)
  const prims = planned.map(({ shape }) => names.unique(shape.name || 'shape', taken))
  writer.line(
    `uniform token[] skel:blendShapes = ${valueText(
      planned.map(({ word }) => word),
      'token[]',
    )}`,
  )
  writer.line(`rel skel:blendShapeTargets = [${prims.map((prim) => `<${path}/${prim}>`).join(', ')}]`)
  planned.forEach(({ word, shape, between }, at) => {
    const settings = shape.name === word ? [] : [`displayName = ${quote(shape.name)}`]
    writer.prim(`def BlendShape ${quote(prims[at]!)}`, settings, () => {
      // all shapes of one prim move the same points
      const points = between.length
        ? Uint32Array.from(new Set([shape, ...between].flatMap((one) => [...one.points]))).sort()
        : shape.points
      const valuesOf = (one: BlendShape, values: Float64Array): Float64Array =>
        between.length ? spread(points, one.points, values) : values
      writer.array('uniform vector3f[] offsets', valuesOf(shape, shape.offsets), 3)
      if (shape.normals) writer.array('uniform vector3f[] normalOffsets', valuesOf(shape, shape.normals), 3)
      writer.array('uniform int[] pointIndices', points, 1)
      const known = new Set<string>()
      for (const one of between) {
        const name = usdNames.unique(one.name || 'shape', known)
        const indent = '    '.repeat(writer.depth() + 1)
        const shown = one.name === identifierOf(one.name) && one.name === name ? '' : `${indent}displayName = ${quote(one.name)}\n` // prettier-ignore
        const head = `uniform vector3f[] inbetweens:${name}`
        writer.array(head, valuesOf(one, one.offsets), 3, ` (\n${shown}${indent}weight = ${numberText(one.fullWeight! / WHOLE)}\n${'    '.repeat(writer.depth())})`) // prettier-ignore
        if (one.normals) writer.array(`${head}:normalOffsets`, valuesOf(one, one.normals), 3)
      }
    })
  })
}
