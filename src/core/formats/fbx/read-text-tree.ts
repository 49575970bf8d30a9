/**
 * The text form of FBX: `Name: value, value { ... }`, comments from `;` to the end of the line, arrays as
 * `*count { a: 1,2,3 }` (7.x) or as a long list of values over several lines (6.x).
 */
import { createNumberScan, parseNumbers } from '../../base/bytes/parse-number.ts'
import { growingFloat64, reserveFloat64 } from '../../base/bytes/growing.ts'
import { decodeLatin1, decodeUtf8, firstLetters } from '../../base/bytes/text.ts'
import { KelboError, type MessageCollector } from '../../base/messages/collector.ts'
import { MOST_DEPTH, MOST_RECORDS, type FbxRecord, type FbxTree, type FbxValue } from './tree.ts'

const NEWLINE = 10
const RETURN = 13
const SPACE = 32
const QUOTE = 34
const STAR = 42
const COMMA = 44
const COLON = 58
const SEMICOLON = 59
const OPEN = 123
const CLOSE = 125

/** A line of values longer than this is looked at as a list of numbers first. */
const LIST_BYTES = 64
/** Numbers of an array are made room for in steps of this many bytes of text. */
const PIECE_BYTES = 1 << 20

interface OpenRecord {
  readonly name: string
  readonly values: FbxValue[]
  readonly kinds: ''
  readonly children: FbxRecord[]
  opens: boolean
  readonly place: number
}

/** @throws KelboError `fbx.version` for files before 6.1, `file.not-a-model` where no record is found. */
export function readTextTree(bytes: Uint8Array, messages: MessageCollector): FbxTree {
  let at = 0
  let line = 1
  let recordCount = 0
  const length = bytes.length
  const scan = createNumberScan()
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
      messages.add('fbx.number', { text: firstLetters(word, 40) }, line)
      return 0
    }
    // what begins like a number and goes on as something else was meant as one
    if (/^[-+]?\.?\d/.test(word)) {
      messages.add('fbx.number', { text: firstLetters(word, 40) }, line)
      return 0
    }
    return word
  }

  /** Numbers between commas and blanks from here to `end`, over as many lines as there are. */
  function numbersUntil(end: number): Float64Array {
    const numbers = growingFloat64()
    while (at < end) {
      if (bytes[at] === NEWLINE || bytes[at] === RETURN) {
        if (bytes[at] === NEWLINE) line++
        at++
        continue
      }
      // a line may hold all of a large array: it is taken in pieces, each ending between two numbers
      let stop = Math.min(at + PIECE_BYTES, end)
      while (stop < end && bytes[stop] !== COMMA && bytes[stop]! > SPACE) stop++
      // a number and what parts it from the next take two bytes at least
      const room = reserveFloat64(numbers, ((stop - at) >> 1) + 1).subarray(numbers.length)
      const found = parseNumbers(bytes, at, stop, room, scan, COMMA)
      if (scan.badStart >= 0) {
        messages.add(
          'fbx.number',
          { text: text(scan.badStart, Math.min(scan.badEnd, scan.badStart + 40)) },
          line,
        )
        room[scan.badIndex] = 0
      }
      let words: string[] | null = null
      for (let k = 0; k < found; k++)
        if (!Number.isFinite(room[k]!)) {
          // told as the file has it; taken apart once, since every number of it may be too large
          words ??= text(at, stop)
            .split(/[\s,]+/)
            .filter(Boolean)
          messages.add('fbx.number', { text: (words[k] ?? String(room[k])).slice(0, 40) }, line)
          room[k] = 0
        }
      numbers.length += found
      line += scan.joinedLines
      at = scan.end
    }
    return numbers.array.slice(0, numbers.length)
  }

  const nextPlaces = new Map<number, number>()
  /** Where a byte stands next, from here on; the file's length where it doesn't. Each stretch is looked through once. */
  function nextOf(byte: number): number {
    let place = nextPlaces.get(byte) ?? -1
    if (place < at) {
      place = bytes.indexOf(byte, at)
      if (place < 0) place = length
      nextPlaces.set(byte, place)
    }
    return place
  }

  /** The numbers behind `a:`, which go on to the brace that closes the array. */
  function readNumbers(): Float64Array {
    let end = nextOf(CLOSE)
    // a name or a quotation mark in there ends it as well: the brace was another record's
    const other = Math.min(nextOf(COLON), nextOf(OPEN), nextOf(QUOTE))
    if (other < end) {
      end = other
      while (end > at && bytes[end - 1] !== NEWLINE) end--
    }
    return numbersUntil(end)
  }

  /** Where a list of numbers that begins here ends: at the first byte that can't be part of one. */
  function listEnd(): number {
    let probe = at
    let comma = false
    for (; probe < length; probe++) {
      const byte = bytes[probe]!
      if (byte === NEWLINE) {
        // it goes on in the next line where a comma stands before or behind the break
        let next = probe + 1
        while (next < length && bytes[next]! <= SPACE) next++
        if (!comma && bytes[next] !== COMMA) return probe
        continue
      }
      if (byte <= SPACE) continue
      comma = byte === COMMA
      const isNumber =
        (byte >= 48 && byte <= 57) ||
        byte === 45 ||
        byte === 46 ||
        byte === 43 ||
        (byte | 32) === 101 ||
        comma
      if (!isNumber) return -1
    }
    return probe
  }

  const root: OpenRecord = { name: '', values: [], kinds: '', children: [], opens: true, place: 1 }
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
      current.opens = true
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
        current = { name: word, values: [], kinds: '', children: [], opens: false, place: line }
        stack[stack.length - 1]!.children.push(current)
        if (word === 'a') current.values.push(readNumbers())
        else {
          while (at < length && bytes[at]! <= SPACE && bytes[at] !== NEWLINE) at++
          const lineEnd = bytes.indexOf(NEWLINE, at)
          if ((lineEnd < 0 ? length : lineEnd) - at > LIST_BYTES && bytes[at] !== QUOTE) {
            const end = listEnd()
            if (end > at) current.values.push(numbersUntil(end))
          }
        }
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
