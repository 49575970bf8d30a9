import { tryProblems } from '../../../../tests/checks.ts'
import { sceneOf } from '../../../../tests/solids.ts'
import { one, square } from '../../../../tests/check-shapes.ts'

tryProblems('no-root', {
  scattered: { bad: sceneOf([square(), square()]), count: 2, near: one(square()) },
})
