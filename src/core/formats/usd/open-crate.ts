/** The tables of a binary USD: words, texts, fields, paths and specs. Source: as in read-crate.ts. */
import { decodeLatin1, decodeUtf8 } from '../../base/bytes/text.ts'
import { CrateFault, unpackChunks, unpackIntegers } from './crate-bytes.ts'
import type { CrateTables } from './crate-values.ts'

const MARK = 'PXR-USDC'
/** Elements that a file may have at most for its length: a few bits each at the least. */
const MOST_PER_BYTE = 256

export const isCrate = (bytes: Uint8Array): boolean =>
  bytes.length >= 88 && decodeLatin1(bytes, 0, 8) === MARK

interface Section {
  readonly start: number
  readonly size: number
}

/** What is beneath a path of the file. */
export interface Place {
  readonly path: string
  readonly name: string
  /** A property is no prim, and a variant stands in braces. */
  readonly kind: 'prim' | 'property' | 'variant'
  readonly parent: number
}

export interface Tables extends CrateTables {
  readonly places: readonly (Place | undefined)[]
}

export interface OpenedCrate {
  readonly tables: Tables
  readonly specs: readonly { place: number; fields: number; kind: number }[]
  readonly fieldSets: Float64Array
  readonly fields: readonly { name: number; high: number; low: number }[]
}

/** The tables of a file. @throws CrateFault */
export function openCrate(bytes: Uint8Array): OpenedCrate {
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
