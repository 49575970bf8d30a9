/** Bytes that part an OBJ file into lines and words. */

export const NEWLINE = 10

export const RETURN = 13

export const BACKSLASH = 92

export const SPACE = 32

/** What begins a comment, at the start of a line or behind what it states. */
export const HASH = 35

/** Where a comment begins behind a statement, -1 where none does: its mark stands at the beginning of a word. */
export function commentIn(bytes: Uint8Array, from: number, to: number): number {
  for (let at = from; at < to; at++)
    if (bytes[at] === HASH && (at === from || bytes[at - 1]! <= SPACE)) return at
  return -1
}

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
