/**
 * A binary USD (crate) as a layer. Source: OpenUSD’s open-source layout (sections of tokens, strings, fields, sets of
 * fields, paths and specs), written down from memory of it. No other program’s crates were at hand; those that the tests make are read
 * alike by tinyusdz.
 */
import { KelboError, type MessageCollector } from '../../base/messages/collector.ts'
import { CrateFault } from './crate-bytes.ts'
import { createCrateValues, isArcs, isSamples, UnknownKind, type CrateValue } from './crate-values.ts'
import {
  isDictionary,
  isTextType,
  type UsdArc,
  type UsdLayer,
  type UsdPrim,
  type UsdProperty,
  type UsdValue,
} from './layer.ts'
import { openCrate } from './open-crate.ts'

/** Kinds of specs, by their numbers. */
const ATTRIBUTE = 1
const PRIM = 6
const RELATIONSHIP = 8
const VARIANT = 10
const DEEPEST = 256

type Fields = ReadonlyMap<string, CrateValue>

const textsOf = (value: CrateValue | undefined): string[] =>
  Array.isArray(value?.value) ? (value.value as readonly unknown[]).filter((one): one is string => typeof one === 'string') : [] // prettier-ignore
const arcsOf = (value: CrateValue | undefined): readonly UsdArc[] =>
  value && isArcs(value.value) ? value.value : []

/** Fields of a prim that are no settings but say what else there is. */
const OWN_FIELDS: ReadonlySet<string> = new Set([
  'specifier',
  'typeName',
  'properties',
  'primChildren',
  'references',
  'payload',
  'inheritPaths',
  'specializes',
  'variantSelection',
  'variantSetNames',
  'variantSetChildren',
  'variantChildren',
  'default',
  'timeSamples',
  'connectionPaths',
  'connectionChildren',
  'targetPaths',
  'targetChildren',
  'variability',
  'custom',
  'subLayers',
  'subLayerOffsets',
])

function settingsOf(fields: Fields): Map<string, UsdValue> {
  const settings = new Map<string, UsdValue>()
  for (const [name, { value }] of fields)
    if (!OWN_FIELDS.has(name) && !isSamples(value) && !isArcs(value)) settings.set(name, value)
  return settings
}

function propertyFrom(name: string, fields: Fields, isRelationship: boolean): UsdProperty {
  const type = String(fields.get('typeName')?.value ?? '')
  const stated = fields.get('default')
  const samples = fields.get('timeSamples')?.value
  let value = stated && !isSamples(stated.value) && !isArcs(stated.value) ? stated.value : undefined
  // one number of a list stands for the list
  if (typeof value === 'number' && type.endsWith('[]')) value = Float64Array.of(value)
  if (typeof value === 'string' && type.endsWith('[]') && isTextType(type)) value = [value]
  return {
    name,
    isRelationship,
    type: isRelationship ? '' : type,
    uniform: fields.get('variability')?.value === 'uniform',
    custom: fields.get('custom')?.value === true,
    targets: textsOf(fields.get(isRelationship ? 'targetPaths' : 'connectionPaths')),
    metadata: settingsOf(fields),
    ...(value === undefined ? {} : { value }),
    ...(samples && isSamples(samples) ? { samples } : {}),
  }
}

/**
 * Findings: `usd.value-left`.
 * @throws KelboError `usd.crate`, `usd.crate-version`.
 */
export function readCrate(bytes: Uint8Array, fileName: string, messages: MessageCollector): UsdLayer {
  const [major = 0, minor = 0] = bytes.subarray(8, 10)
  if (major !== 0 || minor > 13)
    throw new KelboError('usd.crate-version', { version: `${major}.${minor}` }, fileName)
  try {
    return layerOf(bytes, messages)
  } catch (error) {
    if (error instanceof CrateFault) throw new KelboError('usd.crate', { what: error.message }, fileName)
    // an address beyond the bytes, or a list longer than any can be
    if (error instanceof RangeError)
      throw new KelboError('usd.crate', { what: 'a length or an address in it is impossible' }, fileName)
    throw error
  }
}

function layerOf(bytes: Uint8Array, messages: MessageCollector): UsdLayer {
  const { tables, specs, fieldSets, fields } = openCrate(bytes)
  const values = createCrateValues(tables)
  const known = new Map<number, CrateValue | null>()
  const valueOf = (index: number, place: string): CrateValue | null => {
    if (known.has(index)) return known.get(index)!
    const field = fields[index]
    if (!field) throw new CrateFault('a field is missing')
    let value: CrateValue | null = null
    try {
      value = values.of(field.high, field.low)
    } catch (error) {
      if (!(error instanceof UnknownKind)) throw error
      messages.add('usd.value-left', { place, what: `kind ${error.message}` })
    }
    known.set(index, value)
    return value
  }
  const fieldsFrom = (set: number, place: string): Fields => {
    const found = new Map<string, CrateValue>()
    for (let at = set; ; at++) {
      const index = fieldSets[at]
      if (index === undefined) throw new CrateFault('a set of fields has no end')
      if (index === -1 || index === 2 ** 32 - 1) return found
      const name = tables.token(fields[index]?.name ?? -1)
      const value = valueOf(index, place)
      if (value) found.set(name, value)
    }
  }
  interface Held {
    readonly fields: Fields
    readonly kind: number
  }
  const held = new Map<number, Held>()
  const childrenOf = new Map<number, number[]>()
  for (const { place, fields: set, kind } of specs) {
    const own = tables.places[place]
    if (!own) throw new CrateFault('a path is missing')
    held.set(place, { fields: fieldsFrom(set, `“${own.path}”`), kind })
    if (own.parent < 0) continue
    const list = childrenOf.get(own.parent) ?? []
    list.push(place)
    childrenOf.set(own.parent, list)
  }
  /** In the order that the parent names them; what it doesn't name follows. */
  const ordered = (place: number, kind: number, order: readonly string[]): number[] => {
    const rank = new Map(order.map((name, at) => [name, at]))
    const rankOf = (own: number): number => rank.get(tables.places[own]!.name) ?? order.length
    return (childrenOf.get(place) ?? [])
      .filter((own) => held.get(own)!.kind === kind)
      .sort((a, b) => rankOf(a) - rankOf(b))
  }
  const primAt = (place: number, name: string, depth: number): UsdPrim => {
    if (depth > DEEPEST) throw new CrateFault('prims lie too deep in each other')
    const { fields: own } = held.get(place)!
    const selection = own.get('variantSelection')?.value
    const specifier = String(own.get('specifier')?.value ?? 'over')
    const properties = (childrenOf.get(place) ?? []).filter((child) =>
      [ATTRIBUTE, RELATIONSHIP].includes(held.get(child)!.kind),
    )
    const order = new Map(textsOf(own.get('properties')).map((word, at) => [word, at]))
    properties.sort(
      (a, b) =>
        (order.get(tables.places[a]!.name) ?? order.size) - (order.get(tables.places[b]!.name) ?? order.size),
    )
    const variantSets = new Map<string, Map<string, UsdPrim>>()
    for (const variant of (childrenOf.get(place) ?? []).filter(
      (child) => held.get(child)!.kind === VARIANT,
    )) {
      const [, set = '', choice = ''] = /^\{([^=]*)=(.*)\}$/.exec(tables.places[variant]!.name) ?? []
      if (choice === '') continue
      const variants = variantSets.get(set) ?? new Map<string, UsdPrim>()
      variants.set(choice, primAt(variant, choice, depth + 1))
      variantSets.set(set, variants)
    }
    return {
      specifier: specifier === 'def' || specifier === 'class' ? specifier : 'over',
      type: String(own.get('typeName')?.value ?? ''),
      name,
      metadata: settingsOf(own),
      references: arcsOf(own.get('references')),
      payloads: arcsOf(own.get('payload')),
      inherits: textsOf(own.get('inheritPaths')),
      specializes: textsOf(own.get('specializes')),
      chosen: new Map(
        isDictionary(selection as UsdValue)
          ? [...(selection as ReadonlyMap<string, { value: UsdValue }>)].map(([set, { value }]) => [
              set,
              String(value),
            ])
          : [],
      ),
      properties: properties.map((child) =>
        propertyFrom(
          tables.places[child]!.name,
          held.get(child)!.fields,
          held.get(child)!.kind === RELATIONSHIP,
        ),
      ),
      children: ordered(place, PRIM, textsOf(own.get('primChildren'))).map((child) =>
        primAt(child, tables.places[child]!.name, depth + 1),
      ),
      variantSets,
    }
  }
  const root = tables.places.findIndex((place) => place?.path === '/')
  const head = root < 0 ? undefined : held.get(root)
  if (!head) throw new CrateFault('it has no root')
  return {
    metadata: settingsOf(head.fields),
    subLayers: textsOf(head.fields.get('subLayers')),
    prims: ordered(root, PRIM, textsOf(head.fields.get('primChildren'))).map((child) =>
      primAt(child, tables.places[child]!.name, 0),
    ),
  }
}
