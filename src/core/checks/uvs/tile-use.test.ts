import { tryProblems } from '../../../../tests/checks.ts'
import { uvsOf } from '../../../../tests/solids.ts'
import { one, square, cellUvs } from '../../../../tests/check-shapes.ts'

tryProblems('tile-use', {
  empty: {
    bad: one(square({ uvSets: [uvsOf(cellUvs(0, 0, 0.5))] })),
    count: 25,
    near: one(square({ uvSets: [uvsOf(cellUvs(0, 0, 0.7))] })),
  },
})
