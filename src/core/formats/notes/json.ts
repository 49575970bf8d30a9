/** Values of a JSON document that may hold anything: each is asked for by its kind, and what isn't of it is null. */

export type Json = Readonly<Record<string, unknown>>

export const objectOf = (value: unknown): Json | null =>
  value !== null && typeof value === 'object' && !Array.isArray(value) ? (value as Json) : null

/** Empty where it is no list. */
export const listOf = (value: unknown): readonly unknown[] => (Array.isArray(value) ? value : [])

/** A whole number from 0 on, as indices and counts are. */
export const wholeOf = (value: unknown): number | null =>
  typeof value === 'number' && Number.isSafeInteger(value) && value >= 0 ? value : null

export const numberOf = (value: unknown, fallback: number): number =>
  typeof value === 'number' && Number.isFinite(value) ? value : fallback

/** Empty where it is no text. */
export const textOf = (value: unknown): string => (typeof value === 'string' ? value : '')

/** A list of finite numbers of a length; null where it is anything else. */
export function numbersOf(value: unknown, width: number): number[] | null {
  const list = listOf(value)
  return list.length === width && list.every((one) => typeof one === 'number' && Number.isFinite(one))
    ? (list as number[])
    : null
}

/** A list of finite numbers of any length; null where it is anything else. */
export const anyNumbersOf = (value: unknown): number[] | null =>
  Array.isArray(value) ? numbersOf(value, value.length) : null

/** An object under a name of another one. */
export const partOf = (value: Json | null, name: string): Json | null => objectOf(value?.[name])

/** What an extension says at a place. */
export const extensionOf = (value: Json | null, name: string): Json | null =>
  partOf(partOf(value, 'extensions'), name)
