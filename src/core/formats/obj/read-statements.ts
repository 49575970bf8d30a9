/**
 * The statements of an OBJ file, parsed in one pass over its bytes into flat arrays.
 *
 * Source: "Object Files (.obj)", Wavefront Advanced Visualizer manual, appendix B1 (statements, index forms,
 * negative indices, line continuation); vertex colours behind the coordinates are common practice; the tag
 * lines `t crease` and `t corner` are those of OpenSubdiv's example shapes, with vertices counted from 0.
 */
import type { MessageCollector } from '../../base/messages/collector.ts'
import { BACKSLASH, findLineEnd, NEWLINE, RETURN, SPACE } from './line-bytes.ts'
import { readFace } from './read-elements.ts'
import { readKeyword } from './read-keyword.ts'
import { readNormal, readUv, readVertex } from './read-vertices.ts'
import { beginReading, statementsOf, type ObjReading } from './reading.ts'
import type { ObjStatements } from './statements.ts'

/** Parses the bytes of an OBJ file. Indices are not checked here; lines that make no sense are left out and told. */
export function readObjStatements(bytes: Uint8Array, messages: MessageCollector): ObjStatements {
  const reading = beginReading(bytes, messages)
  readLines(reading, 0, bytes.length)
  return statementsOf(reading)
}

/**
 * Reads the lines from one place to another; both are starts of lines, or the end.
 * @returns false where an index counts back and it is not known what lies before; reading ends there.
 */
export function readLines(reading: ObjReading, from: number, to: number): boolean {
  const { bytes, scan, corners } = reading
  const length = bytes.length
  let at = from
  while (at < to) {
    reading.line++
    // leading blanks
    while (at < length && (bytes[at] === SPACE || bytes[at] === 9)) at++
    const start = at
    const first = at < length ? bytes[at]! : NEWLINE
    const second = at + 1 < length ? bytes[at + 1]! : NEWLINE
    const third = at + 2 < length ? bytes[at + 2]! : NEWLINE
    let joinedLines = 0
    let end = at
    if (first === 118 && second <= SPACE) {
      readVertex(reading, start + 1)
      end = scan.end
      joinedLines = scan.joinedLines
    } else if (first === 118 && third <= SPACE && (second === 116 || second === 110)) {
      if (second === 116) readUv(reading, start + 2)
      else readNormal(reading, start + 2)
      end = scan.end
      joinedLines = scan.joinedLines
    } else if (first === 102 && second <= SPACE) {
      readFace(reading, start + 1)
      end = corners.end
      joinedLines = corners.joinedLines
    } else {
      end = findLineEnd(bytes, start)
      // a backslash just before the end of a line goes on in the next one
      while (end < length && end > start && bytes[end - 1] === BACKSLASH && first !== 35) {
        joinedLines++
        end = findLineEnd(bytes, end + (bytes[end] === RETURN && bytes[end + 1] === NEWLINE ? 2 : 1))
      }
      if (end > start && first !== 35) readKeyword(reading, start, end)
    }
    if (corners.countedBack && reading.isPiece) return false
    at = end + 1
    if (bytes[end] === RETURN && bytes[at] === NEWLINE) at++
    reading.line += joinedLines
  }
  return true
}
