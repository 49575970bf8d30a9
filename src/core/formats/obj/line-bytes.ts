/** Bytes that part an OBJ file into lines and words. */

export const NEWLINE = 10

export const RETURN = 13

export const BACKSLASH = 92

export const SPACE = 32

/** The place of the next line feed or carriage return, or the end. Apart, so that it is compiled on its own. */
export function findLineEnd(bytes: Uint8Array, from: number): number {
  const length = bytes.length
  let end = from
  while (end < length) {
    const byte = bytes[end]!
    if (byte === NEWLINE || byte === RETURN) return end
    end++
  }
  return length
}
