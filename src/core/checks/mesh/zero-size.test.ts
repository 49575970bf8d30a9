import { tryProblems } from '../../../../tests/checks.ts'
import { meshOf } from '../../../../tests/solids.ts'
import { one, SQUARE } from '../../../../tests/check-shapes.ts'

tryProblems('zero-size', {
  faces: {
    bad: one(
      meshOf(
        [...SQUARE, [2, 0, 0]],
        [
          [0, 1, 2, 3],
          [0, 1, 4],
        ],
      ),
    ),
    count: 1,
    near: one(
      meshOf(
        [...SQUARE, [2, 1e-5, 0]],
        [
          [0, 1, 2, 3],
          [0, 1, 4],
        ],
      ),
    ),
  },
  edges: {
    bad: one(
      meshOf(
        [...SQUARE, [1, 0, 0], [2, 0, 0], [2, 0, -1]],
        [
          [0, 1, 4, 2, 3],
          [4, 5, 6, 2],
        ],
      ),
    ),
    count: 1,
    near: one(
      meshOf(
        [...SQUARE, [1, 0, -0.001], [2, 0, 0], [2, 0, -1]],
        [
          [0, 1, 4, 2, 3],
          [4, 5, 6, 2],
        ],
      ),
    ),
  },
})
