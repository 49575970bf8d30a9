import { encodeUtf8 } from './text.ts'

/**
 * Text output as bytes in blocks, so that a file may be larger than the longest string.
 * Numbers are written as the shortest text that reads back to the same double, or with a number of digits.
 */
export interface ByteWriter {
  text(text: string): void
  byte(byte: number): void
  integer(value: number): void
  /** @param digits digits after the point, or null for the shortest exact text. */
  real(value: number, digits: number | null): void
  /** All blocks; the writer is finished afterwards. */
  blocks(): Uint8Array[]
}

const BLOCK_BYTES = 1 << 24
const MARGIN = 64
/** Letters up to which a text is written faster one by one than by the encoder. */
const SHORT = 32

/** A file that grows at its end; numbers are little-endian. Blocks are joined once, when it is finished. */
export function createByteWriter(): ByteWriter {
  const finished: Uint8Array[] = []
  let block = new Uint8Array(1 << 16)
  let used = 0

  const makeRoom = (more: number): void => {
    if (used + more <= block.length) return
    finished.push(block.subarray(0, used))
    block = new Uint8Array(Math.max(more, finished.length < 4 ? 1 << 20 : BLOCK_BYTES))
    used = 0
  }
  const ascii = (text: string): void => {
    makeRoom(text.length)
    for (let index = 0; index < text.length; index++) block[used++] = text.charCodeAt(index)
  }
  /** Digits of a whole number below 2^53, at least `width` of them. */
  const digitsOf = (value: number, width: number): void => {
    let rest = value
    let length = 1
    for (let limit = 10; limit <= rest && length < 17; limit *= 10) length++
    if (length < width) length = width
    let at = used + length
    used = at
    // 32-bit arithmetic is several times faster than dividing doubles
    while (rest > 0x7fffffff) {
      const next = Math.floor(rest / 10)
      block[--at] = 48 + (rest - next * 10)
      rest = next
      length--
    }
    let small = rest | 0
    for (; length > 0; length--) {
      const next = (small / 10) | 0
      block[--at] = 48 + (small - next * 10)
      small = next
    }
  }
  /** scaled / 10^places with trailing zeros cut (or kept). */
  const decimal = (scaled: number, places: number, power: number): void => {
    const whole = Math.floor(scaled / power)
    const fraction = scaled - whole * power
    digitsOf(whole, 1)
    if (fraction === 0) return
    block[used++] = 46
    digitsOf(fraction, places)
    while (block[used - 1] === 48) used--
  }

  /** Short texts letter by letter, as long as each is a byte. @returns how far it came. */
  const plain = (text: string): number => {
    makeRoom(SHORT + MARGIN)
    for (let index = 0; index < text.length; index++) {
      const code = text.charCodeAt(index)
      if (code > 127) return index
      block[used++] = code
    }
    return text.length
  }

  return {
    text(text) {
      const done = text.length <= SHORT ? plain(text) : 0
      if (done === text.length) return
      const bytes = encodeUtf8(done === 0 ? text : text.slice(done))
      makeRoom(bytes.length + MARGIN)
      block.set(bytes, used)
      used += bytes.length
    },
    byte(byte) {
      if (used === block.length) makeRoom(MARGIN)
      block[used++] = byte
    },
    integer(value) {
      makeRoom(MARGIN)
      if (value < 0) {
        block[used++] = 45
        value = -value
      }
      digitsOf(value, 1)
    },
    real(value, digits) {
      makeRoom(MARGIN)
      if (digits !== null) return ascii(value.toFixed(digits))
      let magnitude = value
      if (value < 0) magnitude = -value
      else if (Object.is(value, -0)) return ascii('-0')
      // A text of at most 15 digits that reads back to the value is the shortest one but for its zeros:
      // two different decimals of 15 digits are never the same double (IEEE 754, decimal digits of binary64).
      if (magnitude < 1e9) {
        if (magnitude === Math.floor(magnitude)) {
          if (value < 0) block[used++] = 45
          return digitsOf(magnitude, 1)
        }
        let scaled = Math.round(magnitude * 1e6)
        if (scaled / 1e6 === magnitude && (scaled > 9 || scaled === 0)) {
          if (value < 0) block[used++] = 45
          return decimal(scaled, 6, 1e6)
        }
        if (magnitude < 1e5 && magnitude > 1e-4) {
          scaled = Math.round(magnitude * 1e10)
          if (scaled / 1e10 === magnitude) {
            if (value < 0) block[used++] = 45
            return decimal(scaled, 10, 1e10)
          }
        }
      }
      ascii(String(value))
    },
    blocks() {
      finished.push(block.subarray(0, used))
      return finished
    },
  }
}

/** One array of all blocks. */
export function joinBytes(blocks: readonly Uint8Array[]): Uint8Array {
  if (blocks.length === 1) return blocks[0]!
  let byteLength = 0
  for (const block of blocks) byteLength += block.length
  const joined = new Uint8Array(byteLength)
  let at = 0
  for (const block of blocks) {
    joined.set(block, at)
    at += block.length
  }
  return joined
}
