/** What one map for all consists of: which parameters become images, and what each material draws into them. */
import { difference, hasNoEffect, SAME_WITHIN, valueText } from '../convert/convert-surface.ts'
import type { SurfaceParameter, SurfaceValue } from '../model.ts'
import { colorSpaceOf, type MapUse } from '../remap/map-use.ts'
import type { MapLayer, RemappedMaterial, RemappedParameter } from '../remap/remapped-material.ts'
import { valuesOf } from '../remap/apply-remap.ts'

export type DrawingKind = 'color' | 'number' | 'normal' | 'height'

/** What a map lays down, where it covers. */
export interface Stroke {
  /** Place in `scene.materials`; -1 for polygons without one. */
  readonly material: number
  readonly use: MapUse
  /** What its values are multiplied by. */
  readonly factor: readonly number[]
  /** Share of it that counts, over what lies below: 1 for all. */
  readonly share: number
  /** Laid over by its own opacity, and how; null: it covers. */
  readonly layer: Pick<MapLayer, 'blend' | 'isDecal'> | null
}

export interface Drawing {
  readonly parameter: string
  readonly kind: DrawingKind
  readonly channels: 1 | 3
  readonly colorSpace: 'sRGB' | 'linear'
  /** The drawn pixels times this are the parameter's values. */
  readonly scale: readonly number[]
  /** By material: what stands where no map covers, in the drawing's own numbers. */
  readonly grounds: ReadonlyMap<number, readonly number[]>
  readonly strokes: readonly Stroke[]
}

export interface OneMapPlan {
  readonly drawings: readonly Drawing[]
  /** The one material's rows, without the files of what is drawn. */
  readonly parameters: readonly RemappedParameter[]
  /** Values that differ and that no map can hold: the parameter, what was taken, how many have another. */
  readonly differing: readonly {
    readonly parameter: string
    readonly taken: string
    readonly others: number
  }[]
}

/** @param weights how much of the surface each material has: the one with the most decides what no map can hold. */
export function planOneMap(
  materials: ReadonlyMap<number, RemappedMaterial>,
  weights: ReadonlyMap<number, number>,
): OneMapPlan {
  const places = [...materials.keys()].sort((a, b) => (weights.get(b) ?? 0) - (weights.get(a) ?? 0))
  const first = materials.get(places[0]!)!
  const drawings: Drawing[] = []
  const differing: { parameter: string; taken: string; others: number }[] = []
  const parameters = first.target.parameters.map((parameter, at): RemappedParameter => {
    const rowOf = (place: number): RemappedParameter => materials.get(place)!.parameters[at]!
    const row = rowOf(places[0]!)
    const plain = { ...row, map: null, layers: [], how: 'exact', note: '' } as const
    const counting = places.filter((place) => isSeen(materials.get(place)!, parameter))
    const hasMap = counting.some((place) => rowOf(place).map || rowOf(place).layers?.length)
    const [leading = places[0]!] = counting
    const value = rowOf(leading).value
    const others = counting.filter((place) => !isSame(rowOf(place).value, value))
    if (!hasMap && others.length === 0) return { ...plain, value }
    if (parameter.mapName === null || !canBeDrawn(parameter, counting.map(rowOf))) {
      const taken = chosen(parameter, counting.map(rowOf), value)
      const count = counting.filter((place) => !isSame(rowOf(place).value, taken)).length
      if (count) differing.push({ parameter: row.parameter, taken: valueText(taken), others: count })
      return { ...plain, value: taken }
    }
    const drawing = drawingOf(parameter, row, new Map(places.map((place) => [place, rowOf(place)])), first)
    drawings.push(drawing)
    return { ...plain, value: scaleValue(parameter, value, drawing.scale), from: 'material' }
  })
  return { drawings, parameters, differing }
}

const isSame = (a: SurfaceValue | null, b: SurfaceValue | null): boolean =>
  a === b || (a !== null && b !== null && difference(a, b) <= SAME_WITHIN)

/** Whether a parameter makes a difference on a material. */
function isSeen(material: RemappedMaterial, { name }: SurfaceParameter): boolean {
  if (name === null) return true
  const row = material.parameters.find(({ parameter }) => parameter === name)
  return row?.map !== null || !hasNoEffect(name, valuesOf(material), material.target)
}

/** A value that decides how the whole is drawn: see-through as soon as one of the materials is. */
function chosen(
  { choices }: SurfaceParameter,
  rows: readonly RemappedParameter[],
  value: SurfaceValue | null,
): SurfaceValue | null {
  const said = rows.map((row) => row.value)
  for (const wide of ['BLEND', 'MASK']) if (choices?.includes(wide) && said.includes(wide)) return wide
  return value
}

const numbersOf = (value: SurfaceValue | null): readonly number[] | null =>
  typeof value === 'number' ? [value] : Array.isArray(value) ? (value as readonly number[]) : null

/** Pixels hold no numbers below nothing, and no words. */
const canBeDrawn = ({ kind }: SurfaceParameter, rows: readonly RemappedParameter[]): boolean =>
  kind !== 'choice' &&
  kind !== 'boolean' &&
  rows.every(({ value }) => value === null || numbersOf(value)?.every((one) => one >= 0) === true)

const isNormals = (row: RemappedParameter): boolean => row.slot === 'normal' || row.slot === 'clearcoatNormal'
const isHeights = (row: RemappedParameter): boolean => row.slot === 'bump' || row.slot === 'displacement'

function drawingOf(
  parameter: SurfaceParameter,
  row: RemappedParameter,
  rows: ReadonlyMap<number, RemappedParameter>,
  { target }: RemappedMaterial,
): Drawing {
  const kind: DrawingKind = isNormals(row)
    ? 'normal'
    : isHeights(row)
      ? 'height'
      : parameter.width === 3
        ? 'color'
        : 'number'
  const channels = kind === 'normal' || kind === 'color' ? 3 : 1
  const neutral: readonly number[] =
    kind === 'normal' ? [0.5, 0.5, 1] : kind === 'height' ? [0.5] : new Array<number>(channels).fill(1)
  const isFlat = kind === 'normal' || kind === 'height'
  const multiplies = target.timesMap === 'all'
  const isUnmapped = ({ map, layers }: RemappedParameter): boolean => map === null && !layers?.length
  const wide = (value: SurfaceValue | null): readonly number[] => {
    const own = numbersOf(value)
    if (!own || isFlat) return neutral
    return channels === 3 && own.length === 1 ? [own[0]!, own[0]!, own[0]!] : own.slice(0, channels)
  }
  const timesOf = (one: RemappedParameter): readonly number[] =>
    !isFlat && one.map && (one.map.isTimesValue || multiplies) ? wide(one.value) : neutral.map(() => 1)
  // what no pixel can be, the value beside them says
  const scale = neutral.map((_, channel) => {
    if (isFlat) return 1
    let most = 0
    for (const one of rows.values())
      most = Math.max(most, isUnmapped(one) ? wide(one.value)[channel]! : timesOf(one)[channel]!)
    return most > 1 ? most : 1
  })
  const grounds = new Map<number, readonly number[]>()
  const strokes: Stroke[] = []
  for (const [material, one] of rows) {
    const ground = wide(one.value).map((value, channel) => value / scale[channel]!)
    grounds.set(material, isFlat ? neutral : ground)
    const factor = timesOf(one).map((value, channel) => value / scale[channel]!)
    if (one.map) strokes.push({ material, use: one.map, factor, share: one.map.amount, layer: null })
    for (const { use, blend, alpha, isDecal } of one.layers ?? [])
      strokes.push({
        material,
        use,
        factor: scale.map((most) => 1 / most),
        share: alpha * use.amount,
        layer: { blend, isDecal },
      })
  }
  return {
    parameter: row.parameter,
    kind,
    channels,
    colorSpace: kind === 'color' ? colorSpaceOf(row.slot ?? 'baseColor') : 'linear',
    scale,
    grounds,
    strokes,
  }
}

function scaleValue(
  { width }: SurfaceParameter,
  value: SurfaceValue | null,
  scale: readonly number[],
): SurfaceValue | null {
  if (value === null) return null
  return width === 1 ? scale[0]! : [...scale]
}
