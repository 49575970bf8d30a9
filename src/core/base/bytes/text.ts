/** Bytes to text and back, without help from outside the language. */

/** Decodes UTF-8 strictly; null where the bytes are not UTF-8 (RFC 3629). */
export function decodeUtf8(bytes: Uint8Array, start = 0, end = bytes.length): string | null {
  let ascii = true
  for (let at = start; at < end; at++)
    if (bytes[at]! > 127) {
      ascii = false
      break
    }
  if (ascii) return decodeLatin1(bytes, start, end)
  const pieces: string[] = []
  let units: number[] = []
  for (let at = start; at < end;) {
    const lead = bytes[at]!
    const length = lead < 0x80 ? 1 : lead < 0xc2 ? 0 : lead < 0xe0 ? 2 : lead < 0xf0 ? 3 : lead < 0xf5 ? 4 : 0
    if (length === 0 || at + length > end) return null
    let point = length === 1 ? lead : lead & (0xff >> (length + 1))
    for (let next = 1; next < length; next++) {
      const byte = bytes[at + next]!
      if ((byte & 0xc0) !== 0x80) return null
      point = (point << 6) | (byte & 0x3f)
    }
    if ((length === 3 && point < 0x800) || (length === 4 && point < 0x10000)) return null
    if (point > 0x10ffff || (point >= 0xd800 && point < 0xe000)) return null
    at += length
    if (point > 0xffff) units.push(0xd800 + ((point - 0x10000) >> 10), 0xdc00 + ((point - 0x10000) & 0x3ff))
    else units.push(point)
    if (units.length > 4000) {
      pieces.push(lettersOf(units))
      units = []
    }
  }
  pieces.push(lettersOf(units))
  return pieces.join('')
}

/** The text of bytes `start` to `end` (not with it), a byte a letter. Source: ISO/IEC 8859-1. */
export function decodeLatin1(bytes: Uint8Array, start = 0, end = bytes.length): string {
  let text = ''
  for (let at = start; at < end; at += 4096) text += lettersOf(bytes.subarray(at, Math.min(at + 4096, end)))
  return text
}

/** Spreading goes through an iterator, which takes five to nine times as long. */
const lettersOf = (units: ArrayLike<number>): string =>
  String.fromCharCode.apply(null, units as unknown as number[])

/** The first `most` UTF-16 units of a text, one less where a letter of two would be cut in half. */
export const firstLetters = (text: string, most: number): string =>
  text.slice(0, most).replace(/[\ud800-\udbff]$/, '')

/** UTF-8 bytes of a text; lone surrogates become U+FFFD. */
export function encodeUtf8(text: string): Uint8Array {
  const out = new Uint8Array(text.length * 3)
  let at = 0
  for (let index = 0; index < text.length; index++) {
    let point = text.charCodeAt(index)
    if (point >= 0xd800 && point < 0xe000) {
      const next = text.charCodeAt(index + 1)
      if (point < 0xdc00 && next >= 0xdc00 && next < 0xe000) {
        point = 0x10000 + ((point - 0xd800) << 10) + (next - 0xdc00)
        index++
      } else point = 0xfffd
    }
    if (point < 0x80) out[at++] = point
    else if (point < 0x800) {
      out[at++] = 0xc0 | (point >> 6)
      out[at++] = 0x80 | (point & 0x3f)
    } else if (point < 0x10000) {
      out[at++] = 0xe0 | (point >> 12)
      out[at++] = 0x80 | ((point >> 6) & 0x3f)
      out[at++] = 0x80 | (point & 0x3f)
    } else {
      out[at++] = 0xf0 | (point >> 18)
      out[at++] = 0x80 | ((point >> 12) & 0x3f)
      out[at++] = 0x80 | ((point >> 6) & 0x3f)
      out[at++] = 0x80 | (point & 0x3f)
    }
  }
  return out.slice(0, at)
}

/**
 * Brings a text file's bytes to UTF-8 or an ASCII superset: drops a UTF-8 mark, and turns UTF-16 (by its
 * mark, or by zero bytes in every other place of the first 64) into UTF-8. Other bytes are returned as they are.
 */
export function normalizeTextBytes(bytes: Uint8Array): Uint8Array {
  if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) return bytes.subarray(3)
  let little = bytes[0] === 0xff && bytes[1] === 0xfe
  let big = bytes[0] === 0xfe && bytes[1] === 0xff
  const marked = little || big
  if (!marked && bytes.length >= 8) {
    const probe = Math.min(64, bytes.length & ~1)
    let evenZeros = 0
    let oddZeros = 0
    for (let at = 0; at < probe; at += 2) {
      if (bytes[at] === 0) evenZeros++
      if (bytes[at + 1] === 0) oddZeros++
    }
    little = oddZeros > probe * 0.4 && evenZeros === 0
    big = evenZeros > probe * 0.4 && oddZeros === 0
  }
  if (!little && !big) return bytes
  const from = marked ? 2 : 0
  const out = new Uint8Array(Math.ceil(((bytes.length - from) * 3) / 2))
  let used = 0
  for (let at = from; at + 1 < bytes.length; at += 2) {
    let point = little ? bytes[at]! | (bytes[at + 1]! << 8) : (bytes[at]! << 8) | bytes[at + 1]!
    if (point >= 0xd800 && point < 0xdc00 && at + 3 < bytes.length) {
      const next = little ? bytes[at + 2]! | (bytes[at + 3]! << 8) : (bytes[at + 2]! << 8) | bytes[at + 3]!
      point = 0x10000 + ((point - 0xd800) << 10) + (next - 0xdc00)
      at += 2
      out[used++] = 0xf0 | (point >> 18)
      out[used++] = 0x80 | ((point >> 12) & 0x3f)
      out[used++] = 0x80 | ((point >> 6) & 0x3f)
      out[used++] = 0x80 | (point & 0x3f)
    } else if (point < 0x80) out[used++] = point
    else if (point < 0x800) {
      out[used++] = 0xc0 | (point >> 6)
      out[used++] = 0x80 | (point & 0x3f)
    } else {
      out[used++] = 0xe0 | (point >> 12)
      out[used++] = 0x80 | ((point >> 6) & 0x3f)
      out[used++] = 0x80 | (point & 0x3f)
    }
  }
  return out.subarray(0, used)
}
