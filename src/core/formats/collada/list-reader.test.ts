import { describe, expect, test } from 'vitest'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { collectMessages } from '../../base/messages/collector.ts'
import type { PieceReader } from '../descriptor.ts'
import { createListReader, readColladaPiece, type NumberList, type Range } from './list-reader.ts'
import { readXml } from './xml.ts'

type Chance = () => number

/** Reads pieces as other threads would, some of them, and keeps count. */
function piecesOf(count: number, isRead: (piece: number) => boolean) {
  const counts = { pieces: 0, taken: 0, ended: 0, bytes: 0 }
  const reader: PieceReader = {
    piecesFor: () => count,
    begin: (format, pieces) => {
      expect(format).toBe('collada')
      counts.pieces = pieces.length
      counts.bytes = pieces.reduce((sum, piece) => sum + piece.length, 0)
      const left = new Set(pieces.keys())
      return {
        take: (piece) => {
          if (!left.delete(piece) || !isRead(piece)) return null
          counts.taken++
          // a thread is given bytes of its own
          return readColladaPiece(pieces[piece]!.slice())
        },
        end: () => void counts.ended++,
      }
    },
  }
  return { reader, counts }
}

const whole = (chance: Chance): string => String(Math.floor(chance() * 10 ** (1 + Math.floor(8 * chance()))))
const real = (chance: Chance): string => String((chance() - 0.5) * 10 ** Math.floor(6 * chance() - 2))

/** A list of about so many bytes. */
function listText(bytes: number, chance: Chance, number: (chance: Chance) => string): string {
  let text = ''
  while (text.length < bytes) text += number(chance) + (chance() < 0.1 ? '\n\t ' : ' ')
  return text
}

const areAlike = (a: ArrayLike<number>, b: ArrayLike<number>): boolean =>
  a.length === b.length && Array.prototype.every.call(a, (number, at) => number === b[at])
const numbersOf = (text: string): number[] => text.trim().split(/\s+/).map(Number)

describe('long lists in pieces', () => {
  test('are what they are in one go, whichever pieces other threads have read', () => {
    for (let seed = 1; seed <= 6; seed++) {
      const chance = chanceOf(seed)
      const texts = [
        listText(300_000 + 200_000 * chance(), chance, real),
        listText(400_000, chance, whole),
        listText(900, chance, whole),
        // whole numbers in some pieces alone
        listText(300_000, chance, whole) + listText(300_000, chance, real).trimEnd(),
      ]
      const bytes = encodeUtf8(texts.join('<'))
      let from = 0
      const ranges = texts.map((text): Range => {
        const range = [from, from + text.length] as const
        from += text.length + 1
        return range
      })
      const { reader, counts } = piecesOf(2 + (seed % 9), (piece) => piece % 3 !== seed % 3)
      const lists = createListReader(bytes, ranges, reader)
      const alone = createListReader(bytes, ranges, null)
      // in any order, and one of them twice
      for (const at of [1, 0, 3, 2, 0]) {
        const found = lists.read(ranges[at]!)
        expect(found!.constructor).toBe(alone.read(ranges[at]!)!.constructor)
        expect(areAlike(found!, numbersOf(texts[at]!))).toBe(true)
      }
      expect(lists.read(ranges[1]!)).toBeInstanceOf(Int32Array)
      lists.end()
      expect(counts.pieces).toBeGreaterThan(2)
      expect(counts.taken).toBeGreaterThan(0)
      expect(counts.ended).toBe(1)
      // the short list is in none of them
      expect(counts.bytes).toBe(texts[0]!.length + texts[1]!.length + texts[3]!.length)
    }
  })
  test('one number that is none in any piece, and the list is none', () => {
    const chance = chanceOf(3)
    const text = listText(600_000, chance, real)
    for (const [place, bad] of [
      [0, 'x'],
      [0.4, '1,5 '],
      [0.8, 'nan '],
      [1, ' -'],
    ] as const) {
      const at = Math.floor(place * text.length)
      const bytes = encodeUtf8(`${text.slice(0, at)} ${bad} ${text.slice(at)}`)
      const range = [0, bytes.length] as const
      for (const isRead of [true, false])
        expect(createListReader(bytes, [range], piecesOf(5, () => isRead).reader).read(range)).toBeNull()
    }
  })
  test('one number longer than a piece stays whole', () => {
    const digits = '1'.repeat(400_000)
    const bytes = encodeUtf8(`2 ${digits}`)
    const { reader } = piecesOf(8, () => true)
    const list = createListReader(bytes, [[0, bytes.length]], reader).read([0, bytes.length]) as NumberList
    expect(list === null || list.length === 2).toBe(true)
    const short = createListReader(bytes, [[0, bytes.length]], null).read([0, bytes.length])
    expect(list).toEqual(short)
  })
  test('a document reads its lists in pieces, and says when nothing more is asked', () => {
    const text = listText(500_000, chanceOf(9), real)
    const xml = `<COLLADA version="1.4.1"><float_array id="a">${text}</float_array><p>1 2 3</p></COLLADA>`
    const { reader, counts } = piecesOf(4, () => true)
    const document = readXml(encodeUtf8(xml), 'a.dae', collectMessages('a.dae'), reader)
    const [list, short] = document.root.children
    expect(areAlike(document.numbers(list!), numbersOf(text))).toBe(true)
    expect([...document.indices(short!)]).toEqual([1, 2, 3])
    expect(counts.taken).toBe(counts.pieces)
    document.end()
    expect(counts.ended).toBe(1)
  })
})
