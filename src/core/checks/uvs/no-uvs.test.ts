import { tryProblems } from '../../../../tests/checks.ts'
import { sharedUvs, uvsOf } from '../../../../tests/solids.ts'
import { one, square, unit, pair } from '../../../../tests/check-shapes.ts'

tryProblems('no-uvs', {
  none: { bad: one(square()), count: 1, near: one(square({ uvSets: [uvsOf(unit)] })) },
  some: {
    bad: one(pair(true, 0, { uvSets: [sharedUvs(unit, [0, 1, 2, 3, -1, -1, -1, -1])] })),
    count: 1,
    near: one(pair(true, 0, { uvSets: [sharedUvs(unit, [0, 1, 2, 3, 0, 1, 2, 3])] })),
  },
})
