import { tryProblems } from '../../../../tests/checks.ts'
import { one, groups, pair, normalsOf, tilt } from '../../../../tests/check-shapes.ts'

tryProblems('unused-smoothing', {
  none: {
    bad: one(pair(true)),
    count: 2,
    near: one(pair(true, 0, { normals: normalsOf(...Array.from({ length: 8 }, () => tilt(0))) })),
  },
  zero: {
    bad: one(pair(true, 0, { smoothing: groups(1, 0) })),
    count: 1,
    near: one(pair(true, 0, { smoothing: groups(0, 0) })),
  },
  lone: {
    bad: one(pair(true, 0, { smoothing: groups(1, 2) })),
    count: 2,
    near: one(pair(true, 0, { smoothing: groups(3, 3) })),
  },
})
