import { expect, test } from 'vitest'
import { findingLines } from '../../src/cli/findings-text.ts'
import { collectMessages } from '../../src/core/base/messages/collector.ts'

test('a sentence that is said of many places stands there once, with how many they are', () => {
  const messages = collectMessages('a.stl')
  for (let line = 4; line < 104; line++) messages.add('file.commas', {}, line)
  messages.add('stl.few-numbers', {}, 9)
  expect(findingLines(messages.list())).toEqual([
    'info: a.stl, line 4 and 99 more: Numbers of the file have decimal commas, and were read as if they were points.',
    'error: a.stl, line 9: A corner has fewer than three numbers; those missing were read as 0.',
  ])
})

test('of sentences of one kind the first are listed, and how many more there are', () => {
  const messages = collectMessages('a.stl')
  for (let line = 1; line <= 5000; line++) messages.add('stl.number', { text: `x${line}` }, line)
  const lines = findingLines(messages.list())
  expect(lines).toHaveLength(21)
  expect(lines[0]).toContain('a.stl, line 1: A coordinate is not a finite number (“x1”)')
  expect(lines.at(-1)).toBe('error: a.stl: 4,980 more like these.')
})

test('the same sentence of two files, and of none', () => {
  const [one, other, none] = [collectMessages('a.stl'), collectMessages('b.stl'), collectMessages(null)]
  for (const messages of [one, other, none]) messages.add('file.empty')
  expect(findingLines([...one.list(), ...other.list(), ...none.list(), ...none.list()])).toEqual([
    'error: a.stl: The file is empty.',
    'error: b.stl: The file is empty.',
    'error: and 1 more: The file is empty.',
  ])
  expect(findingLines([])).toEqual([])
})
