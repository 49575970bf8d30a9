/** Vertices (`v`), UVs (`vt`) and normals (`vn`); vertex colours behind the coordinates are common practice. */
import { withDecimalPoints } from '../../base/bytes/decimal-commas.ts'
import { asciiText, parseNumbers } from '../../base/bytes/parse-number.ts'
import { reserveFloat64, reserveInt32 } from '../../base/bytes/growing.ts'
import { commentIn } from './line-bytes.ts'
import type { ObjReading } from './reading.ts'

/** Numbers of a statement that has a comment behind it, or decimal commas. @param found as many as were found without. */
function parseOdd(
  { bytes, numbers, scan, messages, line }: ObjReading,
  start: number,
  found: number,
): number {
  const { end, joinedLines } = scan
  const comment = commentIn(bytes, start, end)
  const stop = comment < 0 ? end : comment
  const pointed = withDecimalPoints(bytes, start, stop)
  if (comment < 0 && !pointed) return found
  if (pointed) messages.add('file.commas', {}, line)
  const own = pointed ?? bytes
  const from = pointed ? 0 : start
  const read = parseNumbers(own, from, from + stop - start, numbers, scan)
  scan.badStart += scan.badStart < 0 ? 0 : start - from
  scan.badEnd += scan.badStart < 0 ? 0 : start - from
  scan.end = end
  scan.joinedLines = joinedLines
  return read
}

/**
 * Numbers of a statement into `numbers`; those that are missing or not finite become 0 and are told: `file.commas`,
 * `obj.malformed-number`, `obj.missing-number`, `obj.not-finite`.
 * @returns how many the statement has.
 */
function takeNumbers(reading: ObjReading, start: number, needed: number, keyword: string): number {
  const { bytes, numbers, scan, messages, line } = reading
  let found = parseNumbers(bytes, start, bytes.length, numbers, scan)
  if (scan.badStart >= 0) found = parseOdd(reading, start, found)
  if (scan.badStart >= 0) {
    const value = numbers[Math.min(scan.badIndex, 15)]!
    if (value - value === 0) {
      const text = asciiText(bytes, scan.badStart, scan.badEnd, 40)
      messages.add('obj.malformed-number', { text, value }, line)
    }
  }
  if (found < needed) {
    for (let missing = found; missing < needed; missing++) numbers[missing] = 0
    messages.add('obj.missing-number', { keyword }, line)
  }
  const used = Math.min(Math.max(found, needed), 16)
  for (let index = 0; index < used; index++) {
    const value = numbers[index]!
    if (value - value !== 0) {
      // as the file has it: a number too large for a double is no “Infinity” there
      const words = asciiText(bytes, start, scan.end, 2000).trim().split(/\s+/)
      const text = (words[index] ?? String(value)).slice(0, 40)
      messages.add('obj.not-finite', { text }, line)
      numbers[index] = 0
    }
  }
  return found
}

/** What stands behind `v`. */
export function readVertex(reading: ObjReading, start: number): void {
  const found = takeNumbers(reading, start, 3, 'v')
  const { numbers, lists } = reading
  const { points } = lists
  const at = points.length
  const array = at + 3 > points.array.length ? reserveFloat64(points, 3) : points.array
  array[at] = numbers[0]!
  array[at + 1] = numbers[1]!
  array[at + 2] = numbers[2]!
  points.length = at + 3
  if (reading.ownerStale) {
    const { ownerRuns } = lists
    reserveInt32(ownerRuns, 4)
    ownerRuns.array.set([at / 3, reading.object, reading.groupSet, reading.material], ownerRuns.length)
    ownerRuns.length += 4
    reading.ownerStale = false
  }
  if (found > 3 || lists.weights.length > 0 || reading.colorComponents > 0)
    readVertexExtras(reading, at / 3, found)
}

function readVertexExtras(reading: ObjReading, vertex: number, found: number): void {
  const { numbers } = reading
  const { weights, colors } = reading.lists
  if (found === 4 || weights.length > 0) {
    reserveFloat64(weights, vertex + 1 - weights.length)
    weights.array.fill(1, weights.length, vertex + 1)
    weights.length = vertex + 1
    if (found === 4) weights.array[vertex] = numbers[3]!
  }
  if (found >= 6 || reading.colorComponents > 0) {
    const wanted = 4 * (vertex + 1)
    reserveFloat64(colors, wanted - colors.length)
    colors.array.fill(NaN, colors.length, wanted)
    colors.length = wanted
    if (found >= 6) {
      if (reading.colorComponents === 0) reading.colorComponents = 3
      if (found >= 7) reading.colorComponents = 4
      for (let component = 0; component < 4; component++)
        colors.array[4 * vertex + component] = component < 3 || found >= 7 ? numbers[3 + component]! : 1
    }
  }
}

/** What stands behind `vt`; the third number is kept where any UV has one. */
export function readUv(reading: ObjReading, start: number): void {
  const found = takeNumbers(reading, start, 1, 'vt')
  const { numbers, lists } = reading
  const { uvs, uvDepths } = lists
  const at = uvs.length
  const array = at + 2 > uvs.array.length ? reserveFloat64(uvs, 2) : uvs.array
  array[at] = numbers[0]!
  array[at + 1] = found > 1 ? numbers[1]! : 0
  uvs.length = at + 2
  if (found > 2 || uvDepths.length > 0) {
    const uv = at / 2
    reserveFloat64(uvDepths, uv + 1 - uvDepths.length)
    uvDepths.array.fill(0, uvDepths.length, uv)
    uvDepths.array[uv] = found > 2 ? numbers[2]! : 0
    uvDepths.length = uv + 1
  }
}

/** What stands behind `vn`. */
export function readNormal(reading: ObjReading, start: number): void {
  takeNumbers(reading, start, 3, 'vn')
  const { numbers } = reading
  const { normals } = reading.lists
  const at = normals.length
  const array = at + 3 > normals.array.length ? reserveFloat64(normals, 3) : normals.array
  array[at] = numbers[0]!
  array[at + 1] = numbers[1]!
  array[at + 2] = numbers[2]!
  normals.length = at + 3
}
