import { describe, expect, test } from 'vitest'
import { square } from '../../../../../tests/check-shapes.ts'
import type { ColorSet } from '../../../scene/mesh.ts'
import { sameNumbering } from '../../match/correspond.ts'
import type { CarryMap } from '../trait.ts'
import { carryColours } from './carry-colours.ts'
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

describe('colours of points and of corners', () => {
  const corners = (red: (at: number) => number): ColorSet => ({
    ...set('a', 0.5),
    per: 'corners',
    indices: Int32Array.of(3, 2, 1, 0),
    values: Float64Array.from({ length: 12 }, (_value, at) => (at % 3 === 0 ? red(at / 3) : 0.25)),
  })
  const points = { ...set('a', 0), values: Float64Array.from({ length: 12 }, (_value, at) => (at % 3 ? 0.25 : at / 30)) } // prettier-ignore
  const alike = corners((at) => (3 - at) / 10)

  test('are the same where every corner shows the same', () => {
    expect(compare([points], [alike])).toMatchObject({ state: 'changed', note: 'colours-on-corners', changedCount: 0 }) // prettier-ignore
    expect(compare([alike], [points])).toMatchObject({ state: 'changed', note: 'colours-on-points', changedCount: 0 }) // prettier-ignore
  })
  test('are told where a corner shows another', () => {
    const one = corners((at) => (3 - at) / 10 + (at === 1 ? 0.5 : 0))
    expect(compare([points], [one])).toMatchObject({
      note: 'colours-changed',
      changedCount: 1,
      totalCount: 4,
    })
    expect(compare([one], [points])).toMatchObject({
      note: 'colours-changed',
      changedCount: 1,
      totalCount: 4,
    })
  })
  test('a point without polygons was held against nothing', () => {
    const more = square({ points: Float64Array.of(...square().points, 5, 5, 5), colorSets: [{ ...points, values: Float64Array.of(...points.values, 1, 1, 1) }] }) // prettier-ignore
    const match = { ...sameNumbering(more) }
    expect(compareColours(more, { ...more, colorSets: [alike] }, match)).toMatchObject({ state: 'without', parameters: { without: 1 } }) // prettier-ignore
  })
  test('are taken as those of corners; where nothing came back the master’s own stay', () => {
    const map = {
      points: Int32Array.of(0, 1, -1, 3),
      corners: Int32Array.of(0, 1, -1, 3),
    } as unknown as CarryMap
    for (const [own, came] of [
      [points, corners(() => 0.9)],
      [alike, { ...points, values: points.values.map(() => 0.9) }],
    ] as const) {
      // prettier-ignore
      const { colorSets } = carryColours(withSets(own), withSets(came), map, true)
      expect(colorSets[0]!.per).toBe('corners')
      const reds = [...colorSets[0]!.indices].map((index) => colorSets[0]!.values[3 * index])
      expect(reds).toEqual([0.9, 0.9, 0.2, 0.9])
    }
  })
})

test('how many differ, and by how much', () => {
  const other = set('a', 0.5)
  other.values[3] = 0.75
  const found = compare([set('a', 0.5)], [other])
  expect(found).toMatchObject({ state: 'changed', note: 'colours-changed', changedCount: 1, totalCount: 4 })
  expect(found.deviation).toBeCloseTo(0.25, 9)
})

test('colours that 8 bits kept are off by rounding, and not by what anyone did', () => {
  const own = { ...set('a', 0), values: Float64Array.from({ length: 12 }, (_value, at) => 0.077 * at) }
  const kept = { ...own, values: own.values.map((value) => Math.round(value * 255) / 255) }
  expect(compare([own], [kept])).toMatchObject({ state: 'changed', note: 'colours-rounded' })
  const cut = { ...own, values: own.values.map((value) => Math.floor(value * 255) / 255) }
  expect(compare([own], [cut])).toMatchObject({ state: 'changed', note: 'colours-rounded' })
  const next = { ...kept, values: kept.values.map((value, at) => value + (at === 4 ? 1 / 255 : 0)) }
  expect(compare([own], [next])).toMatchObject({ note: 'colours-changed' })
})

test('a colour on one side alone is changed, and no rounding', () => {
  const corners = (first: number): ColorSet => ({
    ...set('a', 0.5),
    per: 'corners',
    indices: Int32Array.of(first, 1, 2, 3),
  })
  for (const [own, came] of [
    [corners(0), corners(-1)],
    [corners(-1), corners(0)],
  ] as const)
    // prettier-ignore
    expect(compare([own], [came])).toMatchObject({ note: 'colours-changed', changedCount: 1, deviation: 0 })
  expect(compare([corners(-1)], [corners(-1)]).state).toBe('same')
})

test('points without counterpart are neither the same nor changed, whatever the rest is', () => {
  const match = { ...sameNumbering(square()), pointToReturned: Int32Array.of(-1, 1, 2, 3) }
  const over = (came: ColorSet) => compareColours(withSets(set('a', 0.5)), withSets(came), match)
  expect(over(set('a', 0.5))).toMatchObject({ state: 'without', parameters: { without: 1, total: 4 } })
  expect(over(set('a', 0.5 + COLOUR_TOLERANCE / 2)).state).toBe('without')
  expect(over(set('a', 0.7))).toMatchObject({ state: 'changed', changedCount: 3, totalCount: 4 })
})
