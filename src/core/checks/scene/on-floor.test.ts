import { tryProblems } from '../../../../tests/checks.ts'
import { cubeOf } from '../../../../tests/solids.ts'
import { one } from '../../../../tests/check-shapes.ts'

tryProblems('on-floor', {
  floats: {
    bad: one(cubeOf({}, 1, [0, 0.5, 0])),
    count: 1,
    near: one(cubeOf({}, 1, [0, 0.0005, 0])),
  },
  sinks: { bad: one(cubeOf({}, 1, [0, -0.5, 0])), count: 1, near: one(cubeOf()) },
})
