import { tryProblems } from '../../../../tests/checks.ts'
import { materialOf, sceneOf, uvsOf } from '../../../../tests/solids.ts'
import { one, square, unit, pair, cellUvs } from '../../../../tests/check-shapes.ts'

tryProblems(
  'uv-overlaps',
  {
    own: {
      bad: one(pair(true, 0, { uvSets: [uvsOf([...cellUvs(0, 0, 0.5), ...cellUvs(0.4, 0, 0.5)])] })),
      count: 2,
      near: one(pair(true, 0, { uvSets: [uvsOf([...cellUvs(0, 0, 0.5), ...cellUvs(0.5, 0, 0.5)])] })),
    },
    crossed: {
      // one corner pulled across the side opposite
      bad: one(square({ uvSets: [uvsOf([[0, 0], [1, 0], [0.2, -0.1], [0, 1]])] })), // prettier-ignore
      count: 1,
      // hollow, and no more
      near: one(square({ uvSets: [uvsOf([[0, 0], [1, 0], [0.2, 0.1], [0, 1]])] })), // prettier-ignore
    },
    between: {
      bad: sceneOf([square({ uvSets: [uvsOf(unit)] }), square({ uvSets: [uvsOf(cellUvs(0.5, 0.5, 0.4))] })]),
      count: 1,
      near: sceneOf(
        [
          square({ uvSets: [uvsOf(unit)], faceMaterials: Int32Array.of(0) }),
          square({ uvSets: [uvsOf(unit)], faceMaterials: Int32Array.of(1) }),
        ],
        { materials: [materialOf('a'), materialOf('b')] },
      ),
    },
  },
  ['unfinished'],
)
