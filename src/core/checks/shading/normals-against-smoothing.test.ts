import { tryProblems } from '../../../../tests/checks.ts'
import { one, groups, square, normalsOf, tilt } from '../../../../tests/check-shapes.ts'

tryProblems('normals-against-smoothing', {
  differ: {
    bad: one(square({ smoothing: groups(1), normals: normalsOf(tilt(0), tilt(4), tilt(0), tilt(0)) })),
    count: 1,
    near: one(square({ smoothing: groups(1), normals: normalsOf(tilt(0), tilt(2), tilt(0), tilt(0)) })),
  },
  none: {
    bad: one(square({ smoothing: groups(1), normals: normalsOf(tilt(0), [0, 0, 0], tilt(0), tilt(0)) })),
    count: 1,
    near: one(square({ smoothing: groups(1), normals: normalsOf(tilt(0), [0, 0.001, 0], tilt(0), tilt(0)) })),
  },
})
