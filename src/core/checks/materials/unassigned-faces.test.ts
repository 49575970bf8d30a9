import { tryProblems } from '../../../../tests/checks.ts'
import { materialOf, sceneOf } from '../../../../tests/solids.ts'
import { one, square, pair } from '../../../../tests/check-shapes.ts'

tryProblems('unassigned-faces', {
  some: {
    bad: sceneOf([pair(true, 0, { faceMaterials: Int32Array.of(0, -1) })], { materials: [materialOf('a')] }),
    count: 1,
    near: sceneOf([pair(true, 0, { faceMaterials: Int32Array.of(0, 0) })], { materials: [materialOf('a')] }),
  },
  all: {
    bad: one(square()),
    count: 1,
    near: sceneOf([square({ faceMaterials: Int32Array.of(0) })], { materials: [materialOf('a')] }),
  },
})
