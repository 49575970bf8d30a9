import { expect, test } from 'vitest'
import { findingText, runChecks } from '../run-checks.ts'
import { tryProblems } from '../../../../tests/checks.ts'
import { uvsOf } from '../../../../tests/solids.ts'
import { one, square, pair, cellUvs } from '../../../../tests/check-shapes.ts'

tryProblems('uv-stretch', {
  area: {
    bad: one(pair(true, 0, { uvSets: [uvsOf([...cellUvs(0, 0, 0.1), ...cellUvs(0.3, 0.3, 0.6)])] })),
    count: 1,
    near: one(pair(true, 0, { uvSets: [uvsOf([...cellUvs(0, 0, 0.4), ...cellUvs(0.5, 0.5, 0.5)])] })),
  },
  angle: {
    bad: one(
      square({
        uvSets: [
          uvsOf([
            [0, 0],
            [1, 0],
            [1, 0.3],
            [0, 0.3],
          ]),
        ],
      }),
    ),
    count: 1,
    near: one(
      square({
        uvSets: [
          uvsOf([
            [0, 0],
            [1, 0],
            [1, 0.6],
            [0, 0.6],
          ]),
        ],
      }),
    ),
  },
})

test('what has no room at all, or is drawn out to a line, is said to be the worst and not “1 times”', () => {
  const line = { uvSets: [uvsOf([...cellUvs(0, 0, 0.4), [0.5, 0.5], [0.9, 0.5], [0.9, 0.5], [0.5, 0.5]])] }
  const texts = runChecks(one(pair(true, 0, line)), { checks: ['uv-stretch'] }).map(findingText)
  expect(texts.join(' ')).not.toMatch(/worst 1 times|Infinity|NaN/)
  expect(texts.join(' ')).toMatch(/the worst (has none at all|is a line)/)
})
