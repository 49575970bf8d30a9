/** Kinds of evidence held against each other: what hardly bears itself out is not believed, however early it would speak. */
import { expect, test } from 'vitest'
import { gridOf } from '../../../../tests/solids.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { pointCountOf } from '../../scene/mesh.ts'
import { matchByEvidence } from './match-evidence.ts'

const sheet = gridOf(11, 9, { uvSets: [] }, (x, z) => Math.sin(x) + 0.3 * z)
const count = pointCountOf(sheet)
const identity = Array.from({ length: count }, (_point, at) => at)
/** As many columns of points. */
const COLUMNS = 12

/** Places that say the first rows were pushed on by one column, and of the others anything. */
function misplaced(rows: number, seed: number): Int32Array {
  const chance = chanceOf(seed)
  const left = identity.filter((point) => point >= rows * COLUMNS)
  return Int32Array.from(identity, (point) => {
    if (point >= rows * COLUMNS) return left.splice(Math.floor(chance() * left.length), 1)[0]!
    return point % COLUMNS === COLUMNS - 1 ? -1 : point + 1
  })
}

test('where more than a third of the places bears nothing out, none of them is believed beside an order that holds', () => {
  for (let seed = 1; seed <= 5; seed++) {
    const found = matchByEvidence(sheet, sheet, misplaced(4, seed))!
    expect([seed, [...found.pointToReturned]]).toEqual([seed, identity])
    expect(found.by[0]).toBe('order')
  }
})

test('places that nothing speaks against are believed, and what they leave open is grown from them', () => {
  const places = Int32Array.from(identity, (point) => (point % 7 === 0 ? -1 : point))
  const found = matchByEvidence(sheet, sheet, places)!
  expect([...found.pointToReturned]).toEqual(identity)
  expect(found.guess).toBe(false)
})

test('nothing is found between meshes of which one has no polygon', () => {
  const empty = { ...sheet, faceOffsets: new Uint32Array(1), faceVertices: new Uint32Array(0) }
  expect(matchByEvidence(sheet, empty, Int32Array.from(identity))).toBeNull()
  expect(matchByEvidence(empty, sheet, Int32Array.from(identity))).toBeNull()
})
