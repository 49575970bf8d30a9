/** Words, texts and numbers of a USD text, one after another. Source: OpenUSD, “Usda file format” (its grammar). */
import { decodeLatin1, decodeUtf8, firstLetters } from '../../base/bytes/text.ts'
import { createNumberScan, parseNumbers } from '../../base/bytes/parse-number.ts'
import { KelboError } from '../../base/messages/collector.ts'

export type Token =
  | { readonly kind: 'sign'; readonly text: string }
  | { readonly kind: 'word'; readonly text: string }
  | { readonly kind: 'number'; readonly value: number; readonly text: string }
  | { readonly kind: 'string'; readonly text: string }
  | { readonly kind: 'asset'; readonly text: string }
  | { readonly kind: 'path'; readonly text: string }
  | { readonly kind: 'end' }

const QUOTE = 34
const APOSTROPHE = 39
const HASH = 35
const NEWLINE = 10
const RETURN = 13
const AT = 64
const LESS = 60
const GREATER = 62
const BACKSLASH = 92
const OPEN = 91
const CLOSE = 93

/** What a byte is in a list of plain numbers. */
const BLANK = 0
const NUMBER = 1
const OTHER = 2
const KINDS = new Uint8Array(256).fill(NUMBER)
for (let byte = 0; byte <= 32; byte++) KINDS[byte] = BLANK
for (const byte of [40, 41, 44]) KINDS[byte] = BLANK
for (const byte of [QUOTE, APOSTROPHE, AT, LESS, OPEN, HASH]) KINDS[byte] = OTHER

const isSpace = (byte: number): boolean => byte <= 32 || byte === 59
const isDigit = (byte: number): boolean => byte >= 48 && byte <= 57
/** Letters, digits, what stands between names (`:` `.` `_` `|`), and whatever is beyond ASCII. */
const isWordByte = (byte: number): boolean =>
  (byte >= 48 && byte <= 58) ||
  (byte >= 65 && byte <= 90) ||
  (byte >= 97 && byte <= 122) ||
  byte === 95 ||
  byte === 46 ||
  byte === 124 ||
  byte >= 128

const ESCAPES: Readonly<Record<string, string>> = { n: '\n', t: '\t', r: '\r', a: '\x07', b: '\b', f: '\f', v: '\v' } // prettier-ignore

function unescape(text: string): string {
  return text.includes('\\')
    ? text.replace(/\\(x[0-9a-fA-F]{1,2}|[0-7]{1,3}|\n|[^])/g, (_all, code: string) => {
        if (code[0] === 'x' && code.length > 1) return String.fromCharCode(parseInt(code.slice(1), 16))
        if (/^[0-7]/.test(code)) return String.fromCharCode(parseInt(code, 8) & 0xff)
        return ESCAPES[code] ?? code
      })
    : text
}

export interface TextScanner {
  readonly peek: () => Token
  readonly next: () => Token
  /** Whether the next token is a sign; it is taken then. */
  readonly takes: (sign: string) => boolean
  /** @throws KelboError where it is another. */
  readonly expect: (sign: string) => void
  readonly fail: (what: string) => KelboError
  /**
   * The numbers of a list that begins here, flat, whatever parentheses stand between them; null where it is no list of
   * plain numbers, and nothing is taken then.
   */
  readonly numberList: () => Float64Array | null
}

export function scanText(bytes: Uint8Array, fileName: string): TextScanner {
  let at = 0
  let held: Token | null = null
  /** Where the held token begins. */
  let from = 0
  const fail = (what: string): KelboError => {
    let line = 1
    for (let index = 0; index < Math.min(from, bytes.length); index++) if (bytes[index] === NEWLINE) line++
    return new KelboError('usd.text', { number: line, what }, fileName)
  }
  const textOf = (start: number, end: number): string =>
    decodeUtf8(bytes, start, end) ?? decodeLatin1(bytes, start, end)

  const skipSpace = (): void => {
    for (; at < bytes.length; at++) {
      const byte = bytes[at]!
      if (byte === HASH) while (at < bytes.length && bytes[at] !== NEWLINE && bytes[at] !== RETURN) at++
      else if (!isSpace(byte)) return
    }
  }
  const quoted = (): Token => {
    const quote = bytes[at]!
    const isLong = bytes[at + 1] === quote && bytes[at + 2] === quote
    const length = isLong ? 3 : 1
    at += length
    const start = at
    for (; at < bytes.length; at++) {
      const byte = bytes[at]!
      if (byte === BACKSLASH) at++
      else if (byte === quote && (!isLong || (bytes[at + 1] === quote && bytes[at + 2] === quote))) {
        const text = unescape(textOf(start, at))
        at += length
        return { kind: 'string', text }
      } else if (!isLong && byte === NEWLINE) break
    }
    throw fail('a text has no end')
  }
  const asset = (): Token => {
    const isLong = bytes[at + 1] === AT && bytes[at + 2] === AT
    const length = isLong ? 3 : 1
    at += length
    const start = at
    for (; at < bytes.length; at++) {
      if (isLong && bytes[at] === BACKSLASH) at++
      else if (bytes[at] === AT && (!isLong || (bytes[at + 1] === AT && bytes[at + 2] === AT))) {
        const text = textOf(start, at).replace(/\\@@@/g, '@@@')
        at += length
        return { kind: 'asset', text }
      } else if (!isLong && bytes[at] === NEWLINE) break
    }
    throw fail('the name of a file has no end')
  }
  const path = (): Token => {
    const start = ++at
    while (at < bytes.length && bytes[at] !== GREATER && bytes[at] !== NEWLINE) at++
    if (bytes[at] !== GREATER) throw fail('a path has no end')
    return { kind: 'path', text: textOf(start, at++) }
  }
  const word = (): Token => {
    const start = at
    const first = bytes[at]!
    const second = bytes[at + 1] ?? 0
    const isNumber = isDigit(first) || ((first === 45 || first === 43 || first === 46) && (isDigit(second) || second === 46)) // prettier-ignore
    if (isNumber) {
      at++
      while (at < bytes.length) {
        const byte = bytes[at]!
        const isSign = byte === 45 || byte === 43
        if (isSign ? (bytes[at - 1]! | 32) !== 101 : !isWordByte(byte) || byte === 58) break
        at++
      }
      const text = textOf(start, at)
      const value = Number(text)
      return Number.isNaN(value) ? { kind: 'word', text } : { kind: 'number', value, text }
    }
    if (first === 45 || first === 43) at++
    while (at < bytes.length && isWordByte(bytes[at]!)) at++
    const text = textOf(start, at)
    if (/^[-+]?inf$/.test(text))
      return { kind: 'number', value: text.startsWith('-') ? -Infinity : Infinity, text }
    if (/^[-+]?nan$/.test(text)) return { kind: 'number', value: NaN, text }
    if (at > start) return { kind: 'word', text }
    at++
    return { kind: 'sign', text: String.fromCharCode(first) }
  }
  const scan = (): Token => {
    skipSpace()
    from = at
    if (at >= bytes.length) return { kind: 'end' }
    const byte = bytes[at]!
    if (byte === QUOTE || byte === APOSTROPHE) return quoted()
    if (byte === AT) return asset()
    if (byte === LESS) return path()
    // no name begins with it: it stands behind a time
    if (byte === 58) {
      at++
      return { kind: 'sign', text: ':' }
    }
    return word()
  }
  const peek = (): Token => (held ??= scan())
  const next = (): Token => {
    const token = peek()
    held = null
    return token
  }
  const takes = (sign: string): boolean => {
    const token = peek()
    if (token.kind !== 'sign' || token.text !== sign) return false
    held = null
    return true
  }
  const expect = (sign: string): void => {
    if (!takes(sign)) {
      const token = peek()
      throw fail(
        token.kind === 'end'
          ? `the file ends where “${sign}” is expected`
          : `“${firstLetters(token.text, 40)}” stands where “${sign}” is expected`,
      )
    }
  }
  const numberList = (): Float64Array | null => {
    peek()
    if (held?.kind !== 'sign' || held.text !== '[') return null
    const end = bytes.indexOf(CLOSE, at)
    if (end < 0) return null
    // signs between numbers become blanks, so that all of them are one line
    const plain = new Uint8Array(end - at)
    let used = 0
    let before = BLANK
    let most = 0
    for (let index = at; index < end; index++) {
      const byte = bytes[index]!
      const kind = KINDS[byte]!
      if (kind === NUMBER) {
        if (before !== NUMBER) most++
        plain[used++] = byte
      } else if (kind === BLANK) plain[used++] = 32
      // what stands in a comment may be anything, a bracket too
      else return null
      before = kind
    }
    const values = new Float64Array(most)
    const numbers = createNumberScan()
    parseNumbers(plain, 0, used, values, numbers)
    // truths and single words are read one by one
    if (
      numbers.badStart >= 0 &&
      !/^[-+]?(inf|nan)$/.test(decodeLatin1(plain, numbers.badStart, numbers.badEnd))
    )
      return null
    at = end + 1
    held = null
    return values
  }
  return { peek, next, takes, expect, fail, numberList }
}
