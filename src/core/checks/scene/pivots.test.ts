import { tryProblems } from '../../../../tests/checks.ts'
import { cubeOf, moved, withNodes } from '../../../../tests/solids.ts'
import { one } from '../../../../tests/check-shapes.ts'

tryProblems('pivots', {
  away: {
    bad: withNodes(one(cubeOf({}, 1, [5, 0, 0])), () => ({ local: moved(0, 0, 1) })),
    count: 1,
    near: withNodes(one(cubeOf({}, 1, [1, 0, 0])), () => ({ local: moved(0, 0, 1) })),
  },
})
