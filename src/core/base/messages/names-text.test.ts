import { expect, test } from 'vitest'
import { namesText, quotedName, shownName } from './names-text.ts'

test('names in quotes, the rest counted, and what has none is said', () => {
  expect(namesText(['a', ' ', 'b'])).toBe('“a”, (no name), “b”')
  expect(namesText(['a', 'b', 'c', 'd', 'e', 'f'])).toBe('“a”, “b”, “c”, “d” and 2 more')
  expect([quotedName(''), quotedName('x y'), shownName('\t'), shownName('x')]).toEqual([
    '(no name)',
    '“x y”',
    '(no name)',
    'x',
  ])
})
