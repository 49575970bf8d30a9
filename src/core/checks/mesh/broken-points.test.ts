import { tryProblems } from '../../../../tests/checks.ts'
import { meshOf, sceneOf } from '../../../../tests/solids.ts'
import { EMPTY_MESH } from '../../scene/mesh.ts'
import { one, SQUARE, square } from '../../../../tests/check-shapes.ts'

tryProblems('broken-points', {
  infinite: {
    bad: one(
      meshOf(
        [...SQUARE, [NaN, 0, 0]],
        [
          [0, 1, 2, 3],
          [0, 1, 4],
        ],
      ),
    ),
    count: 1,
    near: one(
      meshOf(
        [...SQUARE, [1e300, 0, 0]],
        [
          [0, 1, 2, 3],
          [0, 1, 4],
        ],
      ),
    ),
  },
  empty: {
    bad: sceneOf([square(), EMPTY_MESH]),
    count: 1,
    near: sceneOf([
      square(),
      { ...EMPTY_MESH, points: new Float64Array(3), pointElements: Uint32Array.of(0) },
    ]),
  },
})
