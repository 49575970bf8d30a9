/**
 * Which surface model a material is of, and its values in that model's words. Files carry materials under the names
 * that some program gave them; they are read generically: the last part of a name, its letters alone, and whether the
 * value's kind fits. Nothing is thrown away: what no model knows stays listed.
 */
import type { Material, MaterialProperty } from '../scene/material.ts'
import type { SurfaceModel, SurfaceParameter, SurfaceValue, SurfaceValues } from './model.ts'
import { isOutside } from './parameters.ts'
import { SURFACE_MODELS } from './registry.ts'

export interface RecognisedSurface {
  readonly model: SurfaceModel
  readonly values: SurfaceValues
  /** `stated`: the file says which model it is; `sure`, `likely`, `guess`: by its names. */
  readonly how: 'stated' | 'sure' | 'likely' | 'guess'
  /** Share of the material's own names that the model has. */
  readonly share: number
  /** Properties that the model has no parameter for, by the file's own names. */
  readonly unknown: readonly string[]
}

/** The last part of a name, in small letters, letters and digits alone. */
export const plainName = (name: string): string =>
  (name.split(/[|.:/]/).pop() ?? name).toLowerCase().replace(/[^\p{L}\p{N}]/gu, '')

/** Whether a program's own block of parameters: its names have parts. */
const isOfBlock = ({ name }: MaterialProperty): boolean => /[|]/.test(name)

type Names = ReadonlyMap<string, SurfaceParameter>
function namesOf(model: SurfaceModel): Names {
  return new Map(
    model.parameters.flatMap((parameter) =>
      parameter.name === null
        ? []
        : [parameter.name, ...(parameter.synonyms ?? [])].map(
            (name) => [plainName(name), parameter] as const,
          ),
    ),
  )
}

const NAMES: ReadonlyMap<SurfaceModel, Names> = new Map(
  SURFACE_MODELS.map((model) => [model, namesOf(model)]),
)

/** A property's value as a parameter takes it; null where it is of another kind. */
function valueFor(parameter: SurfaceParameter, { values, text }: MaterialProperty): SurfaceValue | null {
  if (parameter.kind === 'choice') return text ?? null
  if (parameter.kind === 'boolean') return values.length === 1 ? values[0] !== 0 : null
  if (parameter.width === 1) return values.length === 1 ? values[0]! : null
  if (values.length >= 3) return values.slice(0, 3)
  return null
}

interface Reading {
  readonly model: SurfaceModel
  readonly values: SurfaceValues
  readonly known: number
  readonly unknown: readonly string[]
  /** Values outside the parameter's range. */
  readonly outside: number
}

function readAs(model: SurfaceModel, properties: readonly MaterialProperty[]): Reading {
  const names = NAMES.get(model) ?? namesOf(model)
  const values: Record<string, SurfaceValue> = {}
  const unknown: string[] = []
  let outside = 0
  for (const property of properties) {
    const parameter = names.get(plainName(property.name))
    const value = parameter && valueFor(parameter, property)
    if (!parameter?.name || value === null || value === undefined) unknown.push(property.name)
    else if (values[parameter.name] === undefined) {
      values[parameter.name] = value
      if (isOutside(parameter, value)) outside++
    }
  }
  return { model, values, known: Object.keys(values).length, unknown, outside }
}

/** What a reading is worth: names that are known, less those that aren't and values that can't be meant. */
const worth = ({ known, unknown, outside }: Reading): number => known - 0.25 * unknown.length - 0.5 * outside

/**
 * A material that says which model it is of is read by it, unless a program put a block of its own parameters beside
 * the old shading model that every file has; then by the model that knows most of the block.
 * @param own a model beside those that ship, for materials that say that they are of it.
 */
export function recogniseSurface(material: Material, own: SurfaceModel | null = null): RecognisedSurface {
  const stated = [...SURFACE_MODELS, ...(own ? [own] : [])].find(({ materialModel, id }) =>
    [materialModel, id].some((name) => plainName(name) === plainName(material.model)),
  )
  const block = material.properties.filter(isOfBlock)
  const asStated = stated && recognised(readAs(stated, material.properties), 'stated')
  if (asStated && block.length < 3) return asStated
  const properties = block.length >= 3 ? block : material.properties
  const readings = SURFACE_MODELS.map((model) => readAs(model, properties)).sort(
    (a, b) => worth(b) - worth(a),
  )
  const [best, second] = readings
  const share = shareOf(best!)
  const lead = worth(best!) - worth(second!)
  const isBetter = best!.known >= 3 && share >= 0.3
  // a block that nothing knows leaves the shading model that the file states
  if (!isBetter && asStated) return asStated
  const isSure = share >= 0.6 && best!.known >= 4 && lead >= 1.5
  return recognised(best!, isSure ? 'sure' : best!.known >= 3 ? 'likely' : 'guess')
}

const recognised = (reading: Reading, how: RecognisedSurface['how']): RecognisedSurface => ({
  model: reading.model,
  values: reading.values,
  how,
  share: shareOf(reading),
  unknown: reading.unknown,
})

const shareOf = ({ known, unknown }: Reading): number =>
  known + unknown.length === 0 ? 0 : known / (known + unknown.length)
