import { tryProblems } from '../../../../tests/checks.ts'
import { cubeOf } from '../../../../tests/solids.ts'
import { one, square } from '../../../../tests/check-shapes.ts'

tryProblems('unit-and-axes', {
  unknown: {
    bad: { ...one(square()), space: { ...one(square()).space, unitMeters: null } },
    count: 1,
    near: one(square()),
  },
  unit: {
    bad: one(square()),
    count: 1,
    near: one(square()),
    settings: { unitMeters: 1 },
    nearSettings: { unitMeters: 0.01 },
  },
  axis: {
    bad: one(cubeOf()),
    count: 1,
    near: one(cubeOf()),
    settings: { upAxis: 'z' },
    nearSettings: { upAxis: 'y' },
  },
  mirrored: {
    bad: { ...one(square()), space: { ...one(square()).space, handedness: 'left' } },
    count: 1,
    near: one(square()),
  },
})
