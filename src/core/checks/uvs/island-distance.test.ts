import { tryProblems } from '../../../../tests/checks.ts'
import { uvsOf } from '../../../../tests/solids.ts'
import { one, pair, cellUvs } from '../../../../tests/check-shapes.ts'

tryProblems('island-distance', {
  close: {
    bad: one(pair(true, 0, { uvSets: [uvsOf([...cellUvs(0, 0, 0.4), ...cellUvs(0.401, 0, 0.4)])] })),
    count: 1,
    near: one(pair(true, 0, { uvSets: [uvsOf([...cellUvs(0, 0, 0.4), ...cellUvs(0.403, 0, 0.4)])] })),
  },
})
