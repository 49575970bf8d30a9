/** Long lists of decimal numbers, parted by blanks of any kind, straight from bytes. */
import { createNumberScan, parseNumbers } from './parse-number.ts'

/** Digits of a whole number that surely fits 32 bits with its sign. */
const MOST_DIGITS = 9

/** How many places of a list are looked at to tell how long its numbers are, and how many bytes of each. */
const SAMPLES = 8
const SAMPLE_BYTES = 1024

/** How many numbers there are about; those of a short list exactly. */
function estimateCount(bytes: Uint8Array, start: number, end: number): number {
  const length = end - start
  const isShort = length <= SAMPLES * SAMPLE_BYTES
  let count = 0
  let looked = 0
  for (let sample = 0; sample < (isShort ? 1 : SAMPLES); sample++) {
    const from = start + (isShort ? 0 : Math.floor(((length - SAMPLE_BYTES) * sample) / (SAMPLES - 1)))
    const to = isShort ? end : from + SAMPLE_BYTES
    for (let at = from, before = 32; at < to; at++) {
      const byte = bytes[at]!
      if (byte > 32 && before <= 32) count++
      before = byte
    }
    looked += to - from
  }
  return isShort ? count : Math.ceil((1.05 * count * length) / looked) + 16
}

/** Digits have what is taken off a byte from 0 to 9; blanks of all kinds come to less than nothing by this. */
const ZERO = 48
const BLANK = 32 - ZERO
const MINUS = 45 - ZERO
const POINT = 46 - ZERO

const POWERS = Float64Array.from({ length: MOST_DIGITS + 1 }, (_none, exponent) => 10 ** exponent)

/** Bytes that a list is read from where something stands in it that takes longer to read. */
const STRETCH = 512

interface List {
  readonly bytes: Uint8Array
  readonly start: number
  readonly end: number
}

/** A list behind which a byte stands that goes on with no number, so that it ends there and no place has to be compared. */
function closed(bytes: Uint8Array, start: number, end: number): List {
  const after = end < bytes.length ? bytes[end]! - ZERO : 0
  if (after >>> 0 > 9 && after !== POINT) return { bytes, start, end }
  if (end > start && bytes[end - 1]! <= 32) return { bytes, start, end: end - 1 }
  const own = new Uint8Array(end - start + 1)
  own.set(bytes.subarray(start, end))
  return { bytes: own, start: 0, end: own.length - 1 }
}

function larger<T extends Int32Array | Float64Array>(values: T, length: number): T {
  const found = new (values.constructor as new (length: number) => T)(length)
  found.set(values)
  return found
}
const grown = (length: number): number => Math.ceil(1.25 * length) + 16

/**
 * Reads a list of whole numbers of at most nine digits without signs: what lists of indices are made of.
 *
 * @returns null where anything else stands there; `parseReals` then says what.
 */
export function parseWholes(given: Uint8Array, from: number, to: number): Int32Array | null {
  const { bytes, start, end } = closed(given, from, to)
  let values = new Int32Array(estimateCount(bytes, start, end))
  let found = 0
  for (let at = start; at < end; at++) {
    let digit = bytes[at]! - ZERO
    if (digit >>> 0 > 9) {
      if (digit > BLANK) return null
      continue
    }
    let value = digit
    // digit by digit, which takes half the time that a loop does
    number: {
      if ((digit = bytes[++at]! - ZERO) >>> 0 > 9) break number
      value = (10 * value + digit) | 0
      if ((digit = bytes[++at]! - ZERO) >>> 0 > 9) break number
      value = (10 * value + digit) | 0
      if ((digit = bytes[++at]! - ZERO) >>> 0 > 9) break number
      value = (10 * value + digit) | 0
      if ((digit = bytes[++at]! - ZERO) >>> 0 > 9) break number
      value = (10 * value + digit) | 0
      if ((digit = bytes[++at]! - ZERO) >>> 0 > 9) break number
      value = (10 * value + digit) | 0
      if ((digit = bytes[++at]! - ZERO) >>> 0 > 9) break number
      value = (10 * value + digit) | 0
      if ((digit = bytes[++at]! - ZERO) >>> 0 > 9) break number
      value = (10 * value + digit) | 0
      if ((digit = bytes[++at]! - ZERO) >>> 0 > 9) break number
      value = (10 * value + digit) | 0
      if ((digit = bytes[++at]! - ZERO) >>> 0 <= 9) return null
    }
    if (digit > BLANK && at < end) return null
    if (found === values.length) values = larger(values, grown(found))
    values[found++] = value
  }
  return found === values.length ? values : values.slice(0, found)
}

/**
 * Reads a list of numbers.
 *
 * @returns null where one of them is ill-formed, NaN or infinite ones among them.
 */
export function parseReals(given: Uint8Array, from: number, to: number): Float64Array | null {
  const { bytes, start, end } = closed(given, from, to)
  let values = new Float64Array(estimateCount(bytes, start, end))
  const scan = createNumberScan()
  let found = 0
  for (let at = start; at < end; at++) {
    const first = at
    let digit = bytes[at]! - ZERO
    if (digit <= BLANK) continue
    const isNegative = digit === MINUS
    if (isNegative) digit = bytes[++at]! - ZERO
    const digitsFrom = at
    let value = 0
    let pointAt = 0
    if (digit >>> 0 <= 9) {
      value = digit
      while ((digit = bytes[++at]! - ZERO) >>> 0 <= 9) value = (Math.imul(10, value) + digit) | 0
      if (digit === POINT) {
        pointAt = at
        number: {
          if ((digit = bytes[++at]! - ZERO) >>> 0 > 9) break number
          value = (Math.imul(10, value) + digit) | 0
          if ((digit = bytes[++at]! - ZERO) >>> 0 > 9) break number
          value = (Math.imul(10, value) + digit) | 0
          if ((digit = bytes[++at]! - ZERO) >>> 0 > 9) break number
          value = (Math.imul(10, value) + digit) | 0
          if ((digit = bytes[++at]! - ZERO) >>> 0 > 9) break number
          value = (Math.imul(10, value) + digit) | 0
          if ((digit = bytes[++at]! - ZERO) >>> 0 > 9) break number
          value = (Math.imul(10, value) + digit) | 0
          if ((digit = bytes[++at]! - ZERO) >>> 0 > 9) break number
          value = (Math.imul(10, value) + digit) | 0
          if ((digit = bytes[++at]! - ZERO) >>> 0 > 9) break number
          value = (Math.imul(10, value) + digit) | 0
          while ((digit = bytes[++at]! - ZERO) >>> 0 <= 9) value = (Math.imul(10, value) + digit) | 0
        }
      }
    }
    const fraction = pointAt > 0 ? at - pointAt - 1 : 0
    const digitCount = at - digitsFrom - (pointAt > 0 ? 1 : 0)
    // what has more digits, an exponent, or is none at all is read by its letters, with some that follow it
    if (digitCount === 0 || digitCount > MOST_DIGITS || (digit > BLANK && at < end)) {
      let stop = Math.min(end, first + STRETCH)
      while (stop < end && bytes[stop]! > 32) stop++
      const count = parseNumbers(bytes, first, stop, values.subarray(found), scan, 32, false)
      if (scan.badStart >= 0) return null
      if (found + count > values.length) {
        values = larger(values, grown(found + count))
        parseNumbers(bytes, first, stop, values.subarray(found), scan, 32, false)
      }
      found += count
      at = stop
      continue
    }
    const real = fraction > 0 ? value / POWERS[fraction]! : value
    if (found === values.length) values = larger(values, grown(found))
    values[found++] = isNegative ? -real : real
  }
  return found === values.length ? values : values.slice(0, found)
}
