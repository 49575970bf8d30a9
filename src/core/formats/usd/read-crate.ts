/**
 * A binary USD (crate) as a layer. Source: OpenUSD’s open-source layout (sections of tokens, strings, fields, sets of
 * fields, paths and specs), written down from memory of it; no other program’s crates were at hand to confirm it.
 */
import { decodeLatin1, decodeUtf8 } from '../../base/bytes/text.ts'
import { KelboError, type MessageCollector } from '../../base/messages/collector.ts'
import { CrateFault, unpackChunks, unpackIntegers } from './crate-bytes.ts'
import {
  createCrateValues,
  isArcs,
  isSamples,
  UnknownKind,
  type CrateTables,
  type CrateValue,
} from './crate-values.ts'
import {
  isDictionary,
  isTextType,
  type UsdArc,
  type UsdLayer,
  type UsdPrim,
  type UsdProperty,
  type UsdValue,
} from './layer.ts'

const MARK = 'PXR-USDC'
/** Kinds of specs, by their numbers. */
const ATTRIBUTE = 1
const PRIM = 6
const RELATIONSHIP = 8
const VARIANT = 10
/** Elements that a file may have at most for its length: a few bits each at the least. */
const MOST_PER_BYTE = 256
const DEEPEST = 256

export const isCrate = (bytes: Uint8Array): boolean =>
  bytes.length >= 88 && decodeLatin1(bytes, 0, 8) === MARK

interface Section {
  readonly start: number
  readonly size: number
}

/** What is beneath a path of the file. */
interface Place {
  readonly path: string
  readonly name: string
  /** A property is no prim, and a variant stands in braces. */
  readonly kind: 'prim' | 'property' | 'variant'
  readonly parent: number
}

interface Tables extends CrateTables {
  readonly places: readonly (Place | undefined)[]
}

/** A reader over the sections. @throws CrateFault */
function openCrate(bytes: Uint8Array): {
  tables: Tables
  specs: readonly { place: number; fields: number; kind: number }[]
  fieldSets: Float64Array
  fields: readonly { name: number; high: number; low: number }[]
} {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const wide = (at: number): number => {
    if (!(at >= 0) || at + 8 > bytes.length) throw new CrateFault('it ends too early')
    return view.getUint32(at, true) + view.getUint32(at + 4, true) * 2 ** 32
  }
  const version = bytes[8]! * 10000 + bytes[9]! * 100 + bytes[10]!
  const contents = wide(16)
  const sections = new Map<string, Section>()
  const sectionCount = wide(contents)
  if (sectionCount > 64) throw new CrateFault('its table of contents is damaged')
  for (let index = 0; index < sectionCount; index++) {
    const at = contents + 8 + 32 * index
    if (at + 32 > bytes.length) throw new CrateFault('it ends too early')
    const name = decodeLatin1(bytes, at, at + 16).replace(/\0.*$/s, '')
    sections.set(name, { start: wide(at + 16), size: wide(at + 24) })
  }
  const sectionOf = (name: string): { at: number; end: number } => {
    const section = sections.get(name)
    if (!section || section.start + section.size > bytes.length)
      throw new CrateFault(`its list of ${name.toLowerCase()} is missing or cut`)
    return { at: section.start, end: section.start + section.size }
  }
  const counted = (at: number): number => {
    const count = wide(at)
    if (count > MOST_PER_BYTE * bytes.length) throw new CrateFault('it states more than it holds')
    return count
  }
  const packed = (at: number, count: number): { values: Float64Array; end: number } => {
    const size = wide(at)
    if (at + 8 + size > bytes.length) throw new CrateFault('it ends too early')
    return { values: unpackIntegers(bytes.subarray(at + 8, at + 8 + size), count, 32), end: at + 8 + size }
  }
  const isPacked = version >= 400

  // words
  const tokenSection = sectionOf('TOKENS')
  const tokenCount = counted(tokenSection.at)
  let words: Uint8Array
  if (isPacked) {
    const whole = wide(tokenSection.at + 8)
    const size = wide(tokenSection.at + 16)
    const from = tokenSection.at + 24
    if (from + size > bytes.length) throw new CrateFault('it ends too early')
    words = unpackChunks(bytes.subarray(from, from + size), whole)
  } else {
    const size = wide(tokenSection.at + 8)
    words = bytes.subarray(tokenSection.at + 16, tokenSection.at + 16 + size)
  }
  const tokens: string[] = []
  for (let at = 0; at < words.length && tokens.length < tokenCount;) {
    let end = words.indexOf(0, at)
    if (end < 0) end = words.length
    tokens.push(decodeUtf8(words, at, end) ?? decodeLatin1(words, at, end))
    at = end + 1
  }
  const token = (index: number): string => {
    const found = tokens[index]
    if (found === undefined) throw new CrateFault('a word is missing')
    return found
  }
  const stringSection = sectionOf('STRINGS')
  const stringCount = counted(stringSection.at)
  const string = (index: number): string => {
    const at = stringSection.at + 8 + 4 * index
    if (index >= stringCount || at + 4 > bytes.length) throw new CrateFault('a text is missing')
    return token(view.getUint32(at, true))
  }

  // what fields hold
  const fieldSection = sectionOf('FIELDS')
  const fieldCount = counted(fieldSection.at)
  const fields: { name: number; high: number; low: number }[] = []
  if (isPacked) {
    const names = packed(fieldSection.at + 8, fieldCount)
    const size = wide(names.end)
    if (names.end + 8 + size > bytes.length) throw new CrateFault('it ends too early')
    const told = unpackChunks(bytes.subarray(names.end + 8, names.end + 8 + size), 8 * fieldCount)
    if (told.length < 8 * fieldCount) throw new CrateFault('its list of fields is cut')
    const toldView = new DataView(told.buffer, told.byteOffset, told.byteLength)
    for (let index = 0; index < fieldCount; index++)
      fields.push({
        name: names.values[index]!,
        low: toldView.getUint32(8 * index, true),
        high: toldView.getUint32(8 * index + 4, true),
      })
  } else
    for (let index = 0; index < fieldCount; index++) {
      const at = fieldSection.at + 8 + 16 * index
      if (at + 16 > bytes.length) throw new CrateFault('its list of fields is cut')
      fields.push({
        name: view.getUint32(at + 4, true),
        low: view.getUint32(at + 8, true),
        high: view.getUint32(at + 12, true),
      })
    }
  const plainList = (at: number, count: number): Float64Array => {
    if (at + 4 * count > bytes.length) throw new CrateFault('it ends too early')
    return Float64Array.from({ length: count }, (_none, index) => view.getInt32(at + 4 * index, true))
  }
  const setSection = sectionOf('FIELDSETS')
  const setCount = counted(setSection.at)
  const fieldSets = isPacked
    ? packed(setSection.at + 8, setCount).values
    : plainList(setSection.at + 8, setCount)

  // paths
  const pathSection = sectionOf('PATHS')
  const pathCount = counted(pathSection.at)
  const places: (Place | undefined)[] = new Array<Place | undefined>(pathCount)
  if (isPacked) {
    const encoded = counted(pathSection.at + 8)
    const numbers = packed(pathSection.at + 16, encoded)
    const elements = packed(numbers.end, encoded)
    const jumps = packed(elements.end, encoded)
    const open: { at: number; parent: number }[] = [{ at: 0, parent: -1 }]
    const seen = new Uint8Array(encoded)
    while (open.length > 0) {
      let { at, parent } = open.pop()!
      for (;;) {
        if (at >= encoded) break
        if (seen[at]) throw new CrateFault('its paths go round in a ring')
        seen[at] = 1
        const number = numbers.values[at]!
        if (!(number >= 0 && number < pathCount)) throw new CrateFault('a path is missing')
        places[number] =
          parent < 0
            ? { path: '/', name: '', kind: 'prim', parent: -1 }
            : placeOf(places, parent, token(Math.abs(elements.values[at]!)), elements.values[at]! < 0)
        const jump = jumps.values[at]!
        const hasChild = jump > 0 || jump === -1
        const hasSibling = jump >= 0
        if (hasChild) {
          if (hasSibling) open.push({ at: at + jump, parent })
          parent = number
        } else if (!hasSibling) break
        at++
      }
    }
  } else readOldPaths(bytes, view, pathSection.at + 8, places, token)
  const path = (index: number): string => {
    const place = places[index]
    if (!place) throw new CrateFault('a path is missing')
    return place.path
  }

  const specSection = sectionOf('SPECS')
  const specCount = counted(specSection.at)
  const specs: { place: number; fields: number; kind: number }[] = []
  if (isPacked) {
    const owners = packed(specSection.at + 8, specCount)
    const sets = packed(owners.end, specCount)
    const kinds = packed(sets.end, specCount)
    for (let index = 0; index < specCount; index++)
      specs.push({
        place: owners.values[index]!,
        fields: sets.values[index]!,
        kind: kinds.values[index]!,
      })
  } else {
    const size = version < 1 ? 16 : 12
    for (let index = 0; index < specCount; index++) {
      const at = specSection.at + 8 + size * index
      if (at + 12 > bytes.length) throw new CrateFault('its list of specs is cut')
      specs.push({
        place: view.getUint32(at, true),
        fields: view.getUint32(at + 4, true),
        kind: view.getUint32(at + 8, true),
      })
    }
  }
  return {
    tables: { bytes, view, version, token, string, path, places },
    specs,
    fieldSets,
    fields,
  }
}

function placeOf(
  places: readonly (Place | undefined)[],
  parent: number,
  element: string,
  isProperty: boolean,
): Place {
  const above = places[parent]!
  if (isProperty) return { path: `${above.path}.${element}`, name: element, kind: 'property', parent }
  if (element.startsWith('{'))
    return { path: `${above.path}${element}`, name: element, kind: 'variant', parent }
  const joint = above.path === '/' || above.kind === 'variant' ? '' : '/'
  return { path: `${above.path}${joint}${element}`, name: element, kind: 'prim', parent }
}

/** Paths of the first versions: a header each, with a bit for a child, one for a sibling, one for a property. */
function readOldPaths(
  bytes: Uint8Array,
  view: DataView,
  from: number,
  places: (Place | undefined)[],
  token: (index: number) => string,
): void {
  const open: { at: number; parent: number }[] = [{ at: from, parent: -1 }]
  let read = 0
  while (open.length > 0) {
    let { at, parent } = open.pop()!
    for (;;) {
      if (at < 0 || at + 16 > bytes.length || read++ > places.length)
        throw new CrateFault('a path is missing')
      const number = view.getUint32(at, true)
      const element = view.getUint32(at + 4, true)
      const bits = bytes[at + 8]!
      if (number >= places.length) throw new CrateFault('a path is missing')
      places[number] =
        parent < 0
          ? { path: '/', name: '', kind: 'prim', parent: -1 }
          : placeOf(places, parent, token(element), (bits & 4) !== 0)
      at += 12
      const hasChild = (bits & 1) !== 0
      const hasSibling = (bits & 2) !== 0
      if (hasChild) {
        if (hasSibling) {
          open.push({ at: Number(view.getBigInt64(at, true)), parent })
          at += 8
        }
        parent = number
      } else if (!hasSibling) break
    }
  }
}

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
