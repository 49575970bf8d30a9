import { tryProblems } from '../../../../tests/checks.ts'
import { meshOf } from '../../../../tests/solids.ts'
import { one, SQUARE, longQuad } from '../../../../tests/check-shapes.ts'

tryProblems('uneven-polygons', {
  long: { bad: one(longQuad(20)), count: 1, near: one(longQuad(15)) },
  uneven: {
    bad: one(
      meshOf(
        [...SQUARE, [60, 0, 0], [60, 0, -1]],
        [
          [0, 1, 2, 3],
          [1, 4, 5, 2],
        ],
      ),
    ),
    count: 2,
    near: one(
      meshOf(
        [...SQUARE, [30, 0, 0], [30, 0, -1]],
        [
          [0, 1, 2, 3],
          [1, 4, 5, 2],
        ],
      ),
    ),
  },
})
