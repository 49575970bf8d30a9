import { tryProblems } from '../../../../tests/checks.ts'
import { one, grid3 } from '../../../../tests/check-shapes.ts'

tryProblems('inexpressible-hard-edges', {
  inside: {
    bad: one(grid3({ smoothing: { kind: 'edges', hardEdgePoints: Uint32Array.of(5, 6) } })),
    count: 1,
    near: one(grid3({ smoothing: { kind: 'edges', hardEdgePoints: Uint32Array.of(4, 5, 5, 6, 6, 7) } })),
  },
})
