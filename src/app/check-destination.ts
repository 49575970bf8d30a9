/** A destination's document held against what there is: formats, options, traits, checks, steps, stand-ins. */
import { checkOption, OptionRefusal } from '../core/base/options/check-options.ts'
import { hasValue, type OptionDescriptor } from '../core/base/options/option.ts'
import { checkOf } from '../core/checks/registry.ts'
import { isTrait } from '../core/compare/traits/registry.ts'
import { FORMATS, formatById, formatNames } from '../core/formats/registry.ts'
import { standInOf } from '../core/practice/standins/registry.ts'
import { stepOf } from '../core/steps/registry.ts'
import { fillParameters, StepRefusal } from '../core/steps/step.ts'
import { isSoundTarget } from '../core/surfaces/remap/rules.ts'
import type { Destination } from '../core/trips/destinations/destination.ts'

type Checked = Omit<Destination, 'id' | 'name' | 'kind' | 'description'>

/** An option may be meant for another format than the one that is chosen now; it has to be sound for one of them. */
function complainOfOptions(
  optionsOf: (format: (typeof FORMATS)[number]) => readonly OptionDescriptor[],
  given: Readonly<Record<string, unknown>>,
): string | null {
  for (const [id, value] of Object.entries(given)) {
    const known = FORMATS.flatMap((format) =>
      optionsOf(format)
        .filter(hasValue)
        .filter((option) => option.id === id),
    )
    if (known.length === 0) return `“${id}” is not known here`
    let refusal: string | null = null
    const sound = known.some((option) => {
      try {
        checkOption(option, value)
        return true
      } catch (error) {
        if (!(error instanceof OptionRefusal)) throw error
        refusal ??= error.message
        return false
      }
    })
    if (!sound) return refusal!
  }
  return null
}

/** What is wrong with options of writing, in words; null where nothing is. */
export const complainOfWriteOptions = (given: Readonly<Record<string, unknown>>): string | null =>
  complainOfOptions((format) => format.writeOptions, given)

/** What is wrong with options of reading, in words; null where nothing is. */
export const complainOfReadOptions = (given: Readonly<Record<string, unknown>>): string | null =>
  complainOfOptions((format) => format.readOptions, given)

/** What is wrong with steps, in words; null where nothing is. Parts are not looked at: they are those of a model. */
export function complainOfSteps(
  steps: readonly { step: string; params: Readonly<Record<string, unknown>> }[],
): string | null {
  for (const { step, params } of steps) {
    const descriptor = stepOf(step)
    if (!descriptor) return `there is no step “${step}”`
    try {
      fillParameters(descriptor, params as never)
    } catch (error) {
      if (error instanceof StepRefusal) return error.message
      throw error
    }
  }
  return null
}

/** The first thing that is wrong with a destination, in words; null where it is sound. */
export function complainOfDestination(fields: Checked): string | null {
  if (!formatById(fields.format)) return `“format” is one of ${formatNames()}, not “${fields.format}”`
  for (const key of ['neverTravels', 'purpose', 'changesOnReturn'] as const) {
    const unknown = fields[key].find((trait) => !isTrait(trait))
    if (unknown !== undefined) return `“${key}”: “${unknown}” is no trait`
  }
  const check = fields.mustBeClean.find((id) => !checkOf(id))
  if (check !== undefined) return `“mustBeClean”: there is no check “${check}”`
  if (fields.standIn !== null && !standInOf(fields.standIn))
    return `“standIn”: there is no stand-in “${fields.standIn}”`
  if (fields.surfaces && !isSoundTarget(fields.surfaces.surface, fields.surfaces.rules))
    return `“surfaces”: there is no surface model “${fields.surfaces.surface}”`
  return (
    complainOfWriteOptions(fields.writeOptions) ??
    complainOfReadOptions(fields.readOptions) ??
    complainOfSteps(fields.recipe?.steps ?? [])
  )
}
