import { tryProblems } from '../../../../tests/checks.ts'
import { uvsOf } from '../../../../tests/solids.ts'
import { one, square, cellUvs } from '../../../../tests/check-shapes.ts'

tryProblems('outside-tiles', {
  outside: {
    bad: one(square({ uvSets: [uvsOf(cellUvs(1, 0, 0.9))] })),
    count: 1,
    near: one(square({ uvSets: [uvsOf(cellUvs(1, 0, 0.9))] })),
    nearSettings: { tiles: true },
  },
  across: {
    bad: one(square({ uvSets: [uvsOf(cellUvs(0.5, 0, 0.6))] })),
    count: 1,
    near: one(square({ uvSets: [uvsOf(cellUvs(0.4, 0, 0.6))] })),
  },
})
