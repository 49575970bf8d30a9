import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { placeByHand, type HandMove } from './place-by-hand.ts'

const STILL: HandMove = {
  mirror: 'none',
  scaleU: 1,
  scaleV: 1,
  turn: 0,
  about: 'all',
  align: 'none',
  moveU: 0,
  moveV: 0,
}
const square = (u: number, v: number, size: number): Float64Array =>
  Float64Array.from([u, v, u + size, v, u + size, v + size, u, v + size])
const boxOf = (flat: Float64Array): number[] => {
  const us = Array.from(flat).filter((_, at) => at % 2 === 0)
  const vs = Array.from(flat).filter((_, at) => at % 2)
  return [Math.min(...us), Math.min(...vs), Math.max(...us), Math.max(...vs)]
}
const close = (a: ArrayLike<number>, b: ArrayLike<number>): void => {
  expect(a.length).toBe(b.length)
  for (let at = 0; at < a.length; at++) expect(a[at]).toBeCloseTo(b[at]!, 9)
}
const things = [square(0, 0, 0.2), square(0.5, 0.6, 0.4)]

describe('placing by figures', () => {
  test('moved and left alone', () => {
    expect(placeByHand(things, STILL)).toEqual(things)
    close(boxOf(placeByHand(things, { ...STILL, moveU: 1, moveV: -0.25 })[0]!), [1, -0.25, 1.2, -0.05])
  })
  test('mirrored about all, about each', () => {
    close(boxOf(placeByHand(things, { ...STILL, mirror: 'u' })[0]!), [0.7, 0, 0.9, 0.2])
    close(boxOf(placeByHand(things, { ...STILL, mirror: 'u', about: 'each' })[0]!), [0, 0, 0.2, 0.2])
  })
  test('a quarter to the left about the tile that all lie in', () => {
    const [first] = placeByHand([square(1.0, 0, 0.2)], { ...STILL, turn: Math.PI / 2, about: 'tile' })
    close(boxOf(first!), [1.8, 0, 2, 0.2])
  })
  test('lined up six ways', () => {
    const boxes = (align: HandMove['align']): number[][] =>
      placeByHand(things, { ...STILL, align }).map(boxOf)
    expect(boxes('left').map((box) => box[0])).toEqual([0, 0])
    for (const box of boxes('right')) expect(box[2]).toBeCloseTo(0.9)
    expect(boxes('bottom').map((box) => box[1])).toEqual([0, 0])
    for (const box of boxes('top')) expect(box[3]).toBeCloseTo(1)
    for (const box of boxes('middleU')) expect((box[0]! + box[2]!) / 2).toBeCloseTo(0.45)
    for (const box of boxes('middleV')) expect((box[1]! + box[3]!) / 2).toBeCloseTo(0.5)
  })
  test('there and back again', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.double({ min: 0.1, max: 10, noNaN: true }),
        fc.double({ min: -2, max: 2, noNaN: true }),
        fc.constantFrom('all' as const, 'each' as const),
        (turn, scale, move, about) => {
          const there = placeByHand(things, {
            ...STILL,
            turn,
            scaleU: scale,
            scaleV: scale,
            about,
            moveU: move,
          })
          const back = placeByHand(
            placeByHand(there, { ...STILL, scaleU: 1 / scale, scaleV: 1 / scale, about, moveU: -move }),
            { ...STILL, turn: -turn, about },
          )
          // about the middle of a turned box the middle moves; sizes and shape don't
          back.forEach((flat, at) => {
            for (let k = 2; k < flat.length; k++)
              expect(flat[k]! - flat[k - 2]!).toBeCloseTo(things[at]![k]! - things[at]![k - 2]!, 7)
          })
        },
      ),
    )
  })
  test('nothing gives nothing', () => expect(placeByHand([], STILL)).toEqual([]))
})
