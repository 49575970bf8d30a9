/** Options that are given, held against their descriptors. */
import {
  hasValue,
  type OptionDescriptor,
  type OptionValue,
  type OptionValues,
  type ValueOption,
} from './option.ts'

/** An option that is not known, or can't have the value; its words are for whoever wrote it. */
export class OptionRefusal extends Error {
  readonly option: string
  constructor(option: string, message: string) {
    super(message)
    this.option = option
  }
}

const refuse = (option: ValueOption, what: string, value: unknown): never => {
  throw new OptionRefusal(option.id, `“${option.id}” takes ${what}, not “${String(value)}”.`)
}

/** @throws OptionRefusal where the value is none of the option's. */
export function checkOption(option: ValueOption, value: unknown): OptionValue {
  if (value === null && option.default === null) return null
  switch (option.kind) {
    case 'boolean':
      return typeof value === 'boolean' ? value : refuse(option, 'true or false', value)
    case 'number':
      if (typeof value !== 'number' || !Number.isFinite(value)) return refuse(option, 'a number', value)
      if (value < option.min || value > option.max)
        return refuse(option, `a number from ${option.min} to ${option.max}`, value)
      return option.whole && !Number.isInteger(value) ? refuse(option, 'a whole number', value) : value
    case 'choice':
      return option.choices.some((choice) => choice.value === value)
        ? (value as string | number)
        : refuse(option, `one of ${option.choices.map((choice) => choice.value).join(', ')}`, value)
    case 'text':
      return typeof value === 'string' && value.length <= option.most
        ? value
        : refuse(option, `a text of at most ${option.most} characters`, value)
  }
}

/**
 * The given options, each known and sound. What is undefined is not given.
 * @throws OptionRefusal for one that is not known, or can't have its value.
 */
export function checkOptions(
  options: readonly OptionDescriptor[],
  given: Readonly<Record<string, unknown>>,
): OptionValues {
  const checked: Record<string, OptionValue> = {}
  for (const [id, value] of Object.entries(given)) {
    if (value === undefined) continue
    const option = options.filter(hasValue).find((candidate) => candidate.id === id)
    if (!option) throw new OptionRefusal(id, `“${id}” is not an option.`)
    checked[id] = checkOption(option, value)
  }
  return checked
}

/** The options that are known, in what is given for others as well; values are taken as they are. */
export function pickOptions(
  options: readonly OptionDescriptor[],
  given: Readonly<Record<string, unknown>>,
): OptionValues {
  const picked: Record<string, OptionValue> = {}
  for (const option of options)
    if (hasValue(option) && given[option.id] !== undefined)
      picked[option.id] = given[option.id] as OptionValue
  return picked
}

const ON = /^(true|on|yes)$/i
const OFF = /^(false|off|no)$/i

/**
 * An option out of `KEY=VALUE`, as the command line has it; `null` is none.
 * @throws OptionRefusal for one that is not known, or can't have the value.
 */
export function parseOption(options: readonly OptionDescriptor[], text: string): [string, OptionValue] {
  const cut = text.indexOf('=')
  const id = cut < 0 ? text : text.slice(0, cut)
  const option = options.filter(hasValue).find((candidate) => candidate.id === id)
  if (!option || cut < 0) {
    const known = options.filter(hasValue).map((candidate) => candidate.id)
    throw new OptionRefusal(id, `“${text}” is not an option. There are ${known.join(', ')}.`)
  }
  const value = text.slice(cut + 1)
  if (value === 'null' && option.default === null) return [id, null]
  switch (option.kind) {
    case 'boolean':
      if (ON.test(value) || OFF.test(value)) return [id, ON.test(value)]
      throw new OptionRefusal(id, `“${id}” is on or off.`)
    case 'number':
      if (value.trim() === '' || Number.isNaN(Number(value)))
        throw new OptionRefusal(id, `“${id}” takes a number.`)
      return [id, checkOption(option, Number(value))]
    case 'choice': {
      const choice = option.choices.find((candidate) => String(candidate.value) === value)
      return [id, checkOption(option, choice ? choice.value : value)]
    }
    case 'text':
      return [id, checkOption(option, value)]
  }
}
