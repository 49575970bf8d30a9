import { tryProblems } from '../../../../tests/checks.ts'
import { sceneOf } from '../../../../tests/solids.ts'
import { asymmetric, mirroredTwin, movedTwin } from '../../../../tests/check-shapes.ts'

tryProblems('twins', {
  moved: {
    bad: sceneOf([asymmetric(), movedTwin(0)]),
    count: 1,
    near: sceneOf([asymmetric(), movedTwin(0.01)]),
  },
  mirrored: {
    bad: sceneOf([asymmetric(), mirroredTwin()]),
    count: 1,
    near: sceneOf([asymmetric(), asymmetric({ points: asymmetric().points.map((value) => value * 1.1) })]),
  },
})
