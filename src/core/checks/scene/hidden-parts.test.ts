import { tryProblems } from '../../../../tests/checks.ts'
import { sceneOf, withNodes } from '../../../../tests/solids.ts'
import { square } from '../../../../tests/check-shapes.ts'

tryProblems('hidden-parts', {
  hidden: {
    bad: withNodes(sceneOf([square(), square()]), (_node, at) => ({ visible: at === 0 })),
    count: 1,
    near: sceneOf([square(), square()]),
  },
})
