import { describe, expect, test } from 'vitest'
import { beyond, counted, readableNumber, renderText } from './render.ts'

describe('a sentence from its template', () => {
  test.each([
    ['{count} [part|parts] [is|are] hidden.', { count: 1 }, '1 part is hidden.'],
    ['{count} [part|parts] [is|are] hidden.', { count: 2 }, '2 parts are hidden.'],
    [
      '{count} [part|parts], {faces} [polygon|polygons|faces].',
      { count: 2, faces: 1 },
      '2 parts, 1 polygon.',
    ],
    // what is nothing, or not given, is left out with all that belongs to it
    ['{gone} gone[?added|, {added} new].', { gone: 3, added: 2 }, '3 gone, 2 new.'],
    ['{gone} gone[?added|, {added} new].', { gone: 3, added: 0 }, '3 gone.'],
    ['{gone} gone[?added|, {added} new].', { gone: 3 }, '3 gone.'],
    ['{gone} gone[?text| ({text})].', { gone: 3, text: '' }, '3 gone.'],
    ['All[?lost|; {lost} [point is|points are|lost] gone].', { lost: 1 }, 'All; 1 point is gone.'],
    ['All[?lost|; {lost} [point is|points are|lost] gone][?new|, {new} new].', { lost: 4, new: 5 }, 'All; 4 points are gone, 5 new.'], // prettier-ignore
    ['“{name}” is gone.', { name: '' }, '(no name) is gone.'],
    ['“{name}” is {what}.', { name: 'a' }, '“a” is ?.'],
    ['Version {version}.', { version: '1200' }, 'Version 1200.'],
  ])('%s %j', (template, parameters, wanted) => expect(renderText(template, parameters)).toBe(wanted))
})

test('numbers: counts with their thousands, measures with four digits, the endless', () => {
  expect([1200, -1200, 0.123456, 1e15, 2 / 3e9, Number.MAX_VALUE].map(readableNumber)).toEqual([
    '1,200',
    '-1,200',
    '0.1235',
    '1000000000000000',
    '6.667e-10',
    '∞',
  ])
})

test('a number of things', () => {
  expect([counted(1, 'unit'), counted(0, 'unit'), counted(1200, 'unit'), counted(1.5, 'unit'), counted(2, 'ox', 'oxen')]).toEqual(['1 unit', '0 units', '1,200 units', '1.5 units', '2 oxen']) // prettier-ignore
})

test('what lies beyond a limit is seen to', () => {
  expect([beyond(2.0003, 2), beyond(2.9871, 2), beyond(3.0004, 3), beyond(1.99996, 2), beyond(Infinity, 2)]).toEqual([2.0003, 2.99, 3.0004, 1.99996, Infinity]) // prettier-ignore
  expect(beyond(2, 2)).toBe(2)
})
