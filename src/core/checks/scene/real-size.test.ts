import { tryProblems } from '../../../../tests/checks.ts'
import { cubeOf } from '../../../../tests/solids.ts'
import { one } from '../../../../tests/check-shapes.ts'

tryProblems('real-size', {
  known: {
    bad: one(cubeOf({}, 100)),
    count: 1,
    near: one(cubeOf({}, 175.2)),
    settings: { heightMeters: 1.75 },
  },
  odd: { bad: one(cubeOf({}, 30000)), count: 1, near: one(cubeOf({}, 15000)) },
})
