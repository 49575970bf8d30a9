import { expect, test } from 'vitest'
import { tryProblems } from '../../../../tests/checks.ts'
import { cubeOf, gridOf, meshOf, sceneOf, type Point } from '../../../../tests/solids.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { runChecks } from '../run-checks.ts'

const grouped = (mesh: Mesh, groupOf: (face: number) => number = () => 0): Mesh => ({
  ...mesh,
  groups: {
    names: ['front', 'strip'],
    sets: [[0], [1]],
    faceSets: Int32Array.from({ length: mesh.faceOffsets.length - 1 }, (_, face) => groupOf(face)),
  },
})
const one = (mesh: Mesh) => sceneOf([mesh])

/** A ring of quads, open above and below. */
function tube(): Mesh {
  const points: Point[] = []
  for (let row = 0; row <= 2; row++)
    for (let column = 0; column < 8; column++) {
      const angle = (Math.PI * column) / 4
      points.push([10 * Math.cos(angle), 10 * row, 10 * Math.sin(angle)])
    }
  const faces: number[][] = []
  for (let row = 0; row < 2; row++)
    for (let column = 0; column < 8; column++) {
      const next = (column + 1) % 8
      faces.push([8 * row + column, 8 * row + 8 + column, 8 * row + 8 + next, 8 * row + next])
    }
  return meshOf(points, faces)
}
/** Three triangles on one edge. */
const fin = meshOf(
  [
    [0, 0, 0],
    [10, 0, 0],
    [0, 10, 0],
    [5, -10, 0],
    [5, 0, 10],
  ],
  [
    [0, 1, 2],
    [1, 0, 3],
    [0, 1, 4],
  ],
)
/** A sheet whose UVs are folded back over their left half. */
function folded(): Mesh {
  const grid = gridOf(4, 1)
  const set = grid.uvSets[0]!
  const us = Array.from(set.values).filter((_, at) => at % 2 === 0)
  const middle = (Math.min(...us) + Math.max(...us)) / 2
  const values = set.values.map((value, at) => (at % 2 === 0 && value > middle ? 2 * middle - value : value))
  return { ...grid, uvSets: [{ ...set, values }] }
}
const settings = { wantPanels: true, leastPanel: 0 }
const plain = one(grouped(gridOf(4, 4)))

tryProblems('sewing-panels', {
  pieces: {
    bad: one(grouped(gridOf(4, 4), (face) => (face % 4 === 1 ? 1 : 0))),
    count: 1,
    near: one(grouped(gridOf(4, 4), (face) => (face % 4 < 2 ? 1 : 0))),
    settings,
  },
  closed: { bad: one(grouped(cubeOf())), count: 1, near: plain, settings },
  borders: { bad: one(grouped(tube())), count: 1, near: plain, settings },
  overlap: { bad: one(grouped(folded())), count: 1, near: plain, settings },
  nonManifold: { bad: one(grouped(fin)), count: 1, near: plain, settings },
  small: {
    bad: plain,
    count: 1,
    near: plain,
    settings: { wantPanels: true, leastPanel: 1e9 },
    nearSettings: settings,
  },
})

test('nothing is said where no panels are wanted', () => {
  const found = runChecks(one(grouped(tube())), { settings: {}, checks: ['sewing-panels'] })
  expect(found).toEqual([])
})
