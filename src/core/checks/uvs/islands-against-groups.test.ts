import { tryProblems } from '../../../../tests/checks.ts'
import { sharedUvs, uvsOf } from '../../../../tests/solids.ts'
import { one, pair, cellUvs } from '../../../../tests/check-shapes.ts'

tryProblems('islands-against-groups', {
  mixed: {
    bad: one(
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
        groups: { names: ['a', 'b'], sets: [[0], [1]], faceSets: Int32Array.of(0, 1) },
      }),
    ),
    count: 1,
    near: one(
      pair(true, 0, {
        uvSets: [uvsOf([...cellUvs(0, 0, 0.4), ...cellUvs(0.5, 0, 0.4)])],
        groups: { names: ['a', 'b'], sets: [[0], [1]], faceSets: Int32Array.of(0, 1) },
      }),
    ),
  },
  spread: {
    bad: one(
      pair(true, 0, {
        uvSets: [uvsOf([...cellUvs(0, 0, 0.4), ...cellUvs(0.5, 0, 0.4)])],
        groups: { names: ['a'], sets: [[0]], faceSets: Int32Array.of(0, 0) },
      }),
    ),
    count: 1,
    near: one(
      pair(true, 0, {
        uvSets: [uvsOf([...cellUvs(0, 0, 0.4), ...cellUvs(0.5, 0, 0.4)])],
        groups: { names: ['a', 'b'], sets: [[0], [1]], faceSets: Int32Array.of(0, 1) },
      }),
    ),
  },
})
