/** Property tables (`Properties70` of 7.x, `Properties60` of 6.x) with the templates they rest on. */
import type { KeptProperty } from '../../scene/kept.ts'
import { childOf, childrenOf, numberValue, type FbxRecord, type FbxValue } from './tree.ts'
import type { Triple } from './transform-chain.ts'

export interface FbxProperty {
  readonly name: string
  readonly type: string
  /** The second word for the type, where there is one. */
  readonly label: string
  readonly flags: string
  readonly values: readonly FbxValue[]
  /** Marked as the artist's own. */
  readonly isUser: boolean
}

export interface PropertyTable {
  readonly own: ReadonlyMap<string, FbxProperty>
  readonly template: ReadonlyMap<string, FbxProperty> | null
}

function readTable(record: FbxRecord | null): Map<string, FbxProperty> {
  const table = new Map<string, FbxProperty>()
  const list = childOf(record, 'Properties70') ?? childOf(record, 'Properties60')
  if (!list) return table
  const isOld = list.name === 'Properties60'
  for (const entry of list.children) {
    if (entry.name !== 'P' && entry.name !== 'Property') continue
    const [name, type, third, fourth] = entry.values
    if (typeof name !== 'string') continue
    // 6.x has one word for flags where 7.x has a second type before them
    const flags = String((isOld ? third : fourth) ?? '')
    table.set(name, {
      name,
      type: String(type ?? ''),
      label: isOld ? '' : String(third ?? ''),
      flags,
      values: entry.values.slice(isOld ? 3 : 4),
      isUser: flags.includes('U'),
    })
  }
  return table
}

/** Templates by object type: what an object has where it doesn't say otherwise. */
export function readTemplates(definitions: FbxRecord | null): Map<string, Map<string, FbxProperty>> {
  const templates = new Map<string, Map<string, FbxProperty>>()
  for (const type of definitions ? childrenOf(definitions, 'ObjectType') : []) {
    const [name] = type.values
    const template = childOf(type, 'PropertyTemplate')
    if (typeof name === 'string' && template) templates.set(name, readTable(template))
  }
  return templates
}

/** A record’s properties over those of its template. */
export const propertiesOf = (
  record: FbxRecord | null,
  template: ReadonlyMap<string, FbxProperty> | null,
): PropertyTable => ({ own: readTable(record), template })

/** A property of the record, or else of its template; null for none. */
export const propertyOf = (table: PropertyTable, name: string): FbxProperty | null =>
  table.own.get(name) ?? table.template?.get(name) ?? null

/** A property’s first number. */
export function numberProperty(table: PropertyTable, name: string, fallback: number): number {
  return numberValue(propertyOf(table, name)?.values[0]) ?? fallback
}

/** A property’s first three numbers. */
export function tripleProperty(table: PropertyTable, name: string, fallback: Triple): Triple {
  const values = propertyOf(table, name)?.values ?? []
  const [x, y, z] = [0, 1, 2].map((axis) => numberValue(values[axis]))
  const sound = (value: number | null | undefined): value is number =>
    typeof value === 'number' && Number.isFinite(value)
  // no negative zeros: they turn nothing, and not every store keeps them
  return sound(x) && sound(y) && sound(z) ? [x + 0, y + 0, z + 0] : fallback
}

/** A property as plain data. */
export const keepProperty = (property: FbxProperty): KeptProperty => ({
  name: property.name,
  type: property.type,
  label: property.label,
  flags: property.flags,
  values: property.values.flatMap((value): (string | number | boolean)[] =>
    typeof value === 'string' || typeof value === 'boolean'
      ? [value]
      : typeof value === 'number'
        ? [Number.isFinite(value) ? value : String(value)]
        : typeof value === 'bigint'
          ? [String(value)]
          : [],
  ),
})

/** What of a table nobody has used, as a part of an object; nothing where all was used. */
export function keptOf(
  table: PropertyTable,
  used: ReadonlySet<string>,
): { readonly kept?: readonly KeptProperty[] } {
  const kept = [...table.own.values()].filter((property) => !used.has(property.name)).map(keepProperty)
  return kept.length ? { kept } : {}
}
