import { tryProblems } from '../../../../tests/checks.ts'
import { one, groups, pair, folded } from '../../../../tests/check-shapes.ts'

tryProblems('shading-extremes', {
  hard: {
    bad: one(pair(true, 0, { smoothing: groups(1, 2) })),
    count: 1,
    near: one(folded(Math.PI / 2, { smoothing: groups(1, 2) })),
  },
  soft: {
    bad: one(folded(Math.PI / 2, { smoothing: groups(1, 1) })),
    count: 1,
    near: one(folded(Math.PI / 4, { smoothing: groups(1, 1) })),
  },
})
