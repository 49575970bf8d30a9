/** Where parts stand: the same within what taking a matrix apart and together costs, at any distance from the origin. */
import { describe, expect, test } from 'vitest'
import { cubeOf, sceneOf } from '../../../../../tests/solids.ts'
import type { Matrix } from '../../../base/math/matrix.ts'
import type { Scene } from '../../../scene/scene.ts'
import { compareScenes } from '../../compare-scenes.ts'

const standing = (local: Matrix, visible = true): Scene => {
  const scene = sceneOf([{ ...cubeOf(), name: 'cube' }])
  return {
    ...scene,
    format: 'fbx',
    nodes: scene.nodes.map((node) => (node.mesh >= 0 ? { ...node, local, visible } : node)),
  }
}
const movedTo = (x: number, by = 0): Matrix => [1, by, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, 0, 0, 1]
const told = (from: Matrix, to: Matrix, isSeen = true) =>
  compareScenes(standing(from), standing(to, isSeen)).rows[0]!.cells.transforms!

describe.each([1, 5, 4000, 1e7])('%d from the origin', (x) => {
  // the largest entry says how far the others may differ
  test.each([0, 0.5, 0.99])('off by %d of what it may', (share) => {
    const { state, deviation } = told(movedTo(x), movedTo(x, share * 1e-9 * x))
    expect(state).toBe(share ? 'within' : 'same')
    expect(deviation).toBeCloseTo(share * 1e-9 * x, 12)
  })
  test('off by a little more than it may', () => {
    expect(told(movedTo(x), movedTo(x, 1.1e-9 * x))).toMatchObject({ state: 'changed', note: 'moved' })
  })
})

test('exactly as much as it may is within, and entries below 1 may differ by no less', () => {
  expect(told(movedTo(4), movedTo(4, 4e-9)).state).toBe('within')
  expect(told(movedTo(0.25), movedTo(0.25, 1e-9)).state).toBe('within')
  expect(told(movedTo(0.25), movedTo(0.25, 1.01e-9)).state).toBe('changed')
})

test('hidden where it stood is told, and moved before that', () => {
  expect(told(movedTo(3), movedTo(3), false)).toMatchObject({ note: 'visibility-changed', parameters: { from: 'shown', to: 'hidden' } }) // prettier-ignore
  expect(told(movedTo(3), movedTo(4), false)).toMatchObject({ note: 'moved' })
})
