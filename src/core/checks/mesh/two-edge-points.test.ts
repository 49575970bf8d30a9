import { tryProblems } from '../../../../tests/checks.ts'
import { meshOf } from '../../../../tests/solids.ts'
import { one, SQUARE } from '../../../../tests/check-shapes.ts'

tryProblems('two-edge-points', {
  between: {
    bad: one(
      meshOf(
        [...SQUARE, [1, 0, -0.5], [2, 0, 0], [2, 0, -1]],
        [
          [0, 1, 4, 2, 3],
          [1, 5, 6, 2, 4],
        ],
      ),
    ),
    count: 1,
    near: one(
      meshOf(
        [...SQUARE, [2, 0, 0], [2, 0, -1]],
        [
          [0, 1, 2, 3],
          [1, 4, 5, 2],
        ],
      ),
    ),
  },
})
