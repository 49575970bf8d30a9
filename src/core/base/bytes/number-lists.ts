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

/**
 * Reads a list of whole numbers of at most nine digits without signs: what lists of indices are made of.
 *
 * @returns null where anything else stands there; `parseReals` then says what.
 */
export function parseWholes(bytes: Uint8Array, start: number, end: number): Int32Array | null {
  let values = new Int32Array(estimateCount(bytes, start, end))
  let found = 0
  for (let at = start; ;) {
    while (at < end && bytes[at]! <= 32) at++
    if (at >= end) break
    let value = 0
    const first = at
    for (; at < end; at++) {
      const digit = bytes[at]! - 48
      if (digit >= 0 && digit <= 9) {
        value = (Math.imul(value, 10) + digit) | 0
        continue
      }
      if (bytes[at]! > 32) return null
      break
    }
    if (at - first > MOST_DIGITS) return null
    if (found === values.length) {
      const larger = new Int32Array(Math.ceil(1.25 * found) + 16)
      larger.set(values)
      values = larger
    }
    values[found++] = value
  }
  return found === values.length ? values : values.slice(0, found)
}

/**
 * Reads a list of numbers.
 *
 * @returns null where one of them is ill-formed, NaN or infinite ones among them.
 */
export function parseReals(bytes: Uint8Array, start: number, end: number): Float64Array | null {
  const scan = createNumberScan()
  let values = new Float64Array(estimateCount(bytes, start, end))
  let found = parseNumbers(bytes, start, end, values, scan, 32, false)
  if (scan.badStart >= 0) return null
  if (found > values.length) {
    // those that there was no room for were counted
    values = new Float64Array(found)
    found = parseNumbers(bytes, start, end, values, scan, 32, false)
  }
  return found === values.length ? values : values.slice(0, found)
}
