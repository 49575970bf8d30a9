/** Where parts stand: the same within what taking a matrix apart and together costs, at any distance from the origin. */
import { describe, expect, test } from 'vitest'
import { cubeOf, sceneOf, turnedAbout } from '../../../../../tests/solids.ts'
import { chanceOf } from '../../../base/math/chance.ts'
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
const movedTo = (x: number, by = 0): Matrix => [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, by, 0, 1]
const scaledBy = (x: number, by = 0, place = 0): Matrix => [
  x,
  by,
  0,
  0,
  0,
  x,
  0,
  0,
  0,
  0,
  x,
  0,
  place,
  0,
  0,
  1,
]
const told = (from: Matrix, to: Matrix, isSeen = true) =>
  compareScenes(standing(from), standing(to, isSeen)).rows[0]!.cells.transforms!

describe.each([1, 5, 4000, 1e7])('%d from the origin', (x) => {
  // the largest coordinate says how far the others may differ
  test.each([0, 0.5, 0.99])('off by %d of what it may', (share) => {
    const { state, deviation } = told(movedTo(x), movedTo(x, share * 1e-6 * x))
    expect(state).toBe(share ? 'within' : 'same')
    expect(deviation).toBeCloseTo(share * 1e-6 * x, 9)
  })
  test('off by a little more than it may', () => {
    expect(told(movedTo(x), movedTo(x, 1.1e-6 * x))).toMatchObject({ state: 'changed', note: 'moved' })
  })
  test('however far it stands, it may not be turned by more', () => {
    expect(told(scaledBy(1, 0, x), scaledBy(1, 0.9e-6, x)).state).toBe('within')
    expect(told(scaledBy(1, 0, x), scaledBy(1, 1.1e-6, x))).toMatchObject({ state: 'changed', note: 'moved' })
  })
  test('however large it is, it may not be moved by more', () => {
    expect(told(scaledBy(x, 0, 0), scaledBy(x, 0, 0.9e-6)).state).toBe('within')
    expect(told(scaledBy(x, 0, 0), scaledBy(x, 0, 1.1e-6)).state).toBe('changed')
    expect(told(scaledBy(x, 0, 0), scaledBy(x, 0.9e-6 * x, 0)).state).toBe('within')
    expect(told(scaledBy(x, 0, 0), scaledBy(x, 1.1e-6 * x, 0)).state).toBe('changed')
  })
})

test('exactly as much as it may is within, and entries below 1 may differ by no less', () => {
  expect(told(movedTo(4), movedTo(4, 4e-6)).state).toBe('within')
  expect(told(movedTo(0.25), movedTo(0.25, 1e-6)).state).toBe('within')
  expect(told(movedTo(0.25), movedTo(0.25, 1.01e-6)).state).toBe('changed')
  expect(told(scaledBy(0.5), scaledBy(0.5, 1e-6)).state).toBe('within')
  expect(told(scaledBy(0.5), scaledBy(0.5, 1.01e-6)).state).toBe('changed')
})

test('any transform is the same in single precision', () => {
  for (let seed = 1; seed <= 200; seed++) {
    const chance = chanceOf(seed)
    const size = 10 ** (6 * chance() - 3)
    const axis = [0, 1, 2].map(() => chance() - 0.5)
    const turned = turnedAbout(axis, 360 * chance())
    const matrix = turned.map((value, at) => (at < 12 ? value * size : value))
    const place = [0, 1, 2].map(() => (chance() - 0.5) * 10 ** (8 * chance() - 3))
    const from = [...matrix.slice(0, 12), ...place, 1]
    expect(told(from, from.map(Math.fround)).state, String(seed)).toBe('within')
  }
})

test('hidden where it stood is told, and moved before that', () => {
  expect(told(movedTo(3), movedTo(3), false)).toMatchObject({ note: 'visibility-changed', parameters: { from: 'shown', to: 'hidden' } }) // prettier-ignore
  expect(told(movedTo(3), movedTo(4), false)).toMatchObject({ note: 'moved' })
})
