import { tryProblems } from '../../../../tests/checks.ts'
import { CUBE_FACES, CUBE_POINTS, cubeOf, meshOf } from '../../../../tests/solids.ts'
import { one } from '../../../../tests/check-shapes.ts'

tryProblems('open-borders', {
  open: {
    bad: one(
      meshOf(
        [...CUBE_POINTS, ...[2, 3, 7, 6].map((point) => CUBE_POINTS[point]!)],
        CUBE_FACES.map((face, at) => (at === 4 ? [8, 9, 10, 11] : face)),
      ),
    ),
    count: 2,
    near: one(cubeOf()),
  },
})
