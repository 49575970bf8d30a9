import { tryProblems } from '../../../../tests/checks.ts'
import { uvsOf } from '../../../../tests/solids.ts'
import { one, square, pair, cellUvs } from '../../../../tests/check-shapes.ts'

tryProblems('uv-stretch', {
  area: {
    bad: one(pair(true, 0, { uvSets: [uvsOf([...cellUvs(0, 0, 0.1), ...cellUvs(0.3, 0.3, 0.6)])] })),
    count: 1,
    near: one(pair(true, 0, { uvSets: [uvsOf([...cellUvs(0, 0, 0.4), ...cellUvs(0.5, 0.5, 0.5)])] })),
  },
  angle: {
    bad: one(
      square({
        uvSets: [
          uvsOf([
            [0, 0],
            [1, 0],
            [1, 0.3],
            [0, 0.3],
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
            [1, 0],
            [1, 0.6],
            [0, 0.6],
          ]),
        ],
      }),
    ),
  },
})
