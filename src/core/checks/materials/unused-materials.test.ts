import { tryProblems } from '../../../../tests/checks.ts'
import { materialOf, sceneOf } from '../../../../tests/solids.ts'
import { square, pair } from '../../../../tests/check-shapes.ts'

tryProblems('unused-materials', {
  unused: {
    bad: sceneOf([square({ faceMaterials: Int32Array.of(1) })], {
      materials: [materialOf('a'), materialOf('b')],
    }),
    count: 1,
    near: sceneOf([pair(true, 0, { faceMaterials: Int32Array.of(1, 0) })], {
      materials: [materialOf('a'), materialOf('b')],
    }),
  },
})
