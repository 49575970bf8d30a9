import { tryProblems } from '../../../../tests/checks.ts'
import { uvsOf } from '../../../../tests/solids.ts'
import { one, pair, cellUvs } from '../../../../tests/check-shapes.ts'

tryProblems('texel-density', {
  spread: {
    bad: one(pair(true, 0, { uvSets: [uvsOf([...cellUvs(0, 0, 0.2), ...cellUvs(0.3, 0.3, 0.6)])] })),
    count: 1,
    near: one(pair(true, 0, { uvSets: [uvsOf([...cellUvs(0, 0, 0.35), ...cellUvs(0.4, 0.4, 0.6)])] })),
  },
})
