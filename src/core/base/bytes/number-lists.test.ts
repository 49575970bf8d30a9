import { describe, expect, test } from 'vitest'
import { chanceOf } from '../math/chance.ts'
import { parseReals, parseWholes } from './number-lists.ts'
import { encodeUtf8 } from './text.ts'

describe('whole numbers', () => {
  const wholes = (text: string, start = 0, end = text.length): number[] | null => {
    const found = parseWholes(encodeUtf8(text), start, end)
    return found && [...found]
  }
  test('whatever blanks part them', () => {
    expect(wholes('')).toEqual([])
    expect(wholes(' \n\t\r ')).toEqual([])
    expect(wholes('7')).toEqual([7])
    expect(wholes('\t0 12\n345\r\n006 999999999 ')).toEqual([0, 12, 345, 6, 999999999])
    // no more than what is asked for
    expect(wholes('12 34 56', 1, 7)).toEqual([2, 34, 5])
    for (let seed = 1; seed <= 50; seed++) {
      const chance = chanceOf(seed)
      const values = Array.from({ length: seed }, () => Math.floor(chance() * 10 ** (1 + (seed % 9))))
      const text = values.map((value) => value + ' \n\r\t'.slice(Math.floor(chance() * 4))).join(' ')
      expect(wholes(text)).toEqual(values)
    }
  })
  test('anything else is left to who can say what it is', () => {
    for (const text of [
      '1 -2',
      '+3',
      '1.0',
      '1e3',
      '1,2',
      '12345678901',
      '1000000000',
      'x',
      '1 2x',
      '1 ٣',
      '1\\2',
    ])
      expect(wholes(text), text).toBeNull()
  })
})

describe('numbers', () => {
  const reals = (text: string, start = 0, end = text.length): number[] | null => {
    const found = parseReals(encodeUtf8(text), start, end)
    return found && [...found]
  }
  test('as ECMAScript reads them, whatever blanks part them', () => {
    expect(reals('')).toEqual([])
    expect(reals('\n\n')).toEqual([])
    expect(reals('-0 +1.5\r\n.25\t7.\n1e-3')).toEqual([-0, 1.5, 0.25, 7, 1e-3])
    expect(reals('12 34 56', 1, 7)).toEqual([2, 34, 5])
    // nothing behind the end is read, whatever it is
    expect(reals('1.5e3 ', 0, 1)).toEqual([1])
    expect(reals('1.5e3 ', 0, 3)).toEqual([1.5])
    expect(reals('-7.25', 0, 2)).toEqual([-7])
    expect(reals('1 2.5', 0, 3)).toEqual([1, 2])
    for (let seed = 1; seed <= 50; seed++) {
      const chance = chanceOf(seed)
      const values = Array.from(
        { length: 3 * seed },
        () => (chance() - 0.5) * 10 ** Math.floor(20 * chance() - 10),
      )
      expect(
        reals(values.map((value) => value + ' \n\r\t'.slice(Math.floor(chance() * 4))).join(' ')),
      ).toEqual(values)
    }
  })
  test('long lists whose numbers are short here and long there', () => {
    const chance = chanceOf(7)
    for (const isShort of [
      (at: number) => at < 30_000,
      (at: number) => at > 3_000,
      (at: number) => at % 5000 > 100,
    ]) {
      const values = Array.from({ length: 40_000 }, (_none, at) =>
        isShort(at) ? Math.floor(10 * chance()) : chance() * 1e-5,
      )
      const bytes = encodeUtf8(values.join('\n'))
      expect([...parseReals(bytes, 0, bytes.length)!]).toEqual(values)
      const wholes = values.map((value) => Math.floor(value * 1e8) % 1e9)
      const text = encodeUtf8(wholes.join(' '))
      expect([...parseWholes(text, 0, text.length)!]).toEqual(wholes)
    }
  })
  test('null where one is ill-formed', () => {
    for (const text of ['1 2x 3', 'nan', '1,5', '1 2 -', '1\n2\ne5', '1 ٣'])
      expect(reals(text), text).toBeNull()
  })
})
