import { tryProblems } from '../../../../tests/checks.ts'
import { materialOf, sceneOf, withNodes } from '../../../../tests/solids.ts'
import { one, square } from '../../../../tests/check-shapes.ts'

tryProblems('part-names', {
  empty: {
    bad: withNodes(one(square()), () => ({ name: ' ' })),
    count: 1,
    near: withNodes(one(square()), () => ({ name: 'x' })),
  },
  doubled: {
    bad: withNodes(sceneOf([square(), square()]), (_node, at) => ({ name: at ? 'Eye' : 'eye' })),
    count: 2,
    near: withNodes(sceneOf([square(), square()]), (_node, at) => ({ name: at ? 'eye_2' : 'eye' })),
  },
  characters: {
    bad: withNodes(one(square()), () => ({ name: 'Flügel: links' })),
    count: 1,
    near: withNodes(one(square()), () => ({ name: 'Fluegel_links-1.0' })),
  },
  long: {
    bad: withNodes(one(square()), () => ({ name: 'a'.repeat(64) })),
    count: 1,
    near: withNodes(one(square()), () => ({ name: 'a'.repeat(63) })),
  },
  materials: {
    bad: sceneOf([square()], { materials: [materialOf('red paint')] }),
    count: 1,
    near: sceneOf([square()], { materials: [materialOf('red_paint')] }),
  },
})
