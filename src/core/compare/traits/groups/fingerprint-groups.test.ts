import { expect, test } from 'vitest'
import { cubeOf } from '../../../../../tests/solids.ts'
import { createContentHash } from '../../../base/bytes/hash.ts'
import type { Mesh } from '../../../scene/mesh.ts'
import { addNamedSets } from './fingerprint-groups.ts'

const printOf = (names: string[], sets: number[][], faceSets: number[]): string => {
  const hash = createContentHash()
  const mesh: Mesh = cubeOf({ groups: { names, sets, faceSets: Int32Array.from(faceSets) } })
  addNamedSets(hash, mesh)
  return hash.digest()
}

test('a name says which group it is; numbers and unused ones say nothing', () => {
  const print = printOf(['lid', 'base'], [[0], [0, 1]], [0, 0, 1, 1, -1, -1])
  expect(printOf(['base', 'lid', 'spare'], [[2], [1, 0], [1]], [2, 2, 1, 1, -1, -1])).toBe(print)
  expect(printOf(['cap', 'base'], [[0], [0, 1]], [0, 0, 1, 1, -1, -1])).not.toBe(print)
  expect(printOf(['lid', 'base'], [[0], [0]], [0, 0, 1, 1, -1, -1])).not.toBe(print)
  expect(printOf(['lid', 'base'], [[0], [0, 1]], [0, 1, 1, 1, -1, -1])).not.toBe(print)
})
