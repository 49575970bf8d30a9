import { tryProblems } from '../../../../tests/checks.ts'
import { one, pair } from '../../../../tests/check-shapes.ts'

tryProblems('unwelded-points', {
  coincident: { bad: one(pair(false)), count: 2, near: one(pair(false, 0.001)) },
})
