/** Corners of a face or line statement: `v`, `v/vt`, `v//vn`, `v/vt/vn`, negative indices counted back. */
import { INDEX_ZERO } from './statements.ts'
import { pushInt32, type GrowingInt32 } from '../../base/bytes/growing.ts'
import { BACKSLASH, findLineEnd, HASH, NEWLINE, RETURN } from './line-bytes.ts'

export interface CornerScan {
  /** How many points, UVs and normals there are so far, for indices that count back. */
  points: number
  uvs: number
  normals: number
  /** Some index counted back. */
  countedBack: boolean
  /** Where an ill-formed corner stands, -1 if all were well-formed. */
  badStart: number
  badEnd: number
  /** Where reading stopped: at the line's end character, or the end of the bytes. */
  end: number
  joinedLines: number
}

/** An index that counts back from the last; one before the first becomes a number below -1. */
export const countBack = (total: number, value: number): number =>
  total - value < 0 ? total - value - 1 : total - value

/**
 * Reads corners `v`, `v/vt`, `v//vn`, `v/vt/vn` up to the line's end into three growing lists: 0-based, -1 absent,
 * `INDEX_ZERO` for a 0, or to a comment. An ill-formed corner without a point gets `INDEX_ZERO` too.
 *
 * @returns how many corners were read.
 */
export function scanCorners(
  bytes: Uint8Array,
  start: number,
  scan: CornerScan,
  intoPoints: GrowingInt32,
  intoUvs: GrowingInt32,
  intoNormals: GrowingInt32,
): number {
  const end = bytes.length
  let at = start
  let read = 0
  scan.joinedLines = 0
  for (;;) {
    let byte = NEWLINE
    while (at < end && ((byte = bytes[at]!) <= 32 || byte === BACKSLASH)) {
      if (byte === NEWLINE || byte === RETURN) break
      at++
      if (byte === BACKSLASH && at < end && (bytes[at] === NEWLINE || bytes[at] === RETURN)) {
        scan.joinedLines++
        at += bytes[at] === RETURN && bytes[at + 1] === NEWLINE ? 2 : 1
      }
    }
    if (byte === HASH && at < end) at = findLineEnd(bytes, at)
    if (at >= end || byte === NEWLINE || byte === RETURN || byte === HASH) {
      scan.end = at
      return read
    }
    let field = 0
    let point = -1
    let uv = -1
    let normal = -1
    const first = at
    let bad = false
    while (at < end && (byte = bytes[at]!) > 32 && byte !== BACKSLASH) {
      if (byte === 47) {
        field++
        at++
        continue
      }
      let negative = false
      if (byte === 45) {
        negative = true
        at++
      } else if (byte === 43) at++
      const digitsFrom = at
      let value = 0
      let digit = 0
      while (at < end && (digit = bytes[at]! - 48) >= 0 && digit <= 9) {
        // held below 2^30, so that it stays a small integer; no file has that many vertices
        value = value < 100000000 ? value * 10 + digit : 1000000000
        at++
      }
      if (at === digitsFrom) {
        bad = true
        at++
        continue
      }
      let index: number
      if (value === 0) index = INDEX_ZERO
      else if (!negative) index = value - 1
      else {
        index = countBack(field === 0 ? scan.points : field === 1 ? scan.uvs : scan.normals, value)
        scan.countedBack = true
      }
      if (field === 0) point = index
      else if (field === 1) uv = index
      else if (field === 2) normal = index
      // a decimal point and what follows ("1.0/2.0") is skipped
      if (at < end && bytes[at] === 46) {
        at++
        while (at < end && (digit = bytes[at]! - 48) >= 0 && digit <= 9) at++
      }
    }
    if (bad) {
      if (scan.badStart < 0) {
        scan.badStart = first
        scan.badEnd = at
      }
      if (point === -1) point = INDEX_ZERO
    }
    pushInt32(intoPoints, point)
    pushInt32(intoUvs, uv)
    pushInt32(intoNormals, normal)
    read++
  }
}
