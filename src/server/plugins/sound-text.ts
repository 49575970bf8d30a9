/** Text as it can be stored: what the database has no room for goes before anything else sees a request. */
import { soundName } from '../../contract/options.ts'
import { storableText } from '../db/storable-text.ts'

/** The same value with storable text throughout, names of its fields too. */
export function storableValue(value: unknown): unknown {
  if (typeof value === 'string') return storableText(value)
  if (Array.isArray(value)) {
    // lists of numbers may be millions
    return value.every((entry) => typeof entry === 'number') ? value : value.map(storableValue)
  }
  if (value !== null && typeof value === 'object' && Object.getPrototypeOf(value) === Object.prototype)
    return Object.fromEntries(
      Object.entries(value).map(([name, entry]) => [storableText(name), storableValue(entry)]),
    )
  return value
}

/** Letters that a stored name has at most. */
const LONGEST_NAME = 200

/** A file's name without folders; one that is too long loses letters before its ending. */
export function soundFileName(name: string): string {
  const last = soundName(storableText(name.replace(/\\/g, '/').split('/').pop() ?? '')).trim()
  const letters = [...last]
  if (letters.length <= LONGEST_NAME) return last || 'file'
  const dot = last.lastIndexOf('.')
  const ending = dot > 0 ? [...last.slice(dot)].slice(0, 20) : []
  return [...letters.slice(0, LONGEST_NAME - ending.length), ...ending].join('')
}
