/** A model that came back larger, smaller, or lying: turned, mirrored or elsewhere: found in scenes of any axes, and undone. */
import { describe, expect, test } from 'vitest'
import { chanceOf } from '../../base/math/chance.ts'
import { damage, type FaultName } from '../../practice/faults/mesh-faults.ts'
import { flatten } from '../../practice/faults/scene-faults.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { IN_THE_LONG_RUN, someOf } from '../../../../tests/how-many.ts'
import { cubeOf, gridOf, moved, scaled, sceneOf, tubeOf, withNodes } from '../../../../tests/solids.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { invertAffine, multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import { worldMatrices } from '../../scene/world.ts'
import { fitSimilarity } from './similarity.ts'
import { IDENTITY_MATRIX, type Axis, type Scene, type Space } from '../../scene/scene.ts'
import { axesFit, spaceMatrix } from '../../scene/space.ts'
import { compareScenes } from '../compare-scenes.ts'
import { recogniseReturn } from '../recognise/recognise-return.ts'
import { wholeText } from './whole-text.ts'
import { expectAsBefore, tellRecognised } from '../../../../tests/core/approved/tell-returns.ts'

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
const undone = (master: Scene, returned: Scene): void => {
  const again = recogniseReturn(master, returned, { undoWhole: true })
  expect(again.undone).not.toBeNull()
  expectAsBefore(tellRecognised(master, again))
  const ledger = compareScenes(master, again.returned, () => {}, again.matching)
  expect(ledger.whole).toBeNull()
  for (const row of ledger.rows)
    for (const trait of ['points', 'topology'] as const)
      expect(row.cells[trait]!.state).toMatch(/same|within/)
}

describe.each(FAULTS.map(([name, fault], at) => [name, fault, at] as const))('%s', (_name, fault, at) => {
  test('in a master of any axes', () => {
    // each fault in a third of them, so that all are met
    for (const space of SPACES.filter((_space, own) => IN_THE_LONG_RUN || own % 3 === at % 3)) {
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
  // one that is no longer a cube is no other size
  const fuller = {
    ...cube,
    meshes: [{ ...cubeOf(), points: cubeOf().points.map((value, at) => value * [1.3, 1.2, 1.35][at % 3]!) }],
  }
  expect(compareScenes(cube, fuller).whole).toBeNull()
  expect(compareScenes(cube, { ...cube, meshes: [cubeOf({}, 1.3)] }).whole!.factor).toBe(1.3)
  expect(compareScenes(cube, { ...cube, meshes: [cubeOf({}, 1.6)] }).whole!.factor).toBe(1.6)
})

describe('whatever it is, of a real model, beside whatever else was done to it', () => {
  const heron = buildCourierHeron()
  /** All numbers of the heron through one matrix; some faults beside it. */
  const returnOf = (matrix: Matrix, names: readonly FaultName[], seed: number): Scene => ({
    ...heron,
    format: 'obj',
    nodes: heron.nodes.map((node) => ({ ...node, parent: -1, local: IDENTITY_MATRIX, transform: null })),
    meshes: heron.meshes.map((mesh, at) => {
      const node = heron.nodes.findIndex((candidate) => candidate.mesh === at)
      const placed = transformMesh(mesh, worldMatrices(heron)[node]!)
      return transformMesh(damage(placed, names, chanceOf(seed + at)).mesh, matrix)
    }),
  })
  const about = (axis: number, degrees: number): Matrix => {
    const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)]
    const m = [...IDENTITY_MATRIX]
    const [a, b] = [(axis + 1) % 3, (axis + 2) % 3]
    m[5 * a] = c
    m[5 * b] = c
    m[4 * a + b] = s
    m[4 * b + a] = -s
    return m
  }
  const mirrored = (axis: number): Matrix =>
    IDENTITY_MATRIX.map((value, at) => (at === 5 * axis ? -1 : value))
  const CASES: readonly [string, Matrix][] = [
    ['mirrored across X', mirrored(0)],
    ['mirrored across Z', mirrored(2)],
    ['turned by 37° about Y', about(1, 37)],
    ['turned by −12.5° about X', about(0, -12.5)],
    ['moved by 5 cm along X', moved(5, 0, 0)],
    ['100 times as large as it was sent, turned by 30° about Z', multiplyMatrices(scaled(100, 100, 100), about(2, 30))],
    ['2.54 times as large as it was sent, mirrored across Z, turned round, with Z to the back, moved by 12 cm along Y', multiplyMatrices(moved(0, 12, 0), multiplyMatrices(scaled(2.54, 2.54, 2.54), mirrored(0)))],
    ['moved by −3 cm along Z', moved(0, 0, -3)],
  ] // prettier-ignore
  const known = new Map<string, ReturnType<typeof compareScenes>>()
  /** What it would be had nothing happened to the whole. */
  const plainOf = (names: FaultName[]) => {
    const ledger = known.get(names.join()) ?? compareScenes(heron, returnOf(IDENTITY_MATRIX, names, 11))
    known.set(names.join(), ledger)
    return ledger
  }
  const BESIDE: readonly FaultName[][] = [
    ['sculpted'],
    ['bumped', 'triangulated', 'renumbered'],
    ['rounded', 'unwelded', 'renumbered'],
  ]
  test.each(CASES.map(([said, matrix], at) => [said, matrix, someOf([[], BESIDE[at % 3]!], 1)] as const))(
    '%s',
    (said, matrix, all) => {
      for (const names of all as unknown as FaultName[][]) {
        const returned = returnOf(matrix, names, 11)
        const { whole } = compareScenes(heron, returned)
        if (!said.includes('2.54')) expect([names, wholeText(whole!)]).toEqual([names, said])
        else expect(whole!.factor).toBe(2.54)
        const again = recogniseReturn(heron, returned, { undoWhole: true })
        expectAsBefore(tellRecognised(heron, again))
        const plain = plainOf(names)
        const ledger = compareScenes(heron, again.returned, () => {}, again.matching)
        expect(ledger.whole).toBeNull()
        // once undone it is what it would be had nothing happened to the whole
        ledger.rows.forEach(({ name, cells }, row) => {
          for (const trait of ['topology', 'uvs', 'points'] as const) {
            const [is, was] = [cells[trait]!, plain.rows[row]!.cells[trait]!]
            expect([name, trait, is.state.replace('within', 'same')]).toEqual([
              name,
              trait,
              was.state.replace('within', 'same'),
            ])
            // points at the edge of the tolerance fall to either side of it, as those of the eyes where numbers were
            // rounded: a turn that is measured from such numbers is off by as much
            const most = trait === 'points' ? Math.max(30, was.totalCount * 0.03) : 0
            expect(Math.abs(is.changedCount - was.changedCount)).toBeLessThanOrEqual(most)
          }
        })
      }
    },
  )
})

test('Umeyama’s fit against a closed form: a similarity that is known, in any number of random ones', () => {
  for (let seed = 0; seed < 200; seed++) {
    const chance = chanceOf(seed)
    const [x, y, z, w] = Array.from({ length: 4 }, () => chance() * 2 - 1) as [number, number, number, number]
    const n = Math.hypot(x, y, z, w)
    const [a, b, c, d] = [w / n, x / n, y / n, z / n]
    // a unit quaternion as a matrix; every other one mirrored
    const sign = seed % 2 ? -1 : 1
    const turn = [a * a + b * b - c * c - d * d, 2 * (b * c - a * d), 2 * (b * d + a * c), 2 * (b * c + a * d), a * a - b * b + c * c - d * d, 2 * (c * d - a * b), 2 * (b * d - a * c), 2 * (c * d + a * b), a * a - b * b - c * c + d * d].map((value) => value * sign) // prettier-ignore
    const factor = 10 ** (chance() * 6 - 3)
    const move = [chance() * 9, chance() * 9, chance() * 9]
    const before = Float64Array.from({ length: 60 }, () => chance() * 4 - 2)
    const after = Float64Array.from(before, (_value, at) => {
      const point = 3 * Math.floor(at / 3)
      const row = at % 3
      return (
        factor * [0, 1, 2].reduce((sum, k) => sum + turn[3 * row + k]! * before[point + k]!, 0) + move[row]!
      )
    })
    // a fifth of the points was pulled away meanwhile
    for (let at = 0; at < 12; at++) after[at] = after[at]! + factor * (1 + chance())
    const fit = fitSimilarity(before, after)!
    expect(fit.factor / factor).toBeCloseTo(1, 9)
    turn.forEach((value, at) => expect(fit.turn[at]).toBeCloseTo(value, 8))
    move.forEach((value, at) =>
      expect(Math.abs(fit.move[at]! - value)).toBeLessThan(1e-8 * Math.max(1, factor)),
    )
  }
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
  test.each([100, 0.01, 2.54, 39.37007874015748, ...(IN_THE_LONG_RUN ? [1 / 2.54, 0.5, 1000] : [])])(
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

describe('parts that went each its own way', () => {
  const post = tubeOf(4, 7, 0.5, 2)
  /** Posts in a row, or wherever each is put. */
  const row = (at: (post: number) => readonly [number, number, number]): Scene =>
    flatten(
      sceneOf(
        Array.from({ length: 12 }, (_post, index) => ({
          ...post,
          name: `post_${index}`,
          points: post.points.map((value, axis) => value + at(index)[axis % 3]!),
        })),
      ),
    )
  const master = row((at) => [3 * at, 0, 0.2 * at])

  test.each([
    ['pulled apart', row((at) => [7 * at, 0, 0.47 * at])],
    ['pushed together', row((at) => [1.5 * at, 0, 0.1 * at])],
    ['carried round, each upright as it stood', row((at) => [0.2 * at, 0, 3 * at])],
  ])('%s: nothing happened to all of it', (_name, came) => {
    const { undone, matching } = recogniseReturn(master, came, { undoWhole: true })
    expect(undone).toBeNull()
    expect(matching.matched).toHaveLength(12)
  })

  test('sized and turned with all of its parts: that is told', () => {
    const came = through(master, [0, 0, -7, 0, 0, 7, 0, 0, 7, 0, 0, 0, 0, 0, 0, 1])
    const { undone } = recogniseReturn(master, came, { undoWhole: true })
    expect(undone).toMatchObject({ factor: 7, mirror: null })
    expect(undone?.turn).not.toBeNull()
  })
})
