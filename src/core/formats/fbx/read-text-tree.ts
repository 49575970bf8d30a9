/**
 * The text form of FBX: `Name: value, value { ... }`, comments from `;` to the end of the line, arrays as
 * `*count { a: 1,2,3 }`.
 */
import { decodeLatin1, decodeUtf8 } from '../../bytes/text.ts'
import { KelboError, type MessageCollector } from '../../messages/collector.ts'
import { MOST_DEPTH, MOST_RECORDS, type FbxRecord, type FbxTree, type FbxValue } from './tree.ts'

const NEWLINE = 10
const SPACE = 32
const QUOTE = 34
const STAR = 42
const COMMA = 44
const COLON = 58
const SEMICOLON = 59
const OPEN = 123
const CLOSE = 125

interface OpenRecord {
  readonly name: string
  readonly values: FbxValue[]
  readonly children: FbxRecord[]
  readonly place: number
}

/** @throws KelboError `fbx.version` for files before 6.1, `file.not-a-model` where no record is found. */
export function readTextTree(bytes: Uint8Array, messages: MessageCollector): FbxTree {
  let at = 0
  let line = 1
  let recordCount = 0
  const length = bytes.length
  const text = (from: number, to: number): string => {
    const part = bytes.subarray(from, to)
    return decodeUtf8(part) ?? decodeLatin1(part)
  }
  const damaged = (what: string): void => messages.add('fbx.damaged', { what }, line)

  function skipBlank(): void {
    while (at < length) {
      const byte = bytes[at]!
      if (byte === SEMICOLON) while (at < length && bytes[at] !== NEWLINE) at++
      else if (byte === NEWLINE) {
        line++
        at++
      } else if (byte <= SPACE) at++
      else return
    }
  }
  const isWord = (byte: number): boolean =>
    byte > SPACE &&
    byte !== COMMA &&
    byte !== COLON &&
    byte !== OPEN &&
    byte !== CLOSE &&
    byte !== QUOTE &&
    byte !== SEMICOLON
  function readWord(): string {
    const start = at
    while (at < length && isWord(bytes[at]!)) at++
    return text(start, at)
  }
  function readQuoted(): string {
    const start = ++at
    while (at < length && bytes[at] !== QUOTE) {
      if (bytes[at] === NEWLINE) line++
      at++
    }
    const found = text(start, at++)
    return found.includes('&quot;') ? found.replaceAll('&quot;', '"') : found
  }
  function wordValue(word: string): FbxValue {
    const number = Number(word)
    if (word !== '' && !Number.isNaN(number)) {
      if (Number.isSafeInteger(number) || /[.e]/i.test(word)) return number
      try {
        return BigInt(word)
      } catch {
        return number
      }
    }
    // what tools write for numbers that are none
    const lower = word.toLowerCase()
    if (/^[-+]?(nan|inf|1\.#)/.test(lower)) {
      messages.add('fbx.number', { text: word.slice(0, 40) }, line)
      return 0
    }
    return word
  }

  /** Numbers behind `a:`, as many as there are. */
  function readNumbers(): Float64Array {
    let numbers = new Float64Array(1024)
    let count = 0
    for (;;) {
      skipBlank()
      const byte = bytes[at]
      if (byte === undefined || byte === CLOSE || byte === OPEN || byte === COLON) break
      if (byte === COMMA) {
        at++
        continue
      }
      if (byte === QUOTE) {
        readQuoted()
        continue
      }
      const start = at
      const word = readWord()
      // a name that is followed by a colon begins the next record
      if (bytes[at] === COLON) {
        at = start
        break
      }
      const value = wordValue(word)
      if (typeof value === 'string') messages.add('fbx.number', { text: word.slice(0, 40) }, line)
      if (count === numbers.length) {
        const larger = new Float64Array(2 * count)
        larger.set(numbers)
        numbers = larger
      }
      numbers[count++] = typeof value === 'string' ? 0 : Number(value)
    }
    return numbers.slice(0, count)
  }

  const root: OpenRecord = { name: '', values: [], children: [], place: 1 }
  const stack: OpenRecord[] = [root]
  let current: OpenRecord | null = null
  let unknownBytes = 0
  parse: while (at < length) {
    skipBlank()
    if (at >= length) break
    const byte = bytes[at]!
    if (byte === CLOSE) {
      at++
      current = null
      if (stack.length === 1) {
        damaged('a brace closes nothing')
        break
      }
      stack.pop()
    } else if (byte === OPEN) {
      at++
      if (!current) {
        damaged('a brace opens nothing')
        break
      }
      if (stack.length > MOST_DEPTH) {
        damaged('records are nested too deeply')
        break
      }
      stack.push(current)
      current = null
    } else if (byte === COMMA) at++
    else if (byte === QUOTE) {
      const value = readQuoted()
      if (current) current.values.push(value)
    } else {
      const start = at
      const word = readWord()
      if (word === '') {
        at++
        if (++unknownBytes > 1000) {
          damaged('what follows makes no sense')
          break parse
        }
        continue
      }
      let behind = at
      while (behind < length && bytes[behind]! <= SPACE && bytes[behind] !== NEWLINE) behind++
      if (bytes[behind] === COLON) {
        at = behind + 1
        if (++recordCount > MOST_RECORDS) {
          damaged('there are too many records')
          break
        }
        current = { name: word, values: [], children: [], place: line }
        stack[stack.length - 1]!.children.push(current)
        if (word === 'a') current.values.push(readNumbers())
      } else if (current) {
        // the count before an array says nothing that the array doesn't
        if (bytes[start] !== STAR) current.values.push(wordValue(word))
      }
    }
  }
  if (stack.length > 1) damaged('the file ends inside a record')
  const header = root.children.find((record) => record.name === 'FBXHeaderExtension')
  const version = header?.children.find((record) => record.name === 'FBXVersion')?.values[0]
  if (root.children.length === 0) throw new KelboError('file.not-a-model')
  const known = typeof version === 'number' ? version : 7400
  if (known < 6100) throw new KelboError('fbx.version', { version: known / 1000 })
  return { form: 'text', version: known, records: root.children }
}
