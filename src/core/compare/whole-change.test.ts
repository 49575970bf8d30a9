/** A model that came back larger, smaller, or lying: found in scenes of any axes, and undone by reading it otherwise. */
import { describe, expect, test } from 'vitest'
import { chanceOf } from '../../../tests/chance.ts'
import { damage, type FaultName } from '../../../tests/returns.ts'
import { buildCourierHeron } from '../practice/demo/courier-heron.ts'
import { cubeOf, gridOf, moved, sceneOf, withNodes } from '../../../tests/solids.ts'
import { transformMesh } from '../mesh/rebuilding/transform-mesh.ts'
import { invertAffine, multiplyMatrices, type Matrix } from '../base/math/matrix.ts'
import type { Axis, Scene, Space } from '../scene/scene.ts'
import { axesFit, spaceMatrix } from '../scene/space.ts'
import { compareScenes } from './compare-scenes.ts'
import { readingThatUndoes } from './reading-that-undoes.ts'

const AXES: readonly Axis[] = ['x', 'y', 'z', '-x', '-y', '-z']
const SPACES: readonly Space[] = (['right', 'left'] as const).flatMap((handedness) =>
  AXES.flatMap((upAxis) =>
    AXES.filter((frontAxis) => axesFit(upAxis, frontAxis)).map((frontAxis) => ({
      unitMeters: 0.01,
      upAxis,
      frontAxis,
      handedness,
    })),
  ),
)
const UPRIGHT: Space = { unitMeters: 0.01, upAxis: 'y', frontAxis: 'z', handedness: 'right' }
/** Two parts that stand up and look to the front; no two of their sides are alike. */
const figure: Scene = withNodes(
  {
    ...sceneOf([
      { ...cubeOf({}, 1), points: cubeOf().points.map((value, at) => value * [1, 5, 2][at % 3]!) },
      gridOf(3, 1),
    ]),
    space: UPRIGHT,
  },
  (_node, at) => (at ? { local: moved(0.25, 3, 4) } : {}),
)
const through = (scene: Scene, matrix: Matrix): Scene => {
  const back = invertAffine(matrix)!
  return {
    ...scene,
    meshes: scene.meshes.map((mesh) => transformMesh(mesh, matrix)),
    nodes: scene.nodes.map((node) => ({
      ...node,
      local: multiplyMatrices(multiplyMatrices(matrix, node.local), back),
    })),
  }
}
const inSpace = (scene: Scene, space: Space): Scene => ({
  ...through(scene, spaceMatrix(scene.space, space)),
  space,
})
/** Quarter turns as rows of a matrix, in a space with Y up and Z to the front. */
const turn = (...rows: [number, number, number][]): Matrix => [
  ...[0, 1, 2].flatMap((column) => [...rows.map((row) => row[column]!), 0]),
  ...[0, 0, 0, 1],
]
const FAULTS: readonly [string, Matrix][] = [
  ['on its face', turn([1, 0, 0], [0, 0, -1], [0, 1, 0])],
  ['on its back', turn([1, 0, 0], [0, 0, 1], [0, -1, 0])],
  ['upside down', turn([1, 0, 0], [0, -1, 0], [0, 0, -1])],
  ['on its left', turn([0, -1, 0], [1, 0, 0], [0, 0, 1])],
  ['on its right', turn([0, 1, 0], [-1, 0, 0], [0, 0, 1])],
  ['from behind', turn([-1, 0, 0], [0, 1, 0], [0, 0, -1])],
  ['from the left', turn([0, 0, 1], [0, 1, 0], [-1, 0, 0])],
]

/** The scene with its numbers turned or multiplied and nothing said of it. */
const spoiled = (scene: Scene, fault: Matrix, factor = 1): Scene => {
  const upright = spaceMatrix(scene.space, UPRIGHT)
  const sized = fault.map((value, at) => (at % 4 < 3 && at < 12 ? value * factor : value))
  return through(scene, multiplyMatrices(multiplyMatrices(invertAffine(upright)!, sized), upright))
}
const reread = (scene: Scene, options: NonNullable<ReturnType<typeof readingThatUndoes>>): Scene => ({
  ...scene,
  space: { ...scene.space, ...options },
})
const undone = (master: Scene, returned: Scene): void => {
  const { whole } = compareScenes(master, returned)
  const again = reread(returned, readingThatUndoes(whole!, returned.space.unitMeters)!)
  const ledger = compareScenes(master, again)
  expect(ledger.whole).toBeNull()
  for (const row of ledger.rows)
    for (const trait of ['points', 'topology'] as const)
      expect(row.cells[trait]!.state).toMatch(/same|within/)
}

describe.each(FAULTS)('%s', (_name, fault) => {
  test('in a master of any axes', () => {
    for (const space of SPACES) {
      const master = inSpace(figure, space)
      undone(master, spoiled(master, fault))
    }
  })
  test('and a hundred times as large, in a file of other axes than the master’s', () => {
    for (const space of SPACES.filter((_space, at) => at % 5 === 0)) {
      const sent = inSpace(figure, space)
      undone(figure, spoiled(sent, fault, 100))
    }
  })
})

test('it is said in words', () => {
  const said = (space: Space, fault: Matrix): string => {
    const master = inSpace(figure, space)
    return compareScenes(master, spoiled(master, fault)).whole!.turn!.text
  }
  const zUp: Space = { ...UPRIGHT, upAxis: 'z', frontAxis: '-y' }
  expect(said(UPRIGHT, FAULTS[0]![1])).toBe('lying, with Z up')
  expect(said(UPRIGHT, FAULTS[1]![1])).toBe('lying, with Z down')
  expect(said(zUp, FAULTS[0]![1])).toBe('lying, with Y down')
  expect(said(UPRIGHT, FAULTS[2]![1])).toBe('upside down')
  expect(said(UPRIGHT, FAULTS[3]![1])).toBe('on its side, with X down')
  expect(said(UPRIGHT, FAULTS[5]![1])).toBe('turned round, with Z to the back')
})

test('what stands as it stood is not turned, however alike its sides are', () => {
  const cube = sceneOf([cubeOf()])
  expect(compareScenes(cube, cube).whole).toBeNull()
  // a sculpted one is no other size
  const fuller = { ...cube, meshes: [cubeOf({}, 1.3)] }
  expect(compareScenes(cube, fuller).whole).toBeNull()
  expect(compareScenes(cube, { ...cube, meshes: [cubeOf({}, 1.6)] }).whole!.factor).toBe(1.6)
})

test('without a unit of its own a file can’t be read in another', () => {
  expect(readingThatUndoes({ factor: 100, turn: null }, null)).toBeNull()
  expect(readingThatUndoes({ factor: 100, turn: null }, 1)).toEqual({ unitMeters: 0.01 })
})

describe('a size beside other changes comes from points that correspond, not from boxes that sculpting changes', () => {
  const heron = buildCourierHeron()
  const returnOf = (names: readonly FaultName[], factor: number, seed: number): Scene => ({
    ...heron,
    meshes: heron.meshes.map((mesh, at) => {
      const { mesh: damaged } = damage(mesh, names, chanceOf(seed + at))
      return { ...damaged, points: damaged.points.map((value) => value * factor) }
    }),
  })
  const factorFound = (names: readonly FaultName[], factor: number, seed: number) =>
    compareScenes(heron, returnOf(names, factor, seed)).whole?.factor ?? 1
  test.each([100, 0.01, 2.54, 1 / 2.54, 39.37007874015748, 0.5, 1000])(
    '%d times, to the last digit',
    (factor) => {
      for (const names of [
        ['sculpted'],
        ['sculpted', 'renumbered'],
        ['bumped', 'triangulated'],
        ['sculpted', 'triangulated', 'unwelded', 'renumbered'],
      ] as FaultName[][])
        expect([names, factorFound(names, factor, 3)]).toEqual([names, factor])
    },
  )
  test('one that nobody means is measured', () => {
    expect(factorFound(['sculpted'], 3.71, 5)).toBeCloseTo(3.71, 1)
    expect(factorFound(['renumbered'], 3.71, 5)).toBeCloseTo(3.71, 6)
    // near one that is meant, and not sculpted: it is what it is
    expect(factorFound(['renumbered'], 99.5, 5)).toBeCloseTo(99.5, 6)
  })
  test('sculpting alone is no size', () => {
    for (let seed = 0; seed < 6; seed++) expect(factorFound(['sculpted', 'bumped'], 1, seed)).toBe(1)
  })
})
