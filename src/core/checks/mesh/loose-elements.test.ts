import { tryProblems } from '../../../../tests/checks.ts'
import { meshOf } from '../../../../tests/solids.ts'
import { EMPTY_MESH } from '../../scene/mesh.ts'
import { one, SQUARE, square } from '../../../../tests/check-shapes.ts'

tryProblems('loose-elements', {
  points: {
    bad: one(meshOf([...SQUARE, [3, 0, 0]], [[0, 1, 2, 3]])),
    count: 1,
    near: one(square()),
  },
  edges: {
    bad: one(
      square({
        lines: {
          offsets: Uint32Array.of(0, 3),
          points: Uint32Array.of(0, 1, 2),
          uvs: Int32Array.of(-1, -1, -1),
        },
      }),
    ),
    count: 2,
    near: one({ ...EMPTY_MESH, points: new Float64Array(9), pointElements: Uint32Array.of(0, 1, 2) }),
  },
})
