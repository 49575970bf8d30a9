import { tryProblems } from '../../../../tests/checks.ts'
import { meshOf } from '../../../../tests/solids.ts'
import { one, SQUARE, square } from '../../../../tests/check-shapes.ts'

tryProblems('not-quads', {
  triangles: {
    bad: one(
      meshOf(SQUARE, [
        [0, 1, 2],
        [0, 2, 3],
      ]),
    ),
    count: 2,
    near: one(square()),
  },
  ngons: {
    bad: one(meshOf([...SQUARE, [-0.5, 0, -0.5]], [[0, 1, 2, 3, 4]])),
    count: 1,
    near: one(square()),
  },
})
