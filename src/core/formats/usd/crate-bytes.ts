/**
 * How a binary USD packs bytes and whole numbers. Sources: LZ4 block format description; OpenUSD’s open-source layout
 * (fast compression in chunks; integer coding by common difference), written down from memory of it.
 */

/** What is wrong with a file; the reader makes a sentence of it. */
export class CrateFault extends Error {}

/**
 * One block. @param limit bytes that it may become.
 * @throws CrateFault where it is damaged.
 */
function unpackBlock(source: Uint8Array, limit: number): Uint8Array {
  const target = new Uint8Array(limit)
  let from = 0
  let to = 0
  const length = (first: number): number => {
    let sum = first
    if (first !== 15) return sum
    for (;;) {
      const byte = source[from++]
      if (byte === undefined) throw new CrateFault('a packed block is cut')
      sum += byte
      if (byte !== 255) return sum
    }
  }
  while (from < source.length) {
    const token = source[from++]!
    const literals = length(token >> 4)
    if (from + literals > source.length || to + literals > limit)
      throw new CrateFault('a packed block is damaged')
    target.set(source.subarray(from, from + literals), to)
    from += literals
    to += literals
    if (from >= source.length) break
    const back = source[from]! | ((source[from + 1] ?? 0) << 8)
    from += 2
    const copied = length(token & 15) + 4
    if (back === 0 || back > to || to + copied > limit) throw new CrateFault('a packed block is damaged')
    // it may overlap itself
    for (let k = 0; k < copied; k++, to++) target[to] = target[to - back]!
  }
  return target.subarray(0, to)
}

/** What a block can shrink to at most: a byte for 255 of them. */
const MOST_RATIO = 256

/**
 * @param limit bytes that it may become at most; a file that states more than its bytes can hold is refused before.
 * @throws CrateFault
 */
export function unpackChunks(source: Uint8Array, limit: number): Uint8Array {
  if (limit > MOST_RATIO * source.length + 64) throw new CrateFault('it states more than it holds')
  const chunks = source[0] ?? 0
  if (chunks === 0) return unpackBlock(source.subarray(1), limit)
  const view = new DataView(source.buffer, source.byteOffset, source.byteLength)
  const target = new Uint8Array(limit)
  let at = 1
  let to = 0
  for (let chunk = 0; chunk < chunks; chunk++) {
    if (at + 4 > source.length) throw new CrateFault('a packed block is cut')
    const size = view.getInt32(at, true)
    at += 4
    if (size < 0 || at + size > source.length) throw new CrateFault('a packed block is cut')
    const part = unpackBlock(source.subarray(at, at + size), limit - to)
    target.set(part, to)
    to += part.length
    at += size
  }
  return target.subarray(0, to)
}

/**
 * Whole numbers: differences from one to the next, two bits each that say how long a difference is.
 * @param bits 32 or 64. @throws CrateFault
 */
export function unpackIntegers(source: Uint8Array, count: number, bits: 32 | 64): Float64Array {
  const wide = bits === 64
  const whole = wide ? 8 : 4
  const codes = Math.ceil(count / 4)
  if (count > MOST_RATIO * 4 * (source.length + 1)) throw new CrateFault('it states more than it holds')
  const packed = unpackChunks(source, whole + codes + whole * count)
  const view = new DataView(packed.buffer, packed.byteOffset, packed.byteLength)
  const values = new Float64Array(count)
  if (count === 0) return values
  if (packed.length < whole + codes) throw new CrateFault('a list of whole numbers is cut')
  const wideAt = (at: number): number => Number(view.getBigInt64(at, true))
  const common = wide ? wideAt(0) : view.getInt32(0, true)
  let at = whole + codes
  let last = 0
  for (let index = 0; index < count; index++) {
    const code = (packed[whole + (index >> 2)]! >> (2 * (index & 3))) & 3
    const size = code === 0 ? 0 : wide ? 1 << code : 1 << (code - 1)
    if (at + size > packed.length) throw new CrateFault('a list of whole numbers is cut')
    let step = common
    if (size === 1) step = view.getInt8(at)
    else if (size === 2) step = view.getInt16(at, true)
    else if (size === 4) step = view.getInt32(at, true)
    else if (size === 8) step = wideAt(at)
    at += size
    last = wide ? last + step : (last + step) | 0
    values[index] = last
  }
  return values
}
