import { tryProblems } from '../../../../tests/checks.ts'
import { cubeOf, moved, scaled, withNodes } from '../../../../tests/solids.ts'
import { one } from '../../../../tests/check-shapes.ts'

tryProblems('transforms', {
  negative: {
    bad: withNodes(one(cubeOf()), () => ({ local: scaled(-1, 1, 1) })),
    count: 1,
    near: withNodes(one(cubeOf()), () => ({ local: scaled(-1, -1, 1) })),
  },
  uneven: {
    bad: withNodes(one(cubeOf()), () => ({ local: scaled(1, 2, 1) })),
    count: 1,
    near: withNodes(one(cubeOf()), () => ({ local: scaled(2, 2, 2) })),
  },
  unbaked: {
    bad: withNodes(one(cubeOf()), () => ({ local: moved(0, 0, 1) })),
    count: 1,
    near: one(cubeOf()),
  },
})
