/** What forms made from descriptors show of an option's value, and how a line sums them all up. */
import {
  applies,
  hasValue,
  presetOf,
  type OptionDescriptor,
  type OptionValue,
  type OptionValues,
  type ValueOption,
} from '../../../core/base/options/option.ts'

/** Sets several options at once. */
export type Preset = Extract<OptionDescriptor, { kind: 'preset' }>
/** On or off. */
export type Tick = Extract<OptionDescriptor, { kind: 'boolean' }>

export const isTick = (option: OptionDescriptor): option is Tick => option.kind === 'boolean'

const NONE = 'none'

/** A value as the form words it. */
export function titleOf(option: ValueOption, value: OptionValue): string {
  if (option.kind === 'choice')
    return option.choices.find((choice) => choice.value === value)?.title ?? option.none ?? NONE
  if (option.kind === 'number') {
    if (value === null) return option.none ?? NONE
    const usual = option.usual?.find((entry) => entry.value === value)
    return usual?.title ?? String(Number(Number(value).toPrecision(6)))
  }
  return value === null || value === ''
    ? option.kind === 'text'
      ? (option.none ?? NONE)
      : NONE
    : String(value)
}

/** Ids of the options that a preset sets. */
export const setBy = (option: OptionDescriptor): readonly string[] =>
  option.kind === 'preset' ? [...new Set(option.choices.flatMap(({ sets }) => Object.keys(sets)))] : []

/**
 * The values in a line, as far as they are worth saying.
 * @param own what null stands for, where that is known: the model's own unit, say.
 */
export function summaryOf(
  options: readonly OptionDescriptor[],
  values: OptionValues,
  own: OptionValues = {},
): string {
  const said = options.flatMap((option) => {
    if (!option.said || !applies(option, values)) return []
    if (!hasValue(option)) {
      const at = presetOf(option, values)
      const usual = presetOf(
        option,
        Object.fromEntries(options.filter(hasValue).map((one) => [one.id, one.default])),
      )
      if (at !== null && at === usual && !option.saidAlways) return []
      return [option.said.replace('{value}', at === null ? option.otherwise : option.choices[at]!.title)]
    }
    const value = values[option.id] ?? own[option.id] ?? null
    if (value === option.default && !option.saidAlways) return []
    if (option.kind === 'boolean') return value ? [option.said] : []
    return [option.said.replace('{value}', titleOf(option, value))]
  })
  return said.join(', ')
}
