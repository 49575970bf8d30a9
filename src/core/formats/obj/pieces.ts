/**
 * A large OBJ file read in pieces side by side: this thread from the front, others from the back. The statements are
 * the same as where the file is read in one go, whatever the cuts.
 */
import { reserveFloat64, reserveInt32 } from '../../base/bytes/growing.ts'
import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages, type MessageCollector } from '../../base/messages/collector.ts'
import type { PieceReader } from '../descriptor.ts'
import { BACKSLASH, NEWLINE, RETURN } from './line-bytes.ts'
import { readLines } from './read-statements.ts'
import { beginReading, INHERITED, statementsOf, type ObjReading } from './reading.ts'
import type { ObjLists, ObjStatements } from './statements.ts'

/** What a piece states; lines, faces and names are counted from the piece's own start. */
export interface ObjPiece {
  readonly statements: ObjStatements
  readonly findings: readonly Finding[]
  /** What is in force at its end; `INHERITED` where the piece changes nothing. */
  readonly object: number
  readonly groupSet: number
  readonly material: number
  readonly smoothing: number
  readonly ownerStale: boolean
}

/** Reads a piece that begins within a file. Null where an index in it counts back: what to is not known here. */
export function readObjPiece(bytes: Uint8Array): ObjPiece | null {
  const messages = collectMessages(null)
  const reading = beginReading(bytes, messages, true)
  if (!readLines(reading, 0, bytes.length)) return null
  const { object, groupSet, material, smoothing, ownerStale } = reading
  return {
    statements: statementsOf(reading),
    findings: messages.list(),
    object,
    groupSet,
    material,
    smoothing,
    ownerStale,
  }
}

/** The statements of a file, as `readObjStatements` reads them. */
export function readStatementsInPieces(
  bytes: Uint8Array,
  messages: MessageCollector,
  reader: PieceReader,
): ObjStatements {
  const starts = cutIntoPieces(bytes, reader.piecesFor(bytes.length))
  const endOf = (piece: number): number => starts[piece + 1] ?? bytes.length
  const reading = beginReading(bytes, messages)
  const others = reader.begin(
    'obj',
    starts.map((start, piece) => bytes.subarray(start, endOf(piece))),
  )
  try {
    starts.forEach((start, at) => {
      const piece = others.take(at) as ObjPiece | null
      if (piece) appendPiece(reading, piece)
      else readLines(reading, start, endOf(at))
    })
  } finally {
    others.end()
  }
  return statementsOf(reading)
}

/**
 * Cuts a file between lines, never behind one that goes on in the next.
 * @param wanted how many pieces of about the same length; there may be fewer.
 * @returns where each begins.
 */
export function cutIntoPieces(bytes: Uint8Array, wanted: number): number[] {
  const starts = [0]
  for (let piece = 1; piece < wanted; piece++) {
    const last = starts.at(-1)!
    const start = lineStart(bytes, Math.max(last, Math.floor((bytes.length * piece) / wanted)))
    if (start >= bytes.length) break
    if (start > last) starts.push(start)
  }
  return starts
}

/** The first place behind `from` that is the start of a line of its own. */
function lineStart(bytes: Uint8Array, from: number): number {
  for (let at = from; at < bytes.length; at++) {
    if (bytes[at] !== NEWLINE) continue
    const before = bytes[at - 1] === RETURN ? at - 2 : at - 1
    if (before < 0 || bytes[before] !== BACKSLASH) return at + 1
  }
  return bytes.length
}

/** What the numbers of a list mean, so far as they mean something else in the whole file than in a piece of it. */
type Meaning = 'corner' | 'lineCorner' | 'line' | 'object' | 'groupSet' | 'material' | 'smoothing'

/** Lists of whole numbers that stand one behind the other. Indices are into the whole file already. */
const INTEGERS = {
  cornerPoints: null,
  cornerUvs: null,
  cornerNormals: null,
  faceStarts: 'corner',
  faceLines: 'line',
  faceObjects: 'object',
  faceGroupSets: 'groupSet',
  faceSmoothing: 'smoothing',
  faceMaterials: 'material',
  lineStarts: 'lineCorner',
  lineCorners: null,
  lineUvs: null,
  lineObjects: 'object',
  lineGroupSets: 'groupSet',
  lineMaterials: 'material',
  pointElements: null,
  pointObjects: 'object',
  pointGroupSets: 'groupSet',
  pointMaterials: 'material',
} as const satisfies Partial<Record<keyof ObjLists, Meaning | null>>

const COORDINATES = ['points', 'uvs', 'normals'] as const

/** Lists that begin with the first element that has such a value: how many numbers each has, and what the others get. */
const EXTRAS = [
  { name: 'weights', of: 'points', each: 3, width: 1, fill: 1 },
  { name: 'colors', of: 'points', each: 3, width: 4, fill: NaN },
  { name: 'uvDepths', of: 'uvs', each: 2, width: 1, fill: 0 },
] as const

/** Appends what a piece states to what was read before it. */
export function appendPiece(reading: ObjReading, piece: ObjPiece): void {
  const { statements } = piece
  const { lists } = reading
  const meant = meanings(reading, statements)

  appendOwnerRuns(reading, statements, meant)
  for (const { name, of, each, width, fill } of EXTRAS) {
    const own = statements[name]
    const whole = lists[name]
    if (own.length === 0 && whole.length === 0) continue
    const from = (lists[of].length / each) * width
    const to = from + (statements[of].length / each) * width
    const array = reserveFloat64(whole, to - whole.length)
    // the first element with such a value fills up all before it, here as where the file is read in one go
    array.fill(fill, whole.length, to)
    array.set(own.array.subarray(0, own.length), from)
    whole.length = to
  }
  for (const name of COORDINATES) {
    const own = statements[name]
    reserveFloat64(lists[name], own.length).set(own.array.subarray(0, own.length), lists[name].length)
    lists[name].length += own.length
  }
  for (const name of Object.keys(INTEGERS) as (keyof typeof INTEGERS)[]) {
    const { array: own, length } = statements[name]
    const whole = lists[name]
    const array = reserveInt32(whole, length)
    const meaning: Meaning | null = INTEGERS[name]
    if (meaning === null) array.set(own.subarray(0, length), whole.length)
    else {
      const inWhole = meant[meaning]
      for (let at = 0; at < length; at++) array[whole.length + at] = inWhole(own[at]!)
    }
    whole.length += length
  }

  appendFindings(reading, piece.findings)
  for (const { file, line } of statements.libraries)
    reading.libraries.push({ file, line: line + reading.line })
  for (const name of statements.objectNames) reading.objectNames.push(name)
  for (const number of statements.creaseTags) reading.tags.creases.push(number)
  for (const number of statements.cornerTags) reading.tags.corners.push(number)
  reading.colorComponents = Math.max(reading.colorComponents, statements.colorComponents) as 0 | 3 | 4
  reading.smoothingStated ||= statements.smoothingStated
  reading.line += statements.lineCount
  reading.object = meant.object(piece.object)
  reading.groupSet = meant.groupSet(piece.groupSet)
  reading.material = meant.material(piece.material)
  reading.smoothing = meant.smoothing(piece.smoothing)
  reading.ownerStale = piece.ownerStale || (reading.ownerStale && statements.points.length === 0)
}

/** Findings of a piece, by lines of the whole file. */
function appendFindings(reading: ObjReading, findings: readonly Finding[]): void {
  const unlisted = new Map<string, number>()
  for (const { code, parameters, line, byte, total } of findings) {
    unlisted.set(code, (unlisted.get(code) ?? total) - 1)
    if (code === 'obj.latin1' && reading.latin1Told) continue
    reading.latin1Told ||= code === 'obj.latin1'
    reading.messages.add(code, parameters, line === null ? null : line + reading.line, byte)
  }
  for (const [code, more] of unlisted) reading.messages.count(code, more)
}

/** Numbers of a piece as numbers of the whole file. */
function meanings(
  reading: ObjReading,
  statements: ObjStatements,
): Readonly<Record<Meaning, (value: number) => number>> {
  const { object, groupSet, material, smoothing, line: lines, lists, groups } = reading
  const names = statements.groupNames.map((name) => groups.numberOf(name))
  const sets = statements.groupSets.map((set) => groups.setOfNumbers(set.map((name) => names[name]!)))
  const materials = statements.materialNames.map((name) => reading.materials.numberOf(name))
  const objects = reading.objectNames.length
  const corners = lists.cornerPoints.length
  const lineCorners = lists.lineCorners.length
  return {
    corner: (value) => value + corners,
    lineCorner: (value) => value + lineCorners,
    line: (value) => value + lines,
    object: (value) => (value === INHERITED ? object : value < 0 ? value : value + objects),
    groupSet: (value) => (value === INHERITED ? groupSet : value < 0 ? value : sets[value]!),
    material: (value) => (value === INHERITED ? material : value < 0 ? value : materials[value]!),
    smoothing: (value) => (value === INHERITED ? smoothing : value),
  }
}

/** Runs of vertices by what was in force; one that began before the piece goes on in it. */
function appendOwnerRuns(
  reading: ObjReading,
  { ownerRuns: own, points }: ObjStatements,
  meant: ReturnType<typeof meanings>,
): void {
  const runs = reading.lists.ownerRuns
  const pointsBefore = reading.lists.points.length / 3
  const push = (...run: [number, number, number, number]): void => {
    reserveInt32(runs, 4).set(run, runs.length)
    runs.length += 4
  }
  const beginsOwn = own.length > 0 && own.array[0] === 0
  if (reading.ownerStale && points.length > 0 && !beginsOwn)
    push(pointsBefore, reading.object, reading.groupSet, reading.material)
  for (let at = 0; at < own.length; at += 4)
    push(
      own.array[at]! + pointsBefore,
      meant.object(own.array[at + 1]!),
      meant.groupSet(own.array[at + 2]!),
      meant.material(own.array[at + 3]!),
    )
}
