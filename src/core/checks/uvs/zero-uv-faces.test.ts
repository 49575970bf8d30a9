import { tryProblems } from '../../../../tests/checks.ts'
import { uvsOf } from '../../../../tests/solids.ts'
import { one, square } from '../../../../tests/check-shapes.ts'

tryProblems('zero-uv-faces', {
  faces: {
    bad: one(
      square({
        uvSets: [
          uvsOf([
            [0, 0],
            [0.5, 0],
            [1, 0],
            [0.2, 0],
          ]),
        ],
      }),
    ),
    count: 1,
    near: one(
      square({
        uvSets: [
          uvsOf([
            [0, 0],
            [0.5, 0],
            [1, 0.001],
            [0.2, 0.001],
          ]),
        ],
      }),
    ),
  },
  corners: {
    bad: one(
      square({
        uvSets: [
          uvsOf([
            [0, 0],
            [0.5, 0],
            [1, 0],
            [0.5, 0.5],
          ]),
        ],
      }),
    ),
    count: 1,
    near: one(
      square({
        uvSets: [
          uvsOf([
            [0, 0],
            [0.5, -0.01],
            [1, 0],
            [0.5, 0.5],
          ]),
        ],
      }),
    ),
  },
})
