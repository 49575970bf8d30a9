/**
 * A 128-bit hash of numbers and texts, for telling equal content apart from changed content quickly.
 * Not for defence against forgery; the store addresses arrays by SHA-256.
 * Four lanes in the manner of MurmurHash3 (Appleby, public domain), from memory.
 */
export interface ContentHash {
  numbers(array: Float64Array | Uint32Array | Int32Array): ContentHash
  text(text: string): ContentHash
  integer(value: number): ContentHash
  /** 32 hexadecimal digits. */
  digest(): string
}

/** The higher half of what a double makes of -0, where numbers lie with their lower half first, as everywhere. */
const NEGATIVE = 0x80000000

/** A hash without anything in it; the order in which things are put in counts. */
export function createContentHash(): ContentHash {
  let a = 0x243f6a88
  let b = 0x85a308d3
  let c = 0x13198a2e
  let d = 0x03707344
  const word = (value: number): void => {
    const k = Math.imul(value, 0xcc9e2d51)
    const turned = Math.imul((k << 15) | (k >>> 17), 0x1b873593)
    const mixed = a ^ turned
    a = b
    b = c
    c = d
    d = (Math.imul((mixed << 13) | (mixed >>> 19), 5) + 0xe6546b64 + Math.imul(a, 0x9e3779b1)) | 0
  }
  const finish = (value: number): number => {
    let h = value
    h = Math.imul(h ^ (h >>> 16), 0x85ebca6b)
    h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
    return (h ^ (h >>> 16)) >>> 0
  }
  const self: ContentHash = {
    numbers(array) {
      word(array.length)
      const words = new Uint32Array(array.buffer, array.byteOffset, array.byteLength >> 2)
      if (array instanceof Float64Array)
        for (let at = 0; at < words.length; at += 2) {
          // nothing below nothing is nothing: files and their readers don't tell the two apart
          const isZero = words[at] === 0 && words[at + 1] === NEGATIVE
          word(words[at]!)
          word(isZero ? 0 : words[at + 1]!)
        }
      else for (let at = 0; at < words.length; at++) word(words[at]!)
      return self
    },
    text(text) {
      word(text.length)
      for (let at = 0; at < text.length; at++) word(text.charCodeAt(at))
      return self
    },
    integer(value) {
      word(value | 0)
      return self
    },
    digest() {
      for (let round = 0; round < 8; round++) word(0x5bd1e995)
      return [a, b, c, d].map((lane) => finish(lane).toString(16).padStart(8, '0')).join('')
    },
  }
  return self
}
