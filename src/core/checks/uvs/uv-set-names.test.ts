import { tryProblems } from '../../../../tests/checks.ts'
import { uvsOf } from '../../../../tests/solids.ts'
import { one, square, unit } from '../../../../tests/check-shapes.ts'

tryProblems('uv-set-names', {
  several: {
    bad: one(square({ uvSets: [uvsOf(unit, 'a'), uvsOf(unit, 'b')] })),
    count: 2,
    near: one(square({ uvSets: [uvsOf(unit, 'a')] })),
  },
  doubled: {
    bad: one(square({ uvSets: [uvsOf(unit, 'a'), uvsOf(unit, 'a')] })),
    count: 2,
    near: one(square({ uvSets: [uvsOf(unit, 'a'), uvsOf(unit, 'A')] })),
  },
  unknown: {
    bad: one(square({ uvSets: [uvsOf(unit, 'a')] })),
    count: 1,
    near: one(square({ uvSets: [uvsOf(unit, 'a')] })),
    settings: { uvSetNames: ['base'] },
    nearSettings: { uvSetNames: ['base', 'a'] },
  },
})
