import { describe, expect, test } from 'vitest'
import { NOTES, TRAIT_KINDS, type Trait } from '../compare/traits/registry.ts'
import { compared, type TraitComparison } from '../compare/traits/trait.ts'
import { costOf, fateOf } from './fate.ts'
import { forecastText } from './forecast-text.ts'

const keeper = { purpose: ['uvs'] as Trait[] }
const remaker = { purpose: ['topology'] as Trait[] }
const say = (
  trait: Trait,
  cell: TraitComparison,
  destination: { purpose: Trait[]; neverTravels?: Trait[] },
) => forecastText(trait, cell, destination, TRAIT_KINDS)

describe('what a forecast says of a cell', () => {
  const creases = compared('lost', 'creases-lost', { parameters: { total: 48 } })
  test('what is not in the file, and who keeps it', () => {
    expect(say('creases', creases, keeper)).toBe(
      'The file will not carry the 48 creases. The master keeps it all for the return.',
    )
    expect(say('creases', creases, remaker)).toBe(
      'The file will not carry the 48 creases. It can’t be put back on polygons that the tool makes anew.',
    )
  })
  test('nodes that the file has not are not carried, and kept', () => {
    const gone = compared('without', 'nodes-gone', { parameters: { what: '1 node without polygons' } })
    expect(fateOf('scene', gone, keeper, TRAIT_KINDS)).toBe('kept')
    expect(say('scene', gone, keeper)).toBe(
      'The file will not carry 1 node without polygons. The master keeps it all for the return.',
    )
    const lines = compared('changed', 'lines-changed', { parameters: { lost: 2, added: 0, both: 0 } })
    expect(say('topology', lines, keeper)).toBe(
      'The polygons are carried; 2 lines or single points are not. The master keeps it all for the return.',
    )
  })
  test('what is there in other words, and what that costs', () => {
    const cell = compared('changed', 'polygons-cut', { parameters: { total: 6, changed: 2, split: '' } })
    expect(say('topology', cell, keeper)).toBe(
      `In another form. All 6 polygons are there, 2 of them cut into smaller ones. ${costOf('polygons-cut', TRAIT_KINDS)}`,
    )
  })
  test('what the file has and the tool has no room for', () => {
    const refusing = { ...keeper, neverTravels: ['groups' as Trait] }
    expect(say('groups', compared('same', 'same'), refusing)).toBe(
      'The file carries it, and this tool has no room for it. The master keeps it all for the return.',
    )
    expect(say('groups', compared('same', 'none', { empty: true }), refusing)).toBe('The part has none.')
  })
  test('what the file has no word for is not said to be in it', () => {
    const unstated = compared('incomparable', 'unit-unknown')
    expect(say('scene', unstated, { ...keeper, neverTravels: ['scene'] })).toBe(
      'The file states no unit; the tool takes the numbers for its own. The master keeps it all for the return.',
    )
  })
  test('the scene: as it is, or in another size', () => {
    expect(say('scene', compared('same', 'same'), keeper)).toMatch(/^Unit, axes, cameras/)
    const grown = compared('changed', 'size-changed', {
      parameters: { factor: 100, how: '', also: ' Also changed: cameras (1 → 0).' },
    })
    expect(say('scene', grown, keeper)).toContain(
      'Everything leaves 100 times as large. Also changed: cameras (1 → 0).',
    )
  })
  test('nothing that leaves is said to have come back', () => {
    for (const [code, note] of Object.entries(NOTES)) {
      const text = note.forecast ?? note.ledger
      expect(text, code).not.toMatch(/came back|come back|returned/)
    }
    expect(NOTES.lost!.ledger).toMatch(/came back/)
  })
})
