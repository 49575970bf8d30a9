import { tryProblems } from '../../../../tests/checks.ts'
import { sharedUvs, uvsOf } from '../../../../tests/solids.ts'
import { one, groups, pair, cellUvs } from '../../../../tests/check-shapes.ts'

tryProblems('seams-and-hard-edges', {
  unseamed: {
    bad: one(
      pair(true, 0, {
        smoothing: groups(1, 2),
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
    count: 1,
    near: one(
      pair(true, 0, {
        smoothing: groups(1, 2),
        uvSets: [uvsOf([...cellUvs(0, 0, 0.4), ...cellUvs(0.5, 0, 0.4)])],
      }),
    ),
  },
  soft: {
    bad: one(
      pair(true, 0, {
        smoothing: groups(1, 1),
        uvSets: [uvsOf([...cellUvs(0, 0, 0.4), ...cellUvs(0.5, 0, 0.4)])],
      }),
    ),
    count: 1,
    near: one(
      pair(true, 0, {
        smoothing: groups(1, 2),
        uvSets: [uvsOf([...cellUvs(0, 0, 0.4), ...cellUvs(0.5, 0, 0.4)])],
      }),
    ),
  },
})
