/**
 * Options as they are described: of reading and writing a format, of steps, of stand-ins. Forms, the command line and
 * what the server accepts are made from these; none of them knows an option by name.
 */

export type OptionValue = string | number | boolean | null

export type OptionValues = Readonly<Record<string, OptionValue>>

export interface OptionChoice {
  readonly value: string | number
  readonly title: string
}

/** The option is there only where another one has one of these values. */
export interface OptionCondition {
  readonly option: string
  readonly is: readonly OptionValue[]
}

/** Where a form puts it: with what travels, with how it is done, or folded away with what is seldom asked for. */
export type OptionPlace = 'what' | 'how' | 'seldom'

export interface OptionBase {
  /** As files, the command line and stored documents write it. */
  readonly id: string
  /** A word or two for the artist. */
  readonly title: string
  /** What it is called for those who listen, where the title alone is too short. */
  readonly spoken?: string
  /** In what it is measured, where it is a measure. */
  readonly unit?: string
  readonly place?: OptionPlace
  readonly when?: readonly OptionCondition[]
  /** What a form starts with, where that is not what an absent option means. */
  readonly suggested?: OptionValue
  /** How a line that sums the options up says it; `{value}` stands for the value's title. Absent: it isn't said. */
  readonly said?: string
  /** Said also where it has its default. */
  readonly saidAlways?: boolean
}

export type OptionDescriptor = OptionBase &
  (
    | { readonly kind: 'boolean'; readonly default: boolean | null }
    | {
        readonly kind: 'number'
        readonly default: number | null
        readonly min: number
        readonly max: number
        readonly whole?: boolean
        /** Shown as a slider with this step. */
        readonly step?: number
        /** Shown as a share of a hundred. */
        readonly percent?: boolean
        /** What stands in the field where there is no number. */
        readonly none?: string
        /** Usual values with their names, offered as a list; others may be possible all the same. */
        readonly usual?: readonly { readonly value: number; readonly title: string }[]
      }
    | {
        readonly kind: 'choice'
        /** Null: none of them, as `none` says. */
        readonly default: string | number | null
        readonly choices: readonly OptionChoice[]
        readonly none?: string
      }
    | {
        readonly kind: 'text'
        readonly default: string | null
        readonly most: number
        readonly none?: string
      }
    /** Sets several other options at once; has no value of its own. */
    | {
        readonly kind: 'preset'
        readonly choices: readonly { readonly title: string; readonly sets: OptionValues }[]
        /** The words for values that no choice has; the options it sets are then shown. */
        readonly otherwise: string
      }
  )

/** Options with a value of their own. */
export type ValueOption = Exclude<OptionDescriptor, { kind: 'preset' }>

/** The option has a value of its own; a preset only sets those of others. */
export const hasValue = (option: OptionDescriptor): option is ValueOption => option.kind !== 'preset'

/** All options at what they are where nothing is said. */
export const defaultsOf = (options: readonly OptionDescriptor[]): OptionValues =>
  Object.fromEntries(options.filter(hasValue).map((option) => [option.id, option.default]))

/** What a form starts with. */
export const suggestedOf = (options: readonly OptionDescriptor[]): OptionValues =>
  Object.fromEntries(
    options.filter(hasValue).map((option) => [option.id, option.suggested ?? option.default]),
  )

/** Whether an option has anything to say beside the values of the others. */
export const applies = (option: OptionDescriptor, values: OptionValues): boolean =>
  (option.when ?? []).every(({ option: id, is }) => is.includes(values[id] ?? null))

/** Which choice of a preset the values have; null for none of them. */
export const presetOf = (
  preset: Extract<OptionDescriptor, { kind: 'preset' }>,
  values: OptionValues,
): number | null => {
  const found = preset.choices.findIndex(({ sets }) =>
    Object.entries(sets).every(([id, value]) => values[id] === value),
  )
  return found < 0 ? null : found
}
