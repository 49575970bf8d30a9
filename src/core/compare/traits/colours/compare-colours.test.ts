import { expect, test } from 'vitest'
import { square } from '../../../../../tests/check-shapes.ts'
import type { ColorSet } from '../../../scene/mesh.ts'
import { sameNumbering } from '../../match/correspond.ts'
import { COLOUR_TOLERANCE, compareColours } from './compare-colours.ts'

const set = (name: string, red: number): ColorSet => ({
  name,
  per: 'points',
  components: 3,
  indices: new Int32Array(0),
  values: Float64Array.from({ length: 12 }, (_value, at) => (at % 3 === 0 ? red : 0.25)),
})
const withSets = (...colorSets: ColorSet[]) => square({ colorSets })
const compare = (own: ColorSet[], came: ColorSet[]) =>
  compareColours(withSets(...own), withSets(...came), sameNumbering(square()))

test('sets of the same names and values are the same, and within the tolerance about the same', () => {
  expect(compare([set('a', 0.5)], [set('a', 0.5)])).toMatchObject({ state: 'same' })
  expect(compare([set('a', 0.5)], [set('a', 0.5 + COLOUR_TOLERANCE / 2)]).state).toBe('within')
})

test('a set that did not come back is told with its name, also beside one that did', () => {
  expect(compare([set('a', 0.5), set('b', 0.1)], [set('a', 0.5)])).toMatchObject({
    state: 'changed',
    note: 'colour-sets-lost',
    parameters: { lost: 1, total: 2 },
  })
  expect(compare([set('a', 0.5)], [])).toMatchObject({ state: 'lost', totalCount: 4 })
  expect(compare([], [set('a', 0.5)]).state).toBe('gained')
})

test('colours of points and of corners are not held against each other', () => {
  const corners = { ...set('a', 0.5), per: 'corners' as const, indices: Int32Array.of(0, 1, 2, 3) }
  expect(compare([set('a', 0.5)], [corners]).state).toBe('incomparable')
})

test('how many differ, and by how much', () => {
  const other = set('a', 0.5)
  other.values[3] = 0.75
  const found = compare([set('a', 0.5)], [other])
  expect(found).toMatchObject({ state: 'changed', note: 'colours-changed', changedCount: 1, totalCount: 4 })
  expect(found.deviation).toBeCloseTo(0.25, 9)
})

test('points without counterpart are neither the same nor changed, whatever the rest is', () => {
  const match = { ...sameNumbering(square()), pointToReturned: Int32Array.of(-1, 1, 2, 3) }
  const over = (came: ColorSet) => compareColours(withSets(set('a', 0.5)), withSets(came), match)
  expect(over(set('a', 0.5))).toMatchObject({ state: 'without', parameters: { without: 1, total: 4 } })
  expect(over(set('a', 0.5 + COLOUR_TOLERANCE / 2)).state).toBe('without')
  expect(over(set('a', 0.7))).toMatchObject({ state: 'changed', changedCount: 3, totalCount: 4 })
})
