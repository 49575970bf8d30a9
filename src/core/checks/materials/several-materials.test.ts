import { tryProblems } from '../../../../tests/checks.ts'
import { materialOf, sceneOf } from '../../../../tests/solids.ts'
import { square, pair } from '../../../../tests/check-shapes.ts'

tryProblems('several-materials', {
  several: {
    bad: sceneOf([pair(true, 0, { faceMaterials: Int32Array.of(1, 0) })], {
      materials: [materialOf('a'), materialOf('b')],
    }),
    count: 2,
    near: sceneOf([square({ faceMaterials: Int32Array.of(0) })], {
      materials: [materialOf('a'), materialOf('b')],
    }),
    settings: { oneMaterial: true },
  },
})
