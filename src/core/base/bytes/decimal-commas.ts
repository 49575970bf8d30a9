/** Numbers as programs write them on systems whose decimal sign is a comma: “0,5” for 0.5. */
import { encodeUtf8 } from './text.ts'

const [COMMA, POINT, EXPONENT, CASE] = [44, 46, 101, 32]

/** Where the comma stands in one of the words of a text if that is a number with a decimal comma, else -1. */
function decimalComma(bytes: Uint8Array, from: number, to: number): number {
  let comma = -1
  let hasExponent = false
  let digitsAfter = 0
  for (let at = from; at < to; at++) {
    const byte = bytes[at]!
    if (byte === COMMA) {
      if (comma >= 0 || hasExponent) return -1
      comma = at
    } else if (byte >= 48 && byte <= 57) {
      if (comma >= 0) digitsAfter++
    } else if (byte === 43 || byte === 45) {
      if (at > from && (bytes[at - 1]! | CASE) !== EXPONENT) return -1
    } else if ((byte | CASE) !== EXPONENT || hasExponent || at === from) return -1
    else hasExponent = true
  }
  return digitsAfter > 0 ? comma : -1
}

/**
 * The same text with points for decimal commas. What holds more than one comma, or a point besides, is a list parted by
 * commas and stays: “1,2,3”, “0.5,1”.
 *
 * @param start first byte, @param end behind the last: words that are parted by blanks, one of which may be a keyword.
 * @returns null where no word is a number with a decimal comma.
 */
export function withDecimalPoints(bytes: Uint8Array, start: number, end: number): Uint8Array | null {
  let found: Uint8Array | null = null
  for (let at = start; at < end;) {
    while (at < end && bytes[at]! <= 32) at++
    const from = at
    while (at < end && bytes[at]! > 32) at++
    const comma = decimalComma(bytes, from, at)
    if (comma < 0) continue
    found ??= bytes.slice(start, end)
    found[comma - start] = POINT
  }
  return found
}

/** A word with a point for its decimal comma; null where it is no number with one. */
export function withDecimalPoint(word: string): string | null {
  const bytes = encodeUtf8(word)
  const comma = decimalComma(bytes, 0, bytes.length)
  return comma < 0 ? null : `${word.slice(0, comma)}.${word.slice(comma + 1)}`
}
