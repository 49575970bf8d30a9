/** A USD text as a layer. Source: OpenUSD, “Usda file format” (its grammar). */
import { normalizeTextBytes } from '../../base/bytes/text.ts'
import { type UsdArc, type UsdLayer, type UsdPrim, type UsdProperty, type UsdValue } from './layer.ts'
import { scanText, type Token } from './scan-text.ts'
import {
  DEEPEST,
  editedList,
  LIST_EDITS,
  readArcs,
  readDictionary,
  readPaths,
  readSamples,
  readValue,
  skipTo,
  type Edited,
  type Reading,
} from './text-values.ts'

const SPECIFIERS: ReadonlySet<string> = new Set(['def', 'over', 'class'])

interface Metadata {
  readonly values: Map<string, UsdValue>
  readonly references: Edited<UsdArc>[]
  readonly payloads: Edited<UsdArc>[]
  readonly inherits: Edited<string>[]
  readonly specializes: Edited<string>[]
  readonly subLayers: string[]
  readonly chosen: Map<string, string>
}

/** What stands in parentheses behind a prim, a property or the head of a file; the parenthesis is open. */
function readMetadata(reading: Reading): Metadata {
  const { scanner } = reading
  const found: Metadata = {
    values: new Map(),
    references: [],
    payloads: [],
    inherits: [],
    specializes: [],
    subLayers: [],
    chosen: new Map(),
  }
  /** Texts of lists that are edited, by their names. */
  const edits = new Map<string, Edited<string>[]>()
  while (!scanner.takes(')')) {
    const token = scanner.next()
    if (token.kind === 'string') {
      found.values.set('comment', token.text)
      continue
    }
    if (token.kind !== 'word') throw scanner.fail('the name of a setting is expected')
    let edit = ''
    let { text: name } = token
    if (LIST_EDITS.has(name) && scanner.peek().kind === 'word') {
      edit = name
      name = (scanner.next() as Token & { kind: 'word' }).text
    }
    scanner.expect('=')
    if (name === 'references') found.references.push({ edit, items: readArcs(reading) })
    else if (name === 'payload' || name === 'payloads')
      found.payloads.push({ edit, items: readArcs(reading) })
    else if (name === 'inherits') found.inherits.push({ edit, items: readPaths(reading) })
    else if (name === 'specializes') found.specializes.push({ edit, items: readPaths(reading) })
    else if (name === 'subLayers') for (const { asset } of readArcs(reading)) found.subLayers.push(asset)
    else if (name === 'variants') {
      scanner.expect('{')
      for (const [set, { value }] of readDictionary(reading, 0)) found.chosen.set(set, String(value))
    } else if (scanner.takes('{')) {
      // pairs of paths, which are no dictionary
      if (scanner.peek().kind === 'path') {
        skipTo(scanner, '}')
        continue
      }
      // a dictionary, or what Kelbo has no use for
      found.values.set(name, readDictionary(reading, 0))
    } else {
      const value = readValue(reading, '', 0)
      if (edit === '') found.values.set(name, value)
      else {
        const items = typeof value === 'string' ? [value] : Array.isArray(value) ? (value as string[]) : []
        const list = edits.get(name) ?? []
        list.push({ edit, items })
        edits.set(name, list)
      }
    }
    scanner.takes(',')
  }
  for (const [name, list] of edits) {
    const plain = found.values.get(name)
    const all = Array.isArray(plain) ? [...list, { edit: '', items: plain as string[] }] : list
    found.values.set(name, editedList(all, String))
  }
  return found
}

/** Words before a property's type. */
function readProperty(
  reading: Reading,
  first: string,
  known: ReadonlyMap<string, UsdProperty>,
): UsdProperty | null {
  const { scanner } = reading
  let custom = false
  let uniform = false
  let edit = ''
  let word = first
  for (;;) {
    if (word === 'custom') custom = true
    else if (word === 'uniform' || word === 'varying' || word === 'config') uniform = word === 'uniform'
    else if (LIST_EDITS.has(word)) edit = word
    else break
    const token = scanner.next()
    if (token.kind !== 'word') throw scanner.fail('a type is expected')
    word = token.text
  }
  const isRelationship = word === 'rel'
  let type = isRelationship ? '' : word
  if (!isRelationship && scanner.takes('[')) {
    scanner.expect(']')
    type = `${word}[]`
  }
  const named = scanner.next()
  if (named.kind !== 'word') throw scanner.fail('the name of a property is expected')
  const [, name = '', suffix = ''] =
    /^(.*?)(?:\.(connect|timeSamples|default|spline))?$/.exec(named.text) ?? []
  const before = known.get(name)
  const base: UsdProperty = {
    name,
    isRelationship,
    type,
    uniform: uniform || (before?.uniform ?? false),
    custom: custom || (before?.custom ?? false),
    targets: before?.targets ?? [],
    metadata: before?.metadata ?? new Map(),
    ...(before?.value === undefined ? {} : { value: before.value }),
    ...(before?.samples ? { samples: before.samples } : {}),
  }
  let property = base
  if (scanner.takes('=')) {
    if (isRelationship || suffix === 'connect') {
      const paths = readPaths(reading)
      const targets =
        edit === 'delete' ? base.targets.filter((path) => !paths.includes(path)) : [...base.targets, ...paths]
      property = { ...base, targets: [...new Set(targets)] }
    } else if (suffix === 'timeSamples') property = { ...base, samples: readSamples(reading, type) }
    else if (suffix === 'spline') {
      scanner.expect('{')
      skipTo(scanner, '}')
    } else property = { ...base, value: readValue(reading, type, 0) }
  }
  if (scanner.takes('(')) property = { ...property, metadata: readMetadata(reading).values }
  return property
}

interface Body {
  readonly properties: readonly UsdProperty[]
  readonly children: readonly UsdPrim[]
  readonly variantSets: ReadonlyMap<string, ReadonlyMap<string, UsdPrim>>
}

/** What stands in the braces of a prim or a variant; the brace is open. */
function readBody(reading: Reading, depth: number): Body {
  const { scanner } = reading
  if (depth > DEEPEST) throw scanner.fail('prims lie too deep in each other')
  const properties = new Map<string, UsdProperty>()
  const children: UsdPrim[] = []
  const variantSets = new Map<string, Map<string, UsdPrim>>()
  while (!scanner.takes('}')) {
    const token = scanner.next()
    if (token.kind !== 'word')
      throw scanner.fail(token.kind === 'end' ? '“}” is missing' : 'a prim or a property is expected')
    if (SPECIFIERS.has(token.text)) children.push(readPrim(reading, token.text, depth + 1))
    else if (token.text === 'variantSet') {
      const set = scanner.next()
      if (set.kind !== 'string') throw scanner.fail('the name of a set of variants is expected')
      scanner.expect('=')
      scanner.expect('{')
      const variants = new Map<string, UsdPrim>()
      while (!scanner.takes('}')) {
        const name = scanner.next()
        if (name.kind !== 'string') throw scanner.fail('the name of a variant is expected')
        const metadata = scanner.takes('(') ? readMetadata(reading) : null
        scanner.expect('{')
        variants.set(name.text, primOf('over', '', name.text, metadata, readBody(reading, depth + 1)))
      }
      variantSets.set(set.text, variants)
    } else if (token.text === 'reorder') {
      // an order of names or of properties: it changes nothing that is said
      scanner.next()
      scanner.expect('=')
      readValue(reading, 'token[]', 0)
    } else {
      const property = readProperty(reading, token.text, properties)
      if (property) properties.set(property.name, property)
    }
  }
  return { properties: [...properties.values()], children, variantSets }
}

function primOf(
  specifier: UsdPrim['specifier'],
  type: string,
  name: string,
  metadata: Metadata | null,
  body: Body,
): UsdPrim {
  const arcKey = ({ asset, path }: UsdArc): string => `${asset} ${path}`
  return {
    specifier,
    type,
    name,
    metadata: metadata?.values ?? new Map(),
    references: editedList(metadata?.references ?? [], arcKey),
    payloads: editedList(metadata?.payloads ?? [], arcKey),
    inherits: editedList(metadata?.inherits ?? [], String),
    specializes: editedList(metadata?.specializes ?? [], String),
    chosen: metadata?.chosen ?? new Map(),
    ...body,
  }
}

function readPrim(reading: Reading, specifier: string, depth: number): UsdPrim {
  const { scanner } = reading
  let type = ''
  let token = scanner.next()
  if (token.kind === 'word') {
    type = token.text
    token = scanner.next()
  }
  if (token.kind !== 'string') throw scanner.fail('the name of a prim is expected')
  const metadata = scanner.takes('(') ? readMetadata(reading) : null
  scanner.expect('{')
  const body = readBody(reading, depth)
  return primOf(specifier as UsdPrim['specifier'], type, token.text, metadata, body)
}

/**
 * @param bytes UTF-8 (UTF-16 is brought to it), beginning with `#usda 1.0`.
 * @throws KelboError `usd.text` with a line.
 */
export function readUsdText(bytes: Uint8Array, fileName: string): UsdLayer {
  const scanner = scanText(normalizeTextBytes(bytes), fileName)
  const reading: Reading = { scanner }
  const head = scanner.takes('(') ? readMetadata(reading) : null
  const prims: UsdPrim[] = []
  for (;;) {
    const token = scanner.next()
    if (token.kind === 'end') break
    if (token.kind === 'word' && SPECIFIERS.has(token.text)) prims.push(readPrim(reading, token.text, 0))
    else if (token.kind === 'word' && token.text === 'reorder') {
      scanner.next()
      scanner.expect('=')
      readValue(reading, 'token[]', 0)
    } else throw scanner.fail('a prim is expected')
  }
  return { metadata: head?.values ?? new Map(), subLayers: head?.subLayers ?? [], prims }
}
