import { tryProblems } from '../../../../tests/checks.ts'
import { meshOf } from '../../../../tests/solids.ts'
import { one } from '../../../../tests/check-shapes.ts'

tryProblems('bent-polygons', {
  concave: {
    bad: one(
      meshOf(
        [
          [0, 0, 0],
          [4, 0, 0],
          [1, 0, -1],
          [0, 0, -4],
        ],
        [[0, 1, 2, 3]],
      ),
    ),
    count: 1,
    near: one(
      meshOf(
        [
          [0, 0, 0],
          [4, 0, 0],
          [2.1, 0, -2.1],
          [0, 0, -4],
        ],
        [[0, 1, 2, 3]],
      ),
    ),
  },
  bent: {
    bad: one(
      meshOf(
        [
          [0, 0, 0],
          [1, 0, 0],
          [1, 0.8, -1],
          [0, 0, -1],
        ],
        [[0, 1, 2, 3]],
      ),
    ),
    count: 1,
    near: one(
      meshOf(
        [
          [0, 0, 0],
          [1, 0, 0],
          [1, 0.2, -1],
          [0, 0, -1],
        ],
        [[0, 1, 2, 3]],
      ),
    ),
  },
})
