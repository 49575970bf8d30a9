import { tryProblems } from '../../../../tests/checks.ts'
import { CUBE_FACES, CUBE_POINTS, cubeOf, meshOf } from '../../../../tests/solids.ts'
import { turnFaces } from '../../mesh/orientation/turn-faces.ts'
import { one, moebius } from '../../../../tests/check-shapes.ts'

tryProblems('turned-faces', {
  turned: {
    bad: one(
      meshOf(
        CUBE_POINTS,
        CUBE_FACES.map((face, at) => (at === 2 ? [...face].reverse() : face)),
      ),
    ),
    count: 1,
    near: one(cubeOf()),
  },
  inward: { bad: one(turnFaces(cubeOf())), count: 1, near: one(cubeOf()) },
  onesided: { bad: one(moebius(true)), count: 1, near: one(moebius(false)) },
})
