import { tryProblems } from '../../../../tests/checks.ts'
import { boxed } from '../../../../tests/check-shapes.ts'

tryProblems(
  'hidden-faces',
  {
    hidden: { bad: boxed(false), count: 6, near: boxed(true) },
  },
  ['unfinished'],
)
