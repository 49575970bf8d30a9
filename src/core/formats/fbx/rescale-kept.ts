/** What was kept of a file, in the unit that its scene has now: keys of places, poses. */
import type { KeptContent, KeptRecord } from '../../scene/kept.ts'
import { keptWords } from './keep-rest.ts'

type Value = KeptRecord['values'][number]

/** Properties of a node that are lengths, and so are the keys of curves that are tied to them. */
const LENGTHS = new Set([
  'Lcl Translation',
  'RotationOffset',
  'RotationPivot',
  'ScalingOffset',
  'ScalingPivot',
  'GeometricTranslation',
])
/** Objects without any length of their own. */
const NO_LENGTHS = new Set([
  'AnimationStack',
  'AnimationLayer',
  'AnimationCurve',
  'AnimationCurveNode',
  'Pose',
  'Texture',
  'Video',
  'Implementation',
  'BindingTable',
  'DisplayLayer',
  'CollectionExclusive',
  'SelectionSet',
  'Deformer',
  // how large a joint is drawn
  'NodeAttribute',
])
/** Keys with tension, continuity and bias have these where others have slopes. From memory. */
const TENSION = 0x200
/** Numbers that a key's attributes take; the first two are slopes on its two sides. From memory. */
const ATTRIBUTE_LENGTH = 4

const times = (value: Value, ratio: number): Value => {
  if (typeof value === 'number') return value * ratio
  return value instanceof Float64Array || value instanceof Int32Array
    ? Float64Array.from(value, (number) => number * ratio)
    : value
}
/** What has become a number with a part behind the point is no whole number any more. */
const scaledRecord = (record: KeptRecord, from: number, ratio: number): KeptRecord => ({
  ...record,
  kinds: [...record.kinds]
    .map((kind, at) => (at < from ? kind : kind === 'I' || kind === 'L' ? 'D' : kind === 'i' ? 'd' : kind))
    .join(''),
  values: record.values.map((value, at) => (at < from ? value : times(value, ratio))),
})

const mapChildren = (record: KeptRecord, change: (child: KeptRecord) => KeptRecord): KeptRecord => ({
  ...record,
  children: record.children.map(change),
})

function scaledCurve(curve: KeptRecord, ratio: number): KeptRecord {
  const flags = curve.children.find(({ name }) => name === 'KeyAttrFlags')?.values[0]
  return mapChildren(curve, (child) => {
    if (child.name === 'Default' || child.name === 'KeyValueFloat') return scaledRecord(child, 0, ratio)
    if (child.name !== 'KeyAttrDataFloat' || !(child.values[0] instanceof Float64Array)) return child
    const values = child.values[0].map((value, at) => {
      const flag = ArrayBuffer.isView(flags)
        ? Number((flags as Int32Array)[Math.floor(at / ATTRIBUTE_LENGTH)])
        : 0
      return at % ATTRIBUTE_LENGTH < 2 && !(flag & TENSION) ? value * ratio : value
    })
    return { ...child, values: [values] }
  })
}

/** The place in a matrix of a pose stands at 12, 13 and 14. */
function scaledPose(pose: KeptRecord, ratio: number): KeptRecord {
  return mapChildren(pose, (node) =>
    node.name !== 'PoseNode'
      ? node
      : mapChildren(node, (entry) => {
          const [matrix] = entry.values
          if (entry.name !== 'Matrix' || !ArrayBuffer.isView(matrix)) return entry
          const values = Float64Array.from(matrix as Float64Array, (value, at) =>
            at >= 12 && at < 15 ? value * ratio : value,
          )
          return { ...entry, kinds: 'd', values: [values] }
        }),
  )
}

const isCurveNode = (record: KeptRecord): boolean => record.name === 'AnimationCurveNode'

/**
 * Keys of places and pivots, and the places of poses, as they are after the scene was multiplied. What was turned is
 * left as it came, and so are objects whose lengths aren't known.
 *
 * @returns `left`: what stays in the numbers it had, in an artist's words.
 */
export function rescaleKept(kept: KeptContent): { kept: KeptContent; left: readonly string[] } {
  const { since } = kept
  if (!since || (since.scale === 1 && !since.turned)) return { kept, left: [] }
  const words = (wanted: (record: KeptRecord) => boolean): string[] => [
    ...new Set(
      kept.objects.filter(({ record }) => wanted(record)).map(({ record }) => keptWords(record.name)),
    ),
  ]
  if (since.turned)
    return { kept, left: words(({ name }) => !NO_LENGTHS.has(name) || /^Animation|^Pose$/.test(name)) }
  const { scale } = since
  const byId = new Map(kept.objects.map(({ id, record }) => [id, record]))
  const lengths = new Set<string>()
  for (const { from, property } of kept.links) {
    const record = byId.get(from)
    if (record && isCurveNode(record) && property !== null && LENGTHS.has(property)) lengths.add(from)
  }
  for (const { from, to } of kept.links)
    if (lengths.has(to) && byId.get(from)?.name === 'AnimationCurve') lengths.add(from)
  return {
    kept: {
      ...kept,
      objects: kept.objects.map(({ id, record }) => {
        if (record.name === 'Pose') return { id, record: scaledPose(record, scale) }
        if (!lengths.has(id)) return { id, record }
        if (record.name === 'AnimationCurve') return { id, record: scaledCurve(record, scale) }
        // what stands on a channel without keys: name, type, label and flags come first
        const table = mapChildren(record, (properties) =>
          mapChildren(properties, (row) =>
            /^d\|/.test(String(row.values[0])) ? scaledRecord(row, 4, scale) : row,
          ),
        )
        return { id, record: table }
      }),
    },
    left: words(({ name }) => !NO_LENGTHS.has(name)),
  }
}
