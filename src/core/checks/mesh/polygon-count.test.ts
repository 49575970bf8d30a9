import { tryProblems } from '../../../../tests/checks.ts'
import { cubeOf } from '../../../../tests/solids.ts'
import { one } from '../../../../tests/check-shapes.ts'

tryProblems('polygon-count', {
  over: {
    bad: one(cubeOf()),
    count: 12,
    near: one(cubeOf()),
    settings: { triangleBudget: 11 },
    nearSettings: { triangleBudget: 12 },
  },
})
