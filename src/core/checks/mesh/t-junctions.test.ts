import { tryProblems } from '../../../../tests/checks.ts'
import { meshOf } from '../../../../tests/solids.ts'
import { one, SQUARE } from '../../../../tests/check-shapes.ts'

tryProblems('t-junctions', {
  junction: {
    bad: one(
      meshOf(
        [...SQUARE, [1, 0, -0.4], [2, 0, -0.4], [2, 0, -1]],
        [
          [0, 1, 2, 3],
          [4, 5, 6, 2],
        ],
      ),
    ),
    count: 1,
    near: one(
      meshOf(
        [...SQUARE, [1.01, 0, -0.4], [2, 0, -0.4], [2, 0, -1]],
        [
          [0, 1, 2, 3],
          [4, 5, 6, 2],
        ],
      ),
    ),
  },
})
