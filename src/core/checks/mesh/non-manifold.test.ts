import { tryProblems } from '../../../../tests/checks.ts'
import { meshOf } from '../../../../tests/solids.ts'
import { one, SQUARE } from '../../../../tests/check-shapes.ts'

tryProblems('non-manifold', {
  edges: {
    bad: one(
      meshOf(
        [...SQUARE, [0, 1, 0], [1, 1, 0], [0, -1, 0], [1, -1, 0]],
        [
          [0, 1, 2, 3],
          [0, 1, 5, 4],
          [0, 1, 7, 6],
        ],
      ),
    ),
    count: 1,
    near: one(
      meshOf(
        [...SQUARE, [0, 1, 0], [1, 1, 0]],
        [
          [0, 1, 2, 3],
          [1, 0, 4, 5],
        ],
      ),
    ),
  },
  points: {
    bad: one(
      meshOf(
        [...SQUARE, [2, 0, -1], [2, 0, -2], [1, 0, -2]],
        [
          [0, 1, 2, 3],
          [2, 4, 5, 6],
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
