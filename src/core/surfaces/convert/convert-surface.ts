/**
 * One material's values in another model, and what became of each parameter. Nothing of the report is looked up: the
 * values are converted there and back, and so are values over each parameter's range; what comes back the same is
 * exact, what moves nothing has no place.
 */
import type { Caveat, SurfaceModel, SurfaceParameter, SurfaceValue, SurfaceValues } from '../model.ts'

/** Relative to the larger of the value and 1. */
export const SAME_WITHIN = 1e-6

export interface ParameterReport {
  /** In the words of the model that it came from. */
  readonly parameter: string
  readonly how: 'exact' | 'approximate' | 'none'
  /** Parameters of the other model that follow from it. */
  readonly becomes: readonly string[]
  /** What it would come back as; null where it is exact or has no place. */
  readonly comesBackAs: SurfaceValue | null
  /** Largest difference there and back over the parameter's range, all else as given; 0 where it is exact throughout. */
  readonly largestError: number
  /** Whether the source said it. */
  readonly given: boolean
  readonly note: string
  /** Exact, or without a place and without an effect as it stands. */
  readonly losesNothing: boolean
}

export interface ConvertedSurface {
  readonly model: string
  readonly parameters: SurfaceValues
  readonly report: readonly ParameterReport[]
}

/** The values of one model as another has them; the very values where it is the same. */
export function convertValues(values: SurfaceValues, from: SurfaceModel, to: SurfaceModel): SurfaceValues {
  return from === to ? { ...standardsOf(from), ...values } : to.fromHub(from.toHub(values))
}

function standardsOf(model: SurfaceModel): SurfaceValues {
  return Object.fromEntries(
    model.parameters.flatMap(({ name, standard }) => (name && standard !== null ? [[name, standard]] : [])),
  )
}

/**
 * Never fails: values of a wrong shape count as not given.
 * @param onlyGiven reports of what was said alone: each report converts a dozen values there and back.
 */
export function convertSurface(
  values: SurfaceValues,
  from: SurfaceModel,
  to: SurfaceModel,
  onlyGiven = false,
): ConvertedSurface {
  const parameters = convertValues(values, from, to)
  const report = from.parameters.flatMap((parameter) =>
    parameter.name === null || (onlyGiven && values[parameter.name] === undefined)
      ? []
      : [reportOf(parameter, parameter.name, values, parameters, from, to)],
  )
  return { model: to.id, parameters, report }
}

function reportOf(
  parameter: SurfaceParameter,
  name: string,
  values: SurfaceValues,
  converted: SurfaceValues,
  from: SurfaceModel,
  to: SurfaceModel,
): ParameterReport {
  const given = values[name] !== undefined
  const own = values[name] ?? parameter.standard
  const entry = { parameter: name, given }
  if (from === to)
    return {
      ...entry,
      how: 'exact',
      becomes: [name],
      comesBackAs: null,
      largestError: 0,
      losesNothing: true,
      note: '',
    }
  const becomes = new Set<string>()
  let largestError = 0
  const keys = Object.keys(converted)
  for (const sample of samplesOf(parameter)) {
    const there = convertValues({ ...values, [name]: sample }, from, to)
    for (const key of keys)
      if (!becomes.has(key) && difference(there[key], converted[key]) > SAME_WITHIN) becomes.add(key)
    // a parameter that has no value where nothing is said of it
    for (const key in there) if (converted[key] === undefined) becomes.add(key)
    largestError = Math.max(largestError, difference(sample, convertValues(there, to, from)[name]))
  }
  const targets = [...becomes]
  if (targets.length === 0) {
    // what the other model takes for granted may be the very value
    const comesBack = own === null ? undefined : convertValues(converted, to, from)[name]
    const isNeutral = own === null || difference(own, comesBack) <= SAME_WITHIN
    const isOutweighed = (from.yieldsTo?.[name] ?? []).some((other) => values[other] !== undefined)
    const isInert = hasNoEffect(name, values, from)
    const isHidden = !isInert && movesAlone(parameter, name, from, to)
    return {
      ...entry,
      how: 'none',
      becomes: [],
      comesBackAs: null,
      largestError,
      losesNothing: isInert || isNeutral || isOutweighed,
      note: isOutweighed
        ? 'another value says it better: nothing is lost'
        : isInert
          ? 'it has no effect as it stands: nothing is lost'
          : isNeutral
            ? `${to.title} has no place for it; as it stands nothing is lost`
            : isHidden
              ? `what else the material says leaves it no effect in ${to.title}`
              : `${to.title} has no place for it`,
    }
  }
  const back = own === null ? undefined : convertValues(converted, to, from)[name]
  const error = own === null ? 0 : difference(own, back)
  const caveats = new Set<string>()
  const hub = from.toHub(values)
  const tell = (caveat: Caveat | undefined, before: string): void => {
    if (caveat && (!caveat.when || caveat.when(hub))) caveats.add(before + caveat.text)
  }
  tell(from.caveats?.[name], '')
  for (const target of targets) tell(to.caveats?.[target], `${target}: `)
  const isSame = error <= SAME_WITHIN
  const notes = [
    ...(isSame ? [] : [`would come back as ${valueText(back) || 'nothing'}`]),
    ...(isSame && largestError > SAME_WITHIN
      ? [`other values of it come back up to ${round(largestError)} off`]
      : []),
    ...caveats,
  ]
  return {
    ...entry,
    how: isSame && caveats.size === 0 ? 'exact' : 'approximate',
    becomes: targets,
    losesNothing: isSame && caveats.size === 0,
    comesBackAs: isSame ? null : (back ?? null),
    largestError,
    note: notes.join('; '),
  }
}

/** Whether a parameter belongs to something whose weight is 0 here. */
export function hasNoEffect(
  name: string,
  values: SurfaceValues,
  { shownBy = {}, parameters }: SurfaceModel,
): boolean {
  return Object.entries(shownBy).some(([begin, weight]) => {
    if (name === weight || !name.startsWith(begin)) return false
    const value = values[weight] ?? parameters.find((parameter) => parameter.name === weight)?.standard ?? 0
    return difference(value, 0) === 0
  })
}

/** Whether a parameter would move something if the material said nothing else. */
const movesAlone = (
  parameter: SurfaceParameter,
  name: string,
  from: SurfaceModel,
  to: SurfaceModel,
): boolean => {
  const plain = convertValues({}, from, to)
  return samplesOf(parameter).some((sample) => {
    const there = convertValues({ [name]: sample }, from, to)
    return Object.keys(there).some((key) => difference(there[key], plain[key]) > SAME_WITHIN)
  })
}

/** Values over a parameter's range. Without an upper bound some that are usual. */
function samplesOf({ kind, range, width, choices, standard }: SurfaceParameter): SurfaceValue[] {
  if (kind === 'boolean') return [false, true]
  if (kind === 'choice') return [...(choices ?? [])]
  const [least, most] = range ?? [-1, 1]
  const top = most ?? Math.max(2, least + 2, typeof standard === 'number' ? standard * 2 : 0)
  const numbers = [0, 0.13, 0.37, 0.62, 0.91, 1].map((share) => least + (top - least) * share)
  if (width === 1) return numbers
  return [
    ...numbers.map((value) => [value, value, value]),
    [numbers[5]!, numbers[1]!, numbers[2]!],
    [numbers[1]!, numbers[4]!, numbers[2]!],
    [numbers[2]!, numbers[3]!, numbers[5]!],
  ]
}

/** The largest difference of two values' numbers, relative to the larger of them and 1; 1 where they are no numbers and differ. */
export function difference(a: SurfaceValue | undefined, b: SurfaceValue | undefined): number {
  if (a === b) return 0
  const left = numbersOf(a)
  const right = numbersOf(b)
  if (!left || !right) return a === b ? 0 : 1
  let largest = 0
  for (let at = 0; at < Math.max(left.length, right.length); at++) {
    const [one, other] = [left[at] ?? left[0]!, right[at] ?? right[0]!]
    if (one === other) continue
    const apart = Math.abs(one - other) / Math.max(1, Math.abs(one), Math.abs(other))
    largest = Math.max(largest, Number.isNaN(apart) ? 1 : apart)
  }
  return largest
}

function numbersOf(value: SurfaceValue | undefined): readonly number[] | null {
  if (typeof value === 'number') return [value]
  if (typeof value === 'boolean') return [value ? 1 : 0]
  return Array.isArray(value) ? (value as readonly number[]) : null
}

const round = (value: number, figures = 3): string => String(Number(value.toPrecision(figures)))
/** A value as people read it. */
export const valueText = (value: SurfaceValue | null | undefined, figures = 3): string =>
  Array.isArray(value)
    ? (value as readonly number[]).map((one) => round(one, figures)).join(' ')
    : typeof value === 'number'
      ? round(value, figures)
      : String(value ?? '')
