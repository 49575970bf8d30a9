import { describe, expect, test } from 'vitest'
import { gridOf, sceneOf } from '../../../../../tests/solids.ts'
import { renderText } from '../../../base/messages/render.ts'
import { compareScenes } from '../../compare-scenes.ts'
import { recogniseReturn } from '../../recognise/recognise-return.ts'
import { tellStory } from '../../story/tell-story.ts'
import { points as trait } from './points.ts'
import { pointToleranceOf, POINT_TOLERANCE } from './compare-points.ts'

const sheet = gridOf(3, 4)

describe('how far a point may come back from where it was', () => {
  test('a share of the part, near where numbers count from', () => {
    const tolerance = pointToleranceOf(sheet)
    expect(tolerance(0, 0, 0)).toBeCloseTo(5 * POINT_TOLERANCE, 12)
    expect(tolerance(1, 0, 1)).toBe(tolerance(0, 0, 0))
  })
  test('as much as 32 bits round it, far from there', () => {
    const tolerance = pointToleranceOf(sheet)
    // neighbours of a 32-bit number
    const next = new Float32Array(new Uint32Array([new Uint32Array(Float32Array.of(1000).buffer)[0]! + 2]).buffer)[0]! // prettier-ignore
    expect(tolerance(1000, 0, 0)).toBeGreaterThan(next - 1000)
    expect(tolerance(1000, 0, 0)).toBeLessThan(3 * (next - 1000))
    // a part that stands far off in a file that knows no parts
    expect(
      pointToleranceOf(sheet, { countedFrom: [-1000, 0, 0], placedOtherwise: false })(0, 0, 0),
    ).toBeCloseTo(tolerance(1000, 0, 0), 12)
  })
  test('a point astray that no polygon has makes nothing of the part larger', () => {
    const points = Float64Array.from([...sheet.points, 1e9, 1e9, 1e9])
    expect(pointToleranceOf({ ...sheet, points })(1, 1, 1)).toBe(pointToleranceOf(sheet)(1, 1, 1))
  })
  test.each([NaN, Infinity, -Infinity])('a number that is none (%s) lets nothing pass', (broken) => {
    const points = sheet.points.slice()
    points[4] = broken
    expect(pointToleranceOf({ ...sheet, points })(1, 0, 1)).toBeLessThan(1e-5)
    expect(
      pointToleranceOf(sheet, { countedFrom: [broken, 0, 0], placedOtherwise: false })(1, 0, 1),
    ).toBeLessThan(1e-5)
    expect(pointToleranceOf(sheet)(broken, 0, 1)).toBeLessThan(1e-5)
  })
})

describe('one of the points came back where nobody finds it', () => {
  const ledgerOf = (places: Readonly<Record<number, number>>) => {
    const points = sheet.points.slice()
    for (const [at, value] of Object.entries(places)) points[Number(at)] = value
    const master = sceneOf([{ ...sheet, name: 'sheet' }])
    const found = recogniseReturn(master, sceneOf([{ ...sheet, name: 'sheet', points }]))
    const ledger = compareScenes(master, found.returned, () => {}, found.matching)
    const { note, parameters, changedCount } = ledger.rows[0]!.cells['points']!
    const story = tellStory(ledger, { titleOf: (title) => title, isToolsOwn: () => false })
    return { ledger, story, note, changedCount, text: renderText(trait.notes[note]!.ledger, parameters) }
  }
  test.each([1e160, 1e300])('at %s: so far away, and nothing else changed', (far) => {
    const { ledger, story, text } = ledgerOf({ 4: far })
    expect(ledger.whole).toBeNull()
    expect(text).toBe(`1 of 20 points moved, the farthest by ${far} cm.`)
    expect(story).toEqual([`Points moved up to ${far} cm.`])
  })
  test.each([NaN, Infinity])('at %s: no number is said of it', (none) => {
    const { ledger, story, text, changedCount } = ledgerOf({ 4: none })
    expect([ledger.whole, changedCount]).toEqual([null, 1])
    expect(text).toBe('1 of 20 points moved; 1 of them has a coordinate that is no number.')
    expect(story).toEqual(['Coordinates of points are no numbers.'])
    const also = ledgerOf({ 4: none, 31: none, 10: 0.5 })
    expect(also.text).toBe('3 of 20 points moved, the farthest by 0.5 cm; 2 of them have a coordinate that is no number.') // prettier-ignore
    expect(also.story).toEqual(['Points moved up to 0.5 cm; coordinates of points are no numbers.'])
  })
})
