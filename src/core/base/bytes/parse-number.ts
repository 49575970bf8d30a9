/**
 * Decimal text to doubles, straight from bytes, with the same result as ECMAScript's own conversion.
 *
 * Up to 15 digits and a power of ten up to 22 both parts are exact doubles, so one division or
 * multiplication rounds correctly (Clinger 1990, "How to read floating point numbers accurately"). Up to 19
 * digits the quotient is formed in double-double arithmetic (Dekker 1971) and taken when its last bits
 * can't change the rounding. Anything else goes through `Number` on the text.
 */

const POWERS = new Float64Array(23)
for (let exponent = 0, power = 1; exponent < 23; exponent++, power *= 10) POWERS[exponent] = power

/** What `parseNumbers` found besides the numbers. */
export interface NumberScan {
  /** Numbers written to `out` (those past its length are counted, not written). */
  found: number
  /** Where the first ill-formed piece starts and ends, -1 if all were well-formed. */
  badStart: number
  badEnd: number
  /** Index of the ill-formed number among those found. */
  badIndex: number
  /** Where parsing stopped: at the line's end character, or the end of the bytes. */
  end: number
  /** Lines that were joined by a backslash before their end. */
  joinedLines: number
}

/** What `parseNumbers` writes its findings to, used for line after line. */
export const createNumberScan = (): NumberScan => ({
  found: 0,
  badStart: -1,
  badEnd: -1,
  badIndex: 0,
  end: 0,
  joinedLines: 0,
})

const NEWLINE = 10
const RETURN = 13
const BACKSLASH = 92

/** A number with more bytes than this is cut there and reported. */
const LONGEST_NUMBER = 20000

const SPLITTER = 134217729 // 2^27 + 1, Veltkamp

/** (high + low) / power in double-double; NaN where the rounding can't be decided. */
function divideExactly(high: number, low: number, power: number): number {
  const quotient = high / power
  // remainder of high - quotient * power, exact by Dekker's product
  const a1 = quotient * SPLITTER
  const ah = a1 - (a1 - quotient)
  const al = quotient - ah
  const b1 = power * SPLITTER
  const bh = b1 - (b1 - power)
  const bl = power - bh
  const product = quotient * power
  const error = ah * bh - product + ah * bl + al * bh + al * bl
  const rest = (high - product - error + low) / power
  const result = quotient + rest
  // the double-double is good to about 2^-100; widen it a little and see that both ends round alike
  const slack = Math.abs(quotient) * 2 ** -98
  return quotient + (rest + slack) === result && quotient + (rest - slack) === result ? result : NaN
}

/** Text of bytes as Latin-1, enough for numbers; at most `limit` bytes. */
export function asciiText(bytes: Uint8Array, start: number, end: number, limit = 2000): string {
  let text = ''
  const stop = Math.min(end, start + limit)
  for (let at = start; at < stop; at += 512)
    text += String.fromCharCode(...bytes.subarray(at, Math.min(at + 512, stop)))
  return text
}

/**
 * Parses numbers parted by blanks (and by one more character, where one is named) from `start` to the end of the
 * line, which a backslash just before it
 * joins with the next.
 *
 * @param end no byte at or after this is read.
 * @param separator a byte that counts as a blank.
 * @param isLine false: ends of lines are blanks like others, and all is parsed to `end`.
 * @returns the number of values found; at most `out.length` are written. Ill-formed pieces give the value of
 * their well-formed beginning (0 if there is none; NaN and infinities as such) and are reported in `scan`.
 */
export function parseNumbers(
  bytes: Uint8Array,
  start: number,
  end: number,
  out: Float64Array,
  scan: NumberScan,
  separator = 32,
  isLine = true,
): number {
  let at = start
  let found = 0
  scan.badStart = -1
  scan.joinedLines = 0
  for (;;) {
    let byte = NEWLINE
    while (at < end && ((byte = bytes[at]!) <= 32 || byte === separator || byte === BACKSLASH)) {
      if (isLine && (byte === NEWLINE || byte === RETURN)) break
      at++
      if (byte === BACKSLASH && at < end && (bytes[at] === NEWLINE || bytes[at] === RETURN)) {
        scan.joinedLines++
        at += bytes[at] === RETURN && bytes[at + 1] === NEWLINE ? 2 : 1
      }
    }
    if (at >= end || byte <= 32) break
    const first = at
    let negative = false
    if (byte === 45) {
      negative = true
      at++
    } else if (byte === 43) at++
    // Most numbers have at most nine digits and a blank behind them: they fit a 32-bit integer, which is three
    // times as fast as what follows. A longer one overflows here, is told by its length, and starts again.
    const digitsFrom = at
    let small = 0
    let quick = at
    let quickDigit = 0
    let fraction = 0
    while (quick < end && (quickDigit = bytes[quick]! - 48) >= 0 && quickDigit <= 9) {
      small = (Math.imul(small, 10) + quickDigit) | 0
      quick++
    }
    let digitCount = quick - digitsFrom
    if (quick < end && bytes[quick] === 46) {
      quick++
      const fractionFrom = quick
      while (quick < end && (quickDigit = bytes[quick]! - 48) >= 0 && quickDigit <= 9) {
        small = (Math.imul(small, 10) + quickDigit) | 0
        quick++
      }
      fraction = quick - fractionFrom
      digitCount += fraction
    }
    if (
      digitCount > 0 &&
      digitCount <= 9 &&
      (quick >= end || bytes[quick]! <= 32 || bytes[quick] === separator)
    ) {
      const quotient = fraction > 0 ? small / POWERS[fraction]! : small
      if (found < out.length) out[found] = negative ? -quotient : quotient
      found++
      at = quick
      continue
    }
    // high holds up to 15 digits, low the next 4
    let high = 0
    let highDigits = 0
    let low = 0
    let lowDigits = 0
    let scale = 0
    let digitsSeen = false
    let long = false
    let digit = 0
    while (at < end && (digit = bytes[at]! - 48) >= 0 && digit <= 9) {
      digitsSeen = true
      if (highDigits < 15) {
        high = high * 10 + digit
        if (high !== 0) highDigits++
      } else if (lowDigits < 4) {
        low = low * 10 + digit
        lowDigits++
      } else long = true
      at++
    }
    if (long) scale = 0
    if (at < end && bytes[at] === 46) {
      at++
      while (at < end && (digit = bytes[at]! - 48) >= 0 && digit <= 9) {
        digitsSeen = true
        if (highDigits < 15) {
          high = high * 10 + digit
          if (high !== 0) highDigits++
          scale--
        } else if (lowDigits < 4) {
          low = low * 10 + digit
          lowDigits++
          scale--
        } else if (digit !== 0) long = true
        at++
      }
    }
    let wellFormed = digitsSeen
    let numberEnd = at
    if (digitsSeen && at < end && (bytes[at]! | 32) === 101) {
      let probe = at + 1
      let exponentSign = 1
      if (probe < end && (bytes[probe] === 45 || bytes[probe] === 43)) {
        if (bytes[probe] === 45) exponentSign = -1
        probe++
      }
      let exponent = 0
      let exponentDigits = 0
      while (probe < end && (digit = bytes[probe]! - 48) >= 0 && digit <= 9) {
        if (exponent < 100000) exponent = exponent * 10 + digit
        exponentDigits++
        probe++
      }
      if (exponentDigits > 0) {
        scale += exponentSign * exponent
        at = probe
        numberEnd = probe
      }
    }
    let value: number
    if (at < end && bytes[at]! > 32 && bytes[at] !== separator && bytes[at] !== BACKSLASH) {
      // something follows the number without a blank
      wellFormed = false
      while (at < end && bytes[at]! > 32 && bytes[at] !== separator) at++
    }
    if (!digitsSeen) value = specialNumber(bytes, first, at)
    else if (long) {
      if (numberEnd - first > LONGEST_NUMBER) wellFormed = false
      value = Number(asciiText(bytes, first, numberEnd, LONGEST_NUMBER))
    } else if (lowDigits === 0) {
      if (scale === 0) value = high
      else if (scale < 0 && scale >= -22) value = high / POWERS[-scale]!
      else if (scale > 0 && scale <= 22) value = high * POWERS[scale]!
      else value = high === 0 ? 0 : Number(asciiText(bytes, first, numberEnd))
      if (negative && value > 0) value = -value
      else if (negative && value === 0) value = -0
    } else {
      value = NaN
      if (scale <= 0 && scale >= -22) {
        // high * 10^lowDigits is split into a double and its rounding error, so that no digit is lost
        const shift = POWERS[lowDigits]!
        const h1 = high * SPLITTER
        const hh = h1 - (h1 - high)
        const hl = high - hh
        const product = high * shift
        const error = hh * shift - product + hl * shift
        const sum = product + (error + low)
        value = divideExactly(sum, product - sum + (error + low), POWERS[-scale]!)
      }
      if (value !== value) value = Number(asciiText(bytes, first, numberEnd))
      else if (negative) value = -value
    }
    if (!wellFormed && scan.badStart < 0) {
      scan.badStart = first
      scan.badEnd = at
      scan.badIndex = found
    }
    if (found < out.length) out[found] = value
    found++
  }
  scan.found = found
  scan.end = at
  return found
}

/** NaN and infinities as programs write them (nan, -nan(ind), inf, 1.#QNAN ...); 0 for anything else. */
function specialNumber(bytes: Uint8Array, start: number, end: number): number {
  const text = asciiText(bytes, start, end, 12).toLowerCase()
  if (text.includes('nan')) return NaN
  if (text.includes('inf')) return text.startsWith('-') ? -Infinity : Infinity
  return 0
}
