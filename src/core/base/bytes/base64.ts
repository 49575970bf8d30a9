/** Base 64 (RFC 4648, section 4). */
const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/'

/** @returns null where a letter is none of the alphabet; blanks and the padding at the end are passed over. */
export function decodeBase64(text: string): Uint8Array | null {
  const bytes = new Uint8Array(Math.floor((text.length * 3) / 4))
  let length = 0
  let held = 0
  let bits = 0
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at)
    if (code <= 32 || code === 61) continue
    const value =
      code >= 65 && code <= 90
        ? code - 65
        : code >= 97 && code <= 122
          ? code - 71
          : code >= 48 && code <= 57
            ? code + 4
            : code === 43
              ? 62
              : code === 47
                ? 63
                : -1
    if (value < 0) return null
    held = ((held << 6) | value) & 0xffffff
    bits += 6
    if (bits >= 8) {
      bits -= 8
      bytes[length++] = (held >> bits) & 255
    }
  }
  return bytes.slice(0, length)
}

/** Base64 of bytes, padded. Source: RFC 4648, section 4. */
export function encodeBase64(bytes: Uint8Array): string {
  const pieces: string[] = []
  for (let at = 0; at < bytes.length; at += 3) {
    const word = (bytes[at]! << 16) | ((bytes[at + 1] ?? 0) << 8) | (bytes[at + 2] ?? 0)
    const left = bytes.length - at
    pieces.push(
      LETTERS[word >> 18]! +
        LETTERS[(word >> 12) & 63]! +
        (left > 1 ? LETTERS[(word >> 6) & 63]! : '=') +
        (left > 2 ? LETTERS[word & 63]! : '='),
    )
  }
  return pieces.join('')
}
