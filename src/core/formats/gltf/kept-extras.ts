/** What programs put beside the format's own words: carried as it came, under `extras` and `extensions`. */
import type { KeptProperty } from '../../scene/kept.ts'
import type { CustomProperties } from '../../scene/scene.ts'
import { anyNumbersOf, objectOf, partOf, type Json } from '../notes/json.ts'

const kept = (name: string, value: unknown): KeptProperty => ({
  name,
  type: 'json',
  label: '',
  flags: '',
  values: [JSON.stringify(value)],
})

/** Values of extras that a scene has a kind of property for. */
const isPlain = (value: unknown): value is CustomProperties[string] =>
  ['string', 'number', 'boolean'].includes(typeof value) || anyNumbersOf(value) !== null

/** A node's own properties, and what of its extras is none: lists in lists, objects. */
export function readExtras(source: Json): { properties: CustomProperties; kept: readonly KeptProperty[] } {
  const extras = partOf(source, 'extras')
  const entries = Object.entries(extras ?? {})
  return {
    properties: Object.fromEntries(entries.filter(([, value]) => isPlain(value))) as CustomProperties,
    kept: [
      ...entries.filter(([, value]) => !isPlain(value)).map(([name, value]) => kept(name, value)),
      // extras may be anything, if seldom
      ...(source.extras !== undefined && !extras ? [kept('', source.extras)] : []),
    ],
  }
}

/** Extras that stay with what they are of, without those that Kelbo put there. */
export function keptExtras(
  source: Json,
  own: readonly string[] = [],
): { kept: readonly KeptProperty[] } | Record<string, never> {
  const entries = Object.entries(partOf(source, 'extras') ?? {}).filter(([name]) => !own.includes(name))
  return entries.length ? { kept: entries.map(([name, value]) => kept(name, value)) } : {}
}

/** Extras as they are written: what was kept, and what has come since. */
export function writeExtras(
  properties: CustomProperties,
  list: readonly KeptProperty[] | undefined,
): { extras: unknown } | Record<string, never> {
  const extras: Record<string, unknown> = { ...properties }
  for (const { name, type, values } of list ?? []) {
    // properties of another format mean nothing here
    if (type !== 'json' || typeof values[0] !== 'string') continue
    let value: unknown
    try {
      value = JSON.parse(values[0])
    } catch {
      continue
    }
    if (name === '' && Object.keys(extras).length === 0 && !objectOf(value)) return { extras: value }
    extras[name] = value
  }
  return Object.keys(extras).length ? { extras } : {}
}
