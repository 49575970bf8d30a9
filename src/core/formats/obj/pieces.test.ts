/** Files read in pieces state what they state when read in one go, wherever they are cut. */
import { describe, expect, test } from 'vitest'
import { chanceOf } from '../../base/math/chance.ts'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import { collectMessages } from '../../base/messages/collector.ts'
import type { PieceReader } from '../descriptor.ts'
import { cutIntoPieces, readObjPiece, readStatementsInPieces } from './pieces.ts'
import { readObjStatements } from './read-statements.ts'
import type { ObjStatements } from './statements.ts'

type Chance = () => number
const pick = <Value>(chance: Chance, values: readonly Value[]): Value =>
  values[Math.floor(chance() * values.length)]!

/** Statements of every kind in any order, some of them faulty. */
function anyFile(chance: Chance, lines: number, countsBack: boolean): string {
  const ending = pick(chance, ['\n', '\r\n'])
  const number = (): string => pick(chance, ['0', '1.5', '-2e-3', '7', chance().toFixed(6)])
  const numbers = (count: number): string => Array.from({ length: count }, number).join(' ')
  const index = (): string =>
    countsBack && chance() < 0.3 ? `-${1 + Math.floor(chance() * 4)}` : String(1 + Math.floor(chance() * 20))
  const corner = (): string =>
    pick(chance, [index, () => `${index()}/${index()}`, () => `${index()}//${index()}`])()
  const corners = (): string => Array.from({ length: 3 + Math.floor(chance() * 3) }, corner).join(' ')
  const name = (): string => pick(chance, ['hull', 'keel', 'größe', 'a b', ''])
  const kinds: (() => string)[] = [
    () => `v ${numbers(3)}`,
    () => `v ${numbers(3)}`,
    () => `v ${numbers(pick(chance, [2, 3, 4, 6, 7]))}`,
    () => `vt ${numbers(pick(chance, [1, 2, 3]))}`,
    () => `vn ${numbers(3)}`,
    () => `f ${corners()}`,
    () => `f ${corners()}`,
    () => `f ${corners()} \\${ending}${corners()}`,
    () => `l ${corners()}`,
    () => `p ${index()} ${index()}`,
    () => `o ${name()}`,
    () => `g ${name()} ${name()}`,
    () => `s ${pick(chance, ['off', '1', '7', 'x'])}`,
    () => `usemtl ${name()}`,
    () => `mtllib ${name()}.mtl`,
    () => `t crease 2/1/0 ${Math.floor(chance() * 9)} ${Math.floor(chance() * 9)} 2`,
    () => `v 1 nonsense 3`,
    () => `f 1 two 3`,
    () => 'curv 0 1',
    () => `# ${name()} \\`,
    () => '',
  ]
  // a few files keep to few kinds, so that long stretches change nothing
  const some = chance() < 0.5 ? kinds : kinds.filter(() => chance() < 0.4)
  const used = some.length ? some : kinds
  return Array.from({ length: lines }, () => pick(chance, used)()).join(ending) + pick(chance, ['', ending])
}

/** A reader that cuts as asked and gives some pieces, as threads that are late would. */
const readerOf = (count: number, gives: (piece: number) => boolean): PieceReader => ({
  piecesFor: () => count,
  begin: (_format, pieces) => ({
    take: (piece) =>
      piece > 0 && gives(piece) ? structuredClone(readObjPiece(pieces[piece]!.slice())) : null,
    end: () => {},
  }),
})

/** Lists without the room behind them. */
const plain = (statements: ObjStatements): unknown =>
  Object.fromEntries(
    Object.entries(statements).map(([name, value]) => [
      name,
      value !== null && typeof value === 'object' && 'array' in value
        ? [...value.array.subarray(0, value.length)]
        : value,
    ]),
  )

const whole = (bytes: Uint8Array): unknown => {
  const messages = collectMessages('any.obj')
  return { statements: plain(readObjStatements(bytes, messages)), findings: messages.list() }
}
const cut = (bytes: Uint8Array, reader: PieceReader): unknown => {
  const messages = collectMessages('any.obj')
  return { statements: plain(readStatementsInPieces(bytes, messages, reader)), findings: messages.list() }
}

describe('a file in pieces', () => {
  test.each(Array.from({ length: 300 }, (_run, seed) => seed))('states the same, seed %i', (seed) => {
    const chance = chanceOf(seed)
    const bytes = encodeUtf8(anyFile(chance, Math.floor(chance() * 200), seed % 3 === 0))
    const count = 1 + Math.floor(chance() * 9)
    expect(
      cut(
        bytes,
        readerOf(count, () => chance() < 0.8),
      ),
    ).toEqual(whole(bytes))
  })
  test('a name that is not in UTF-8 is told once, and more findings than are listed are counted', () => {
    const line = Uint8Array.from([0x6f, 0x20, 0xfc, 0x0a])
    const wrong = encodeUtf8('v 1 x 3\n'.repeat(30))
    const bytes = new Uint8Array([...line, ...wrong, ...line, ...wrong])
    expect(
      cut(
        bytes,
        readerOf(2, () => true),
      ),
    ).toEqual(whole(bytes))
  })
  test('a line that goes on is never cut, and a piece is never empty', () => {
    const bytes = encodeUtf8('v 0 0 0 \\\n \\\n\nf 1 2 \\\r\n 3\nv 1 1 1')
    for (let count = 1; count < 40; count++) {
      const starts = cutIntoPieces(bytes, count)
      expect(new Set(starts).size).toBe(starts.length)
      for (const start of starts.slice(1)) expect(bytes[start - 1]).toBe(10)
      expect(starts.every((start) => start < bytes.length)).toBe(true)
      expect(
        cut(
          bytes,
          readerOf(count, () => true),
        ),
      ).toEqual(whole(bytes))
    }
  })
})
