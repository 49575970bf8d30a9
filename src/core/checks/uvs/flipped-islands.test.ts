import { tryProblems } from '../../../../tests/checks.ts'
import { sharedUvs, uvsOf } from '../../../../tests/solids.ts'
import { one, square, unit, pair } from '../../../../tests/check-shapes.ts'

tryProblems('flipped-islands', {
  flipped: {
    bad: one(square({ uvSets: [uvsOf([...unit].reverse())] })),
    count: 1,
    near: one(square({ uvSets: [uvsOf(unit)] })),
  },
  folded: {
    bad: one(
      pair(true, 0, {
        uvSets: [
          sharedUvs(
            [
              [0, 0],
              [0.5, 0],
              [0.5, 0.5],
              [0, 0.5],
              [0.1, 0],
              [0.1, 0.5],
            ],
            [0, 1, 2, 3, 1, 4, 5, 2],
          ),
        ],
      }),
    ),
    count: 1,
    near: one(
      pair(true, 0, {
        uvSets: [
          sharedUvs(
            [
              [0, 0],
              [0.5, 0],
              [0.5, 0.5],
              [0, 0.5],
              [0.9, 0],
              [0.9, 0.5],
            ],
            [0, 1, 2, 3, 1, 4, 5, 2],
          ),
        ],
      }),
    ),
  },
})
