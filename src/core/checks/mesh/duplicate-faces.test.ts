import { tryProblems } from '../../../../tests/checks.ts'
import { meshOf } from '../../../../tests/solids.ts'
import { one, SQUARE } from '../../../../tests/check-shapes.ts'

tryProblems('duplicate-faces', {
  doubled: {
    bad: one(
      meshOf(SQUARE, [
        [0, 1, 2, 3],
        [2, 3, 0, 1],
      ]),
    ),
    count: 1,
    near: one(
      meshOf(
        [...SQUARE, [0, 0, 1]],
        [
          [0, 1, 2, 3],
          [0, 4, 1],
        ],
      ),
    ),
  },
})
