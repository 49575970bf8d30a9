/** Values in a USD text: numbers, texts, lists of them, dictionaries, samples, paths, references. Source: OpenUSD, “Usda file format”. */
import { firstLetters } from '../../base/bytes/text.ts'
import { isTextType, type UsdArc, type UsdDictionary, type UsdSamples, type UsdValue } from './layer.ts'
import type { TextScanner, Token } from './scan-text.ts'

/** How deep prims, and values within values, may lie. */
export const DEEPEST = 256

export const LIST_EDITS: ReadonlySet<string> = new Set(['add', 'append', 'prepend', 'delete', 'reorder'])

/** Several references as the file edits its list: what is added, in order of strength. */
export interface Edited<Item> {
  readonly edit: string
  readonly items: readonly Item[]
}

/** The items of a list after its edits. */
export function editedList<Item>(edits: readonly Edited<Item>[], keyOf: (item: Item) => string): Item[] {
  const of = (edit: string): Item[] => edits.filter((own) => own.edit === edit).flatMap(({ items }) => items)
  const gone = new Set(of('delete').map(keyOf))
  const listed = [...of('prepend'), ...of(''), ...of('add'), ...of('append')]
  const seen = new Set<string>()
  return listed.filter((item) => {
    const key = keyOf(item)
    if (gone.has(key) || seen.has(key)) return false
    seen.add(key)
    return true
  })
}

export const isWord = (token: Token, text?: string): token is Token & { kind: 'word'; text: string } =>
  token.kind === 'word' && (text === undefined || token.text === text)

/** A value as its type has it: numbers that stand for truths are these. */
function asType(value: UsdValue, type: string): UsdValue {
  if (type === 'bool' && typeof value === 'number') return value !== 0
  if (isTextType(type) && typeof value === 'number') return String(value)
  return value
}

export interface Reading {
  readonly scanner: TextScanner
}

/** @param type '' where it is not known: then what stands there says what it is. */
export function readValue({ scanner }: Reading, type: string, depth: number): UsdValue {
  if (depth > DEEPEST) throw scanner.fail('values lie too deep in each other')
  const numbers = isTextType(type) ? null : scanner.numberList()
  if (numbers) return numbers.length === 0 && isTextType(type) ? [] : numbers
  const token = scanner.next()
  if (token.kind === 'number') return asType(token.value, type)
  if (token.kind === 'string' || token.kind === 'asset' || token.kind === 'path') return token.text
  if (token.kind === 'word') {
    if (token.text === 'None') return null
    if (token.text === 'true' || token.text === 'false') return token.text === 'true'
    return token.text
  }
  if (token.kind === 'sign' && (token.text === '(' || token.text === '[')) {
    const close = token.text === '(' ? ')' : ']'
    const values: number[] = []
    const texts: string[] = []
    while (!scanner.takes(close)) {
      if (scanner.peek().kind === 'end') throw scanner.fail('a list has no end')
      const own = readValue({ scanner }, type.replace(/\[\]$/, ''), depth + 1)
      if (typeof own === 'number') values.push(own)
      else if (typeof own === 'boolean') values.push(own ? 1 : 0)
      else if (typeof own === 'string') texts.push(own)
      else if (own instanceof Float64Array) for (const one of own) values.push(one)
      else if (Array.isArray(own)) texts.push(...(own as string[]))
      if (!scanner.takes(',') && !(scanner.peek().kind === 'sign')) break
    }
    return texts.length > 0 || isTextType(type)
      ? [...texts, ...values.map(String)]
      : Float64Array.from(values)
  }
  if (token.kind === 'sign' && token.text === '{') return readDictionary({ scanner }, depth + 1)
  throw scanner.fail(
    token.kind === 'end'
      ? 'the file ends where a value is expected'
      : `“${firstLetters(token.text, 40)}” is no value`,
  )
}

/** The entries of a dictionary whose brace is open. */
export function readDictionary({ scanner }: Reading, depth: number): UsdDictionary {
  const entries = new Map<string, { type: string; value: UsdValue }>()
  while (!scanner.takes('}')) {
    const type = typeName(scanner)
    const key = scanner.next()
    if (key.kind !== 'word' && key.kind !== 'string' && key.kind !== 'number')
      throw scanner.fail('an entry has no name')
    scanner.expect('=')
    if (type === 'dictionary') {
      scanner.expect('{')
      entries.set(key.text, { type, value: readDictionary({ scanner }, depth + 1) })
    } else entries.set(key.text, { type, value: readValue({ scanner }, type, depth + 1) })
    scanner.takes(',')
  }
  return entries
}

/** A type's name, with the brackets of an array. */
function typeName(scanner: TextScanner): string {
  const token = scanner.next()
  if (token.kind !== 'word') throw scanner.fail('a type is expected')
  if (!scanner.takes('[')) return token.text
  scanner.expect(']')
  return `${token.text}[]`
}

export function readSamples(reading: Reading, type: string): UsdSamples {
  const { scanner } = reading
  scanner.expect('{')
  const entries: [number, UsdValue][] = []
  while (!scanner.takes('}')) {
    const time = scanner.next()
    if (time.kind !== 'number') throw scanner.fail('a time is expected')
    scanner.expect(':')
    entries.push([time.value, readValue(reading, type, 0)])
    scanner.takes(',')
  }
  entries.sort(([a], [b]) => a - b)
  return { times: entries.map(([time]) => time), values: entries.map(([, value]) => value) }
}

/** One path, several, or none. */
export function readPaths({ scanner }: Reading): string[] {
  const single = scanner.peek()
  if (isWord(single, 'None')) {
    scanner.next()
    return []
  }
  if (!scanner.takes('[')) {
    const token = scanner.next()
    if (token.kind !== 'path') throw scanner.fail('a path is expected')
    return [token.text]
  }
  const paths: string[] = []
  while (!scanner.takes(']')) {
    const token = scanner.next()
    if (token.kind !== 'path') throw scanner.fail('a path is expected')
    paths.push(token.text)
    scanner.takes(',')
  }
  return paths
}

/** References: a file, a prim in it, or both; what moves them in time is passed over. */
export function readArcs(reading: Reading): UsdArc[] {
  const { scanner } = reading
  const one = (): UsdArc => {
    const first = scanner.next()
    let asset = ''
    let path = ''
    if (first.kind === 'asset') {
      asset = first.text
      const second = scanner.peek()
      if (second.kind === 'path') {
        scanner.next()
        path = second.text
      }
    } else if (first.kind === 'path') path = first.text
    else throw scanner.fail('a reference is expected')
    if (scanner.takes('(')) skipTo(scanner, ')')
    return { asset, path }
  }
  if (isWord(scanner.peek(), 'None')) {
    scanner.next()
    return []
  }
  if (!scanner.takes('[')) return [one()]
  const arcs: UsdArc[] = []
  while (!scanner.takes(']')) {
    arcs.push(one())
    scanner.takes(',')
  }
  return arcs
}

/** Passes over what stands in parentheses or braces that are open. */
export function skipTo(scanner: TextScanner, close: string): void {
  const open = close === ')' ? '(' : '{'
  for (let depth = 1; depth > 0;) {
    const token = scanner.next()
    if (token.kind === 'end') throw scanner.fail(`“${close}” is missing`)
    if (token.kind === 'sign' && token.text === open) depth++
    if (token.kind === 'sign' && token.text === close) depth--
  }
}
