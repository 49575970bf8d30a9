/**
 * Maps that one way of describing a surface has and the other hasn't: base colour and metalness on one side, diffuse and
 * specular colour (with an index of refraction) on the other. No file of one shows what the other needs; each pixel is
 * converted through the hub, as a material's values are.
 */
import { safePart } from '../../image/map-sets/path-names.ts'
import type { Slot } from '../../scene/material.ts'
import { convertValues, difference } from '../convert/convert-surface.ts'
import type { SurfaceModel, SurfaceParameter, SurfaceValue, SurfaceValues } from '../model.ts'
import { colorSpaceOf, PLAIN_PLACEMENT, type MapUse } from './map-use.ts'

export interface ReflectanceInput {
  readonly use: MapUse
  /** Of the model that pixels are read as. */
  readonly parameter: SurfaceParameter
  /** What its pixels are multiplied by. */
  readonly factor: readonly number[]
}

export interface ReflectanceOutput {
  readonly parameter: SurfaceParameter
  readonly channels: 1 | 3
  readonly colorSpace: 'sRGB' | 'linear'
  /** The drawn pixels times this are the parameter's values. */
  readonly scale: number
  /** Path under which the image is known until it gets its own, with the source's word for tiles. */
  readonly file: string
}

export interface ReflectanceMaps {
  readonly from: SurfaceModel
  readonly to: SurfaceModel
  /** The material's other values, in the model that pixels are read as. */
  readonly values: SurfaceValues
  readonly inputs: readonly ReflectanceInput[]
  readonly outputs: readonly ReflectanceOutput[]
  /** Values of the target that differ from pixel to pixel and that it has no map for. */
  readonly unmapped: readonly string[]
  /** Pixels that are converted there and back are the same. */
  readonly isExact: boolean
}

/** What describes how much a surface reflects. */
const REFLECTANCE: ReadonlySet<Slot> = new Set<Slot>(['baseColor', 'metalness', 'specular', 'ior'])

const mapped = (model: SurfaceModel, slot: Slot): SurfaceParameter | undefined =>
  model.parameters.find(
    (parameter) => parameter.slot === slot && parameter.mapName !== null && parameter.name !== null,
  )

/** metal: it has maps of metalness; specular: it has none, and a colour of what is reflected. */
function workflowOf(model: SurfaceModel): 'metal' | 'specular' | null {
  if (model.parameters.some(({ slot, mapName }) => slot === 'metalness' && mapName !== null)) return 'metal'
  return mapped(model, 'specular')?.width === 3 ? 'specular' : null
}

/** How a material's maps describe it: by what there is of them, and by its model where they came with it. */
function workflowOfMaps(uses: readonly MapUse[], model: SurfaceModel): 'metal' | 'specular' | null {
  const has = (slot: Slot): MapUse | undefined => uses.find((use) => use.slot === slot)
  if (has('metalness')) return 'metal'
  const specular = has('specular')
  if (!specular) return null
  if (specular.from === 'material') return workflowOf(model) === 'specular' ? 'specular' : null
  // a map of gloss beside it: the pair that goes with diffuse colour (common practice)
  return has('roughness')?.inverted ? 'specular' : null
}

/**
 * @param models that pixels are read as: one with metalness, one with diffuse and specular colour.
 * @param values of the material in a model of its choice, neutral where a map says all.
 * @param material its place in the list keeps names that a disk takes for one apart.
 * @returns null where every map goes into the target as it is.
 */
export function reflectanceMaps(
  uses: readonly MapUse[],
  source: SurfaceModel,
  target: SurfaceModel,
  models: { readonly metal: SurfaceModel; readonly specular: SurfaceModel },
  valuesIn: (model: SurfaceModel) => SurfaceValues,
  { name, place }: { readonly name: string; readonly place: number },
): ReflectanceMaps | null {
  const workflow = workflowOfMaps(uses, source)
  const wanted = workflowOf(target)
  if (!workflow || !wanted || (workflow === wanted && (workflow === 'metal' || source === target)))
    return null
  const from = workflow === 'specular' && workflowOf(source) === 'specular' ? source : models[workflow]
  const values = valuesIn(from)
  const inputs = uses.flatMap((use): ReflectanceInput[] => {
    const parameter = REFLECTANCE.has(use.slot) ? mapped(from, use.slot) : undefined
    if (!parameter?.name) return []
    const value = values[parameter.name]
    const own =
      typeof value === 'number' ? [value] : Array.isArray(value) ? (value as readonly number[]) : [1]
    const isTimes = use.isTimesValue === true
    const factor = Array.from({ length: parameter.width }, (_, at) => (isTimes ? (own[at] ?? own[0]!) : 1))
    return [{ use, parameter, factor }]
  })
  // pixel by pixel only where both lie on the surface alike
  const [first] = inputs
  const lie = ({ use }: ReflectanceInput): string =>
    JSON.stringify([use.uvSet, use.placement ?? PLAIN_PLACEMENT])
  if (!first || inputs.some((one) => lie(one) !== lie(first))) return null
  // what has no tiles is the same in each
  const tileWords = new Set(inputs.flatMap(({ use }) => /<\w+>/.exec(use.file)?.[0] ?? []))
  if (tileWords.size > 1) return null
  // what lies over another map is no pixel of one image
  if (inputs.some(({ parameter }, at) => inputs.findIndex((one) => one.parameter === parameter) !== at))
    return null
  const { varying, largest, isExact } = varyingParameters(from, target, values, inputs)
  const outputs: ReflectanceOutput[] = []
  const unmapped: string[] = []
  const [tile] = tileWords
  for (const parameter of varying) {
    if (parameter.mapName === null || parameter.kind !== (parameter.width === 3 ? 'color' : 'number')) {
      unmapped.push(parameter.name!)
      continue
    }
    outputs.push({
      parameter,
      channels: parameter.width === 3 ? 3 : 1,
      colorSpace: parameter.width === 3 ? colorSpaceOf(parameter.slot!) : 'linear',
      scale: Math.max(1, largest.get(parameter.name!)!),
      file: `converted/${place}/${safePart(name)}_${parameter.name}${tile ? `.${tile}` : ''}.png`,
    })
  }
  return outputs.length ? { from, to: target, values, inputs, outputs, unmapped, isExact } : null
}

/** Places of each input's range at which the target's parameters are compared. */
const STEPS = [0, 0.04, 0.2, 0.5, 0.8, 1]

/** Less than the smallest step of a map. */
const COMES_BACK = 1 / 512

/** The target's parameters that depend on the inputs, and how large each gets. */
function varyingParameters(
  from: SurfaceModel,
  target: SurfaceModel,
  values: SurfaceValues,
  inputs: readonly ReflectanceInput[],
): { varying: SurfaceParameter[]; largest: ReadonlyMap<string, number>; isExact: boolean } {
  let isExact = true
  let first: SurfaceValues | null = null
  const varying = new Set<string>()
  const largest = new Map<string, number>()
  const size = (value: SurfaceValue | undefined): number =>
    typeof value === 'number' ? value : Array.isArray(value) ? Math.max(...(value as readonly number[])) : 0
  // every pair of steps, each channel at another of them
  for (const [one, a] of STEPS.entries())
    for (const [two, b] of STEPS.entries()) {
      const given = { ...values }
      inputs.forEach(({ parameter }, at) => {
        const own = at === 0 ? a : b
        const [least, most] = parameter.range ?? [0, 1]
        given[parameter.name!] =
          parameter.width === 3
            ? [own, STEPS[(one + 1) % 6]!, STEPS[(two + 2) % 6]!]
            : least + own * ((most ?? 1) - least)
      })
      const out = convertValues(given, from, target)
      first ??= out
      const back = convertValues(out, target, from)
      for (const { parameter } of inputs)
        if (difference(back[parameter.name!], given[parameter.name!]) > COMES_BACK) isExact = false
      for (const { name } of target.parameters) {
        if (name === null) continue
        if (difference(out[name], first[name]) > 1e-6) varying.add(name)
        largest.set(name, Math.max(largest.get(name) ?? 0, size(out[name])))
      }
    }
  return {
    varying: target.parameters.filter(({ name }) => name !== null && varying.has(name)),
    largest,
    isExact,
  }
}
