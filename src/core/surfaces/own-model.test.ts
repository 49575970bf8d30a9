/** A surface model of the artist's own, from its description. */
import { describe, expect, test } from 'vitest'
import { parseOwnModel } from './own-model.ts'

const refused = (json: unknown): unknown => {
  try {
    parseOwnModel(json, 'own')
  } catch (error) {
    return (error as { parameters: { what: string } }).parameters.what
  }
  return null
}
const paint = { name: 'paint', kind: 'color', from: 'baseColor' }

describe('what is wrong is said with its place', () => {
  test.each([
    [null, 'it is no object'],
    [[], 'it is no object'],
    [{ slots: [paint] }, 'it has no “name”'],
    [{ name: ' ', slots: [paint] }, 'it has no “name”'],
    [{ name: 'x', slots: [] }, 'it has no “slots”'],
    [{ name: 'x', slots: Array.from({ length: 201 }, () => paint) }, 'it has more than 200 slots'],
    [{ name: 'x', slots: [paint, 7] }, 'slot 2 is no object'],
    [{ name: 'x', slots: [{ from: 'baseColor' }] }, 'slot 1 has no “name”'],
    [{ name: 'x', slots: [paint, paint] }, 'two slots are called “paint”'],
    [{ name: 'x', slots: [paint, { ...paint, name: 'Paint' }] }, 'two slots are called “paint”'],
    [
      { name: 'x', slots: [{ ...paint, kind: 'word' }] },
      'slot 1 (“paint”): “kind” is one of color, number, map',
    ],
    [{ name: 'x', slots: [{ ...paint, times: 0 }] }, 'slot 1 (“paint”): “times” is a number that isn’t 0'],
  ])('%j', (json, what) => {
    expect(refused(json)).toBe(what)
  })
  test('what it may be made from is listed', () => {
    expect(refused({ name: 'x', slots: [{ name: 'a', from: 'mood' }] })).toMatch(
      /^slot 1 \(“a”\): “from” is one of .*baseColor.*roughness/,
    )
  })
})

describe('one that is right', () => {
  const model = parseOwnModel(
    {
      name: 'Stage paint',
      slots: [
        paint,
        { name: 'gloss', kind: 'number', from: 'roughness', inverted: true, times: 100 },
        { name: 'bump', from: 'normal' },
      ],
    },
    'own',
  )
  test('has its slots in their order', () => {
    expect(model.parameters.map(({ name, mapName, kind }) => [name, mapName, kind])).toEqual([
      ['paint', 'paint', 'color'],
      ['gloss', 'gloss', 'number'],
      [null, 'bump', 'map'],
    ])
  })
  test('says what light does, and is said by it, to the same values', () => {
    const values = { paint: [0.1, 0.2, 0.3] as const, gloss: 25 }
    const hub = model.toHub(values as never)
    expect(hub.baseColor).toEqual([0.1, 0.2, 0.3])
    expect(model.fromHub(hub)).toMatchObject({ paint: [0.1, 0.2, 0.3], gloss: 25 })
  })
})
