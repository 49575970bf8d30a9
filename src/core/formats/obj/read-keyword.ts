/** Statements that stand seldom: names, groups, materials, smoothing, lines, points, tags. */
import { firstLetters } from '../../base/bytes/text.ts'
import { asciiText } from '../../base/bytes/parse-number.ts'
import { readFace, readLine, readPoints } from './read-elements.ts'
import { nameText, type ObjReading } from './reading.ts'
import { DISPLAY_ONLY, FREE_FORM } from './statements.ts'

/** Of numbers: names may hold the mark of a comment. */
const withoutComment = (text: string): string => text.replace(/(^|\s)#.*$/, '').trim()

/** `off` and nothing are 0, `on` is 1; what is no number is 0 and told: `obj.malformed-number`. */
function readSmoothing(reading: ObjReading, text: string): void {
  const word = withoutComment(text).toLowerCase()
  const group = word === '' || word === 'off' ? 0 : word === 'on' ? 1 : Number.parseInt(word, 10)
  if (Number.isNaN(group))
    reading.messages.add('obj.malformed-number', { text: firstLetters(text, 40), value: 0 }, reading.line)
  reading.smoothing = Number.isNaN(group) ? 0 : Math.min(Math.abs(group), 2147483647)
  reading.smoothingStated = true
}

/**
 * A statement from the first letter of its keyword to the end of its line.
 * What is not known is told: `obj.not-read` (curves and surfaces), `obj.unknown-statement`.
 */
export function readKeyword(reading: ObjReading, start: number, end: number): void {
  const { bytes, messages } = reading
  let at = start
  while (at < end && bytes[at]! > 32) at++
  const keyword = asciiText(bytes, start, at, 40)
  if (keyword.startsWith('#')) return
  switch (keyword) {
    case 'o':
      reading.object = reading.objectNames.push(nameText(reading, at, end)) - 1
      reading.ownerStale = true
      return
    case 'g':
      reading.groupSet = reading.groups.setOf(nameText(reading, at, end))
      reading.ownerStale = true
      return
    case 's':
      return readSmoothing(reading, nameText(reading, at, end))
    case 'usemtl': {
      const name = nameText(reading, at, end)
      reading.ownerStale = true
      reading.material = name === '' ? -1 : reading.materials.numberOf(name)
      return
    }
    case 'mtllib':
      reading.libraries.push({ file: nameText(reading, at, end), line: reading.line })
      return
    case 'l':
      return readLine(reading, at)
    case 'p':
      return readPoints(reading, at)
    case 'fo':
      return readFace(reading, at)
    case 't':
      return reading.tags.read(withoutComment(nameText(reading, at, end)), reading.line)
  }
  if (FREE_FORM.has(keyword)) messages.add('obj.not-read', { keyword }, reading.line)
  else if (!DISPLAY_ONLY.has(keyword))
    messages.add('obj.unknown-statement', { keyword: keyword.replace(/[^\x20-\x7e]/g, '·') }, reading.line)
}
