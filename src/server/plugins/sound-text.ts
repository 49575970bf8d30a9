/** Text as it can be stored and shown: what no letter is goes before anything else sees a request. */

/** Control characters but tab and line ends; halves of a pair of surrogates on their own. */
const UNSOUND =
  /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g

/** Without what no letter is, and with marks as most systems write them (Unicode NFC). */
export const soundText = (text: string): string => text.replace(UNSOUND, '').normalize('NFC')

/** The same value with sound text throughout, names of its fields too. */
export function soundValue(value: unknown): unknown {
  if (typeof value === 'string') return soundText(value)
  if (Array.isArray(value)) {
    // lists of numbers may be millions
    return value.every((entry) => typeof entry === 'number') ? value : value.map(soundValue)
  }
  if (value !== null && typeof value === 'object' && Object.getPrototypeOf(value) === Object.prototype)
    return Object.fromEntries(
      Object.entries(value).map(([name, entry]) => [soundText(name), soundValue(entry)]),
    )
  return value
}

/** Letters that a stored name has at most. */
const LONGEST_NAME = 200

/** A file's name without folders; one that is too long loses letters before its ending. */
export function soundFileName(name: string): string {
  const last = soundText(name.replace(/\\/g, '/').split('/').pop() ?? '').trim()
  const letters = [...last]
  if (letters.length <= LONGEST_NAME) return last || 'file'
  const dot = last.lastIndexOf('.')
  const ending = dot > 0 ? [...last.slice(dot)].slice(0, 20) : []
  return [...letters.slice(0, LONGEST_NAME - ending.length), ...ending].join('')
}
