/** Lists of numbers of a file, as they are asked for. Long ones of a large file are read in pieces, by several threads. */
import { parseReals, parseWholes } from '../../base/bytes/number-lists.ts'
import type { PieceReader } from '../descriptor.ts'

/** Where a list begins and ends in its file. */
export type Range = readonly [number, number]

/** Numbers of a list, whole ones where all of them are. */
export type NumberList = Float64Array | Int32Array

/** Bytes from which on a list is cut into pieces. */
const LONG = 2 ** 18

export interface ListReader {
  /** @returns null where something in it is no number, NaN and infinite ones among them. */
  readonly read: (range: Range) => NumberList | null
  /** Nothing more is asked for. */
  readonly end: () => void
}

/** A piece of a list; null where something in it is no number. */
export const readColladaPiece = (bytes: Uint8Array): NumberList | null =>
  parseWholes(bytes, 0, bytes.length) ?? parseReals(bytes, 0, bytes.length)

/** @param pieces reads lists of large files on several threads; null: in this one. */
export function createListReader(
  bytes: Uint8Array,
  ranges: readonly Range[],
  pieces: PieceReader | null,
): ListReader {
  const alone = (from: number, to: number): NumberList | null =>
    parseWholes(bytes, from, to) ?? parseReals(bytes, from, to)
  const long = ranges.filter(([from, to]) => to - from >= LONG)
  const byteCount = long.reduce((sum, [from, to]) => sum + to - from, 0)
  const wanted = pieces ? pieces.piecesFor(byteCount) : 1
  if (!pieces || wanted < 2) return { read: ([from, to]) => alone(from, to), end: () => undefined }

  const size = Math.ceil(byteCount / wanted)
  const cuts: Range[] = []
  /** The first piece of each list that is cut, and how many it has. */
  const piecesOf = new Map<number, Range>()
  for (const range of long) {
    const own = cutBetweenNumbers(bytes, range, size)
    piecesOf.set(range[0], [cuts.length, own.length])
    cuts.push(...own)
  }
  const others = pieces.begin(
    'collada',
    cuts.map(([from, to]) => bytes.subarray(from, to)),
  )
  return {
    read([from, to]) {
      const [first, count] = piecesOf.get(from) ?? [0, 0]
      if (count === 0) return alone(from, to)
      const lists: NumberList[] = []
      for (let piece = first; piece < first + count; piece++) {
        const list = (others.take(piece) as NumberList | null) ?? alone(...cuts[piece]!)
        if (!list) return null
        lists.push(list)
      }
      return joined(lists)
    },
    end: others.end,
  }
}

/** Pieces of a list of about so many bytes; a blank ends each but the last. */
function cutBetweenNumbers(bytes: Uint8Array, [from, to]: Range, size: number): Range[] {
  const cuts: Range[] = []
  for (let start = from; start < to;) {
    let end = Math.min(to, start + size)
    while (end < to && bytes[end - 1]! > 32) end++
    cuts.push([start, end])
    start = end
  }
  return cuts
}

function joined(lists: readonly NumberList[]): NumberList {
  if (lists.length === 1) return lists[0]!
  const length = lists.reduce((sum, list) => sum + list.length, 0)
  const all = lists.every((list) => list instanceof Int32Array)
    ? new Int32Array(length)
    : new Float64Array(length)
  let at = 0
  for (const list of lists) {
    all.set(list, at)
    at += list.length
  }
  return all
}
