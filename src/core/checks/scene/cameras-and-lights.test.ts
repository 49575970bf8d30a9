import { tryProblems } from '../../../../tests/checks.ts'
import { cameraScene } from '../../../../tests/check-shapes.ts'

tryProblems('cameras-and-lights', {
  travel: { bad: cameraScene(2), count: 2, near: cameraScene(0) },
})
