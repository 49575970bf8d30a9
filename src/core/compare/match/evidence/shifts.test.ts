/** Orders and patches that are off by one between two edits: found, put right, or left open. */
import { describe, expect, test } from 'vitest'
import { gridOf, meshOf, type Point } from '../../../../../tests/solids.ts'
import { pointCountOf, type Mesh } from '../../../scene/mesh.ts'
import { createGrower } from '../grow-pairs.ts'
import { neighboursOf } from '../neighbours.ts'
import { byCornerOrder } from './by-corner-order.ts'
import { mendShifts } from './mend-shifts.ts'
import { correspond } from '../correspond.ts'

const CARDS = 40
const PER_CARD = 12
/** Hair cards of five quads each, side by side, hanging down. */
const cardPoints = Array.from({ length: CARDS * PER_CARD }, (_point, at): Point => {
  const [card, own] = [Math.floor(at / PER_CARD), at % PER_CARD]
  return [2 * card + (own % 2) * 0.3, -0.4 * Math.floor(own / 2), 0.1 * (card % 7)]
})
const cardFaces = Array.from({ length: CARDS * 5 }, (_face, at) => {
  const first = PER_CARD * Math.floor(at / 5) + 2 * (at % 5)
  return [first, first + 1, first + 3, first + 2]
})
const cards = meshOf(cardPoints, cardFaces)
/** One polygon of card 10 taken out, one of card 20 cut into two over points that are put behind all others. */
function edited(move: (place: Point) => Point): Mesh {
  const [cut, out] = [101, 52]
  const [a, b, c, d] = cardFaces[cut]!
  const middle = (p: number, q: number): Point => cardPoints[p]!.map((value, axis) => (value + cardPoints[q]![axis]!) / 2) as unknown as Point // prettier-ignore
  const [left, right] = [cardPoints.length, cardPoints.length + 1]
  const faces = cardFaces.flatMap(
    (face, at) =>
    at === out ? [] : at === cut ? [[a!, b!, right, left], [left, right, c!, d!]] : [face], // prettier-ignore
  )
  return meshOf([...cardPoints, middle(a!, d!), middle(b!, c!)].map(move), faces)
}

describe('polygons in their order, one taken out and another put in', () => {
  test('between the two nothing is said; elsewhere all', () => {
    const pairs = byCornerOrder(
      cards,
      edited((place) => place),
    )!
    const isOff = pairs.filter((other, point) => other >= 0 && other !== point).length
    expect(isOff).toBe(0)
    expect([...pairs.subarray(0, 8 * PER_CARD)].every((other, point) => other === point)).toBe(true)
    expect(pairs.subarray(11 * PER_CARD, 19 * PER_CARD).every((other) => other === -1)).toBe(true)
    expect(pairs.filter((other) => other >= 0).length).toBeGreaterThan(pairs.length * 0.6)
  })
  test('moved farther than the rows lie apart, every point is the one that it was', () => {
    for (const by of [0.3, 0.6, 1]) {
      const bent = edited(([x, y, z]) => [
        x + by * Math.sin(0.1 * x + 0.4 * y),
        y + by * Math.cos(0.12 * x),
        z,
      ])
      const { pointToReturned, guess } = correspond(cards, bent)
      expect(pointToReturned.filter((other, point) => other >= 0 && other !== point).length).toBe(0)
      expect(pointToReturned.filter((other) => other >= 0).length).toBeGreaterThan(
        pointToReturned.length * 0.98,
      )
      expect(guess).not.toBe(true)
    }
  })
})

describe('a patch that was paired pushed on by one', () => {
  const [rows, columns] = [5, 24]
  const at = (row: number, column: number): number => row * columns + (column % columns)
  /** A tube turned by so many of its columns, which are 1/24 of a turn. */
  const tube = (turned: number): Mesh =>
    meshOf(
      Array.from({ length: (rows + 1) * columns }, (_point, point): Point => {
        const angle = (2 * Math.PI * ((point % columns) + turned)) / columns
        return [4 * Math.cos(angle), Math.floor(point / columns), 4 * Math.sin(angle)]
      }),
      Array.from({ length: rows * columns }, (_face, face) => {
        const [row, column] = [Math.floor(face / columns), face % columns]
        return [at(row, column), at(row, column + 1), at(row + 1, column + 1), at(row + 1, column)]
      }),
    )
  function mended(turned: number) {
    const [master, returned] = [tube(0), tube(turned)]
    const pairs = Int32Array.from({ length: pointCountOf(master) }, (_pair, point) => {
      const column = point % columns
      return column === 10 ? -1 : column >= 5 && column < 10 ? point + 1 : point
    })
    const taken = new Uint8Array(pointCountOf(returned))
    for (const other of pairs) if (other >= 0) taken[other] = 1
    const before = pairs.slice()
    const guess = mendShifts(master, returned, pairs, taken, neighboursOf(master), neighboursOf(returned), createGrower(master, returned)) // prettier-ignore
    return { pairs, taken, guess, before }
  }
  test('goes back where that bears out more edges and moves less', () => {
    const { pairs, taken } = mended(0)
    expect([...pairs]).toEqual(Array.from(pairs, (_other, point) => point))
    expect(taken.every(Boolean)).toBe(true)
  })
  test('that is round may as well be all pushed on: it is a guess', () => {
    expect(mended(0.2).guess).toBe(true)
    const { pairs, guess } = mended(-0.8)
    // turned by as much, all of it pushed on moves less
    expect([...pairs]).toEqual(Array.from(pairs, (_other, point) => at(Math.floor(point / columns), (point % columns) + 1))) // prettier-ignore
    expect(guess).toBe(true)
  })
  test('of a sheet goes back, and is none: there is nowhere to push the rest on to', () => {
    const sheet = gridOf(20, 5)
    const pairs = Int32Array.from({ length: pointCountOf(sheet) }, (_pair, point) => {
      const column = point % 21
      return column === 10 ? -1 : column >= 5 && column < 10 ? point + 1 : point
    })
    const taken = Uint8Array.from(pairs, (_one, other) => Number(pairs.includes(other)))
    const near = neighboursOf(sheet)
    const guess = mendShifts(sheet, sheet, pairs, taken, near, near, createGrower(sheet, sheet))
    expect([guess, pairs.every((other, point) => other === point), taken.every(Boolean)]).toEqual([false, true, true]) // prettier-ignore
  })
  test('nothing is asked where nothing is open, or nothing had to give way', () => {
    const sheet = gridOf(6, 6)
    const pairs = Int32Array.from({ length: pointCountOf(sheet) }, (_pair, point) => point)
    const run = (given: Int32Array): boolean => {
      const taken = new Uint8Array(given.length)
      for (const other of given) if (other >= 0) taken[other] = 1
      return mendShifts(sheet, sheet, given, taken, neighboursOf(sheet), neighboursOf(sheet), createGrower(sheet, sheet)) // prettier-ignore
    }
    expect(run(pairs.slice())).toBe(false)
    const open = pairs.map((other, point) => (point === 24 ? -1 : other))
    expect([run(open), open[24]]).toEqual([false, -1])
  })
})
