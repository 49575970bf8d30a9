/** What steps do that no check asks for, by closed forms and by what must not change. */
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  cubeOf,
  CUBE_FACES,
  CUBE_POINTS,
  gridOf,
  materialOf,
  meshOf,
  moved,
  scaled,
  sceneOf,
  uvsOf,
  withNodes,
  type Point,
} from '../../../tests/solids.ts'
import { runChecks } from '../checks/run-checks.ts'
import { sceneHeight } from '../scene/scene-size.ts'
import { buildCourierHeron } from '../practice/demo/courier-heron.ts'
import { buildMooringBollard } from '../practice/demo/mooring-bollard.ts'
import { buildStormLantern } from '../practice/demo/storm-lantern.ts'
import { findWelds, countWelds } from '../mesh/welds/find-welds.ts'
import { growthDistances, weldGrowth } from '../mesh/welds/weld-growth.ts'
import { shareOfSharpness } from '../mesh/cutting/support-loops.ts'
import { subdivideMesh } from '../mesh/subdividing/subdivide-mesh.ts'
import { boundsOf } from '../base/math/box.ts'
import { transformPoints } from '../base/math/matrix.ts'
import { createMeshFacts } from '../mesh/relations/mesh-facts.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../scene/mesh.ts'
import type { Scene } from '../scene/scene.ts'
import { worldMatrices } from '../scene/world.ts'
import { compareScenes } from '../compare/compare-scenes.ts'
import { fingerprintScene } from '../compare/fingerprint.ts'
import { portableRecipe, type RecipeStep } from './recipe.ts'
import { STEPS } from './registry.ts'
import { StepRefusal } from './step.ts'
import { parseRecipe, runRecipe, runStep } from './run-steps.ts'
import { restorePolygons } from '../mesh/cutting/restore-polygons.ts'
import { howMany } from '../../../tests/how-many.ts'

const apply = (
  scene: Scene,
  step: string,
  params: RecipeStep['params'] = {},
  more: Partial<RecipeStep> = {},
) => runStep(scene, { step, params, ...more })
const only = (mesh: Mesh, step: string, params: RecipeStep['params'] = {}): Mesh =>
  apply(sceneOf([mesh]), step, params).scene.meshes[0]!

/** Six times the enclosed volume. */
function volumeOf(mesh: Mesh): number {
  let sum = 0
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const start = mesh.faceOffsets[face]!
    const at = (corner: number): number[] => [
      ...mesh.points.subarray(3 * mesh.faceVertices[corner]!, 3 * mesh.faceVertices[corner]! + 3),
    ]
    for (let corner = start + 1; corner + 1 < mesh.faceOffsets[face + 1]!; corner++) {
      const [a, b, c] = [at(start), at(corner), at(corner + 1)] as [number[], number[], number[]]
      sum +=
        a[0]! * (b[1]! * c[2]! - b[2]! * c[1]!) -
        a[1]! * (b[0]! * c[2]! - b[2]! * c[0]!) +
        a[2]! * (b[0]! * c[1]! - b[1]! * c[0]!)
    }
  }
  return sum
}
/** V - E + F: 2 for a ball, 0 for a ring (Euler's formula). */
const eulerOf = (mesh: Mesh): number =>
  pointCountOf(mesh) - createMeshFacts(mesh).edges().edgeCount + faceCountOf(mesh)
const areaOf = (mesh: Mesh): number =>
  createMeshFacts(mesh)
    .faceAreas()
    .reduce((sum, area) => sum + area, 0)
/** A ring of quads (a torus): radius 3, thickness 1. */
function torusOf(around: number, across: number): Mesh {
  const points: Point[] = []
  const faces: number[][] = []
  for (let i = 0; i < around; i++)
    for (let j = 0; j < across; j++) {
      const a = (2 * Math.PI * i) / around
      const b = (2 * Math.PI * j) / across
      points.push([(3 + Math.cos(b)) * Math.cos(a), Math.sin(b), (3 + Math.cos(b)) * Math.sin(a)])
      const at = (x: number, y: number): number => (x % around) * across + (y % across)
      faces.push([at(i, j), at(i, j + 1), at(i + 1, j + 1), at(i + 1, j)])
    }
  return meshOf(points, faces)
}
/** Points of all parts in the world. */
const worldPoints = (scene: Scene): number[] => {
  const worlds = worldMatrices(scene)
  return scene.nodes.flatMap((node, at) =>
    node.mesh < 0 ? [] : [...transformPoints(scene.meshes[node.mesh]!.points, worlds[at]!)],
  )
}
const farthest = (a: readonly number[], b: readonly number[]): number => {
  expect(a.length).toBe(b.length)
  return a.reduce((most, value, at) => Math.max(most, Math.abs(value - b[at]!)), 0)
}

describe('solids keep what Euler’s formula and their area and volume say', () => {
  test.each([
    ['a cube', cubeOf(), 2],
    ['a ring', torusOf(24, 12), 0],
  ])('%s', (_name, mesh, euler) => {
    expect(eulerOf(mesh)).toBe(euler)
    for (const [step, params] of [
      ['triangulate', {}],
      ['triangulate', { diagonal: 'fixed' }],
      ['subdivide', { levels: 2 }],
      ['split-long-polygons', { aspect: 1.5 }],
    ] as const)
      expect([step, eulerOf(only(mesh, step, params))]).toEqual([step, euler])
    expect(volumeOf(only(mesh, 'turn-faces', { mode: 'all' }))).toBeCloseTo(-volumeOf(mesh), 9)
    expect(Math.abs(volumeOf(only(only(mesh, 'turn-faces', { mode: 'all' }), 'turn-faces')))).toBeCloseTo(
      Math.abs(volumeOf(mesh)),
      9,
    )
  })
  test('a torus has the area 4 pi² R r and the volume 2 pi² R r² of Pappus, nearly', () => {
    const torus = torusOf(200, 100)
    expect(areaOf(torus) / (4 * Math.PI ** 2 * 3)).toBeCloseTo(1, 2)
    expect(Math.abs(volumeOf(torus)) / 6 / (2 * Math.PI ** 2 * 3)).toBeCloseTo(1, 2)
  })
  test('flat cuts change no area', () => {
    const bars = gridOf(1, 3, {}, () => 0)
    const long = { ...bars, points: bars.points.map((value, at) => (at % 3 === 0 ? value * 50 : value)) }
    const split = only(long, 'split-long-polygons', { aspect: 4 })
    expect(faceCountOf(split)).toBeGreaterThan(3 * 10)
    expect(areaOf(split)).toBeCloseTo(areaOf(long), 9)
    expect([...split.faceOffsets].every((offset, face) => offset === 4 * face)).toBe(true)
  })
})

describe('welding is exact by distance', () => {
  test('no two points that stay are within the distance, and none moved farther, whatever the points', () => {
    const coordinate = fc.double({ min: -3, max: 3, noNaN: true })
    fc.assert(
      fc.property(
        fc.array(fc.tuple(coordinate, coordinate, coordinate), { maxLength: 60 }),
        fc.double({ min: 0, max: 2, noNaN: true }),
        (list, distance) => {
          const points = Float64Array.from(list.flat())
          const target = findWelds(points, distance)
          const gap = (a: number, b: number): number => {
            const [x, y, z] = [0, 1, 2].map((axis) => points[3 * a + axis]! - points[3 * b + axis]!) as [
              number,
              number,
              number,
            ]
            return x * x + y * y + z * z
          }
          const reach = distance * distance
          for (let a = 0; a < list.length; a++) {
            if (target[a] !== a) expect(target[target[a]!]).toBe(target[a])
            expect(gap(a, target[a]!)).toBeLessThanOrEqual(reach)
            for (let b = 0; b < a; b++)
              if (target[a] === a && target[b] === b) expect(gap(a, b)).toBeGreaterThan(reach)
          }
        },
      ),
      { numRuns: howMany(100, 3000) },
    )
  })
  test('the count grows with the distance, and the guard speaks before features close', () => {
    const mesh = gridOf(4, 4)
    const growth = weldGrowth(mesh.points, growthDistances(10))
    for (let at = 1; at < growth.length; at++)
      expect(growth[at]!.welded).toBeGreaterThanOrEqual(growth[at - 1]!.welded)
    expect(growth[0]!.welded).toBe(0)
    expect(growth[growth.length - 1]!.welded).toBe(countWelds(findWelds(mesh.points, 1)))
    expect(apply(sceneOf([mesh]), 'weld-by-distance', { distance: 0.5 }).changedCount).toBe(0)
    const close = apply(sceneOf([mesh]), 'weld-by-distance', { distance: 1.01 })
    expect(close.warning).toMatch(/features would collapse/)
  })
  test('borders: only points of different borders, and of each border only the nearest', () => {
    const strip = gridOf(3, 1)
    const other = {
      ...strip,
      points: strip.points.map((value, at) =>
        at % 3 === 2 ? value - 1.05 : at % 3 === 0 ? value + 0.02 : value,
      ),
    }
    const joined = apply(sceneOf([strip, other]), 'join-parts').scene
    const welded = apply(joined, 'weld-borders', { distance: 0.2 })
    expect(welded.changedCount).toBe(4)
    expect(createMeshFacts(welded.scene.meshes[0]!).pieces().pieceCount).toBe(1)
    // a distance larger than the strip is wide would close it on itself; its own points stay apart
    const far = apply(joined, 'weld-borders', { distance: 1.5 }).scene.meshes[0]!
    expect(faceCountOf(far)).toBe(6)
  })
})

describe('cut and put together', () => {
  test.each([buildCourierHeron, buildStormLantern])(
    'the demo: the polygons are as they were, to the last bit',
    (build) => {
      const scene = build()
      for (const diagonal of ['shortest', 'fixed']) {
        const cut = apply(scene, 'triangulate', { diagonal })
        expect(
          cut.scene.meshes.every((mesh) =>
            [...mesh.faceOffsets].every((offset, face) => offset === 3 * face),
          ),
        ).toBe(true)
        const whole = apply(cut.scene, 'restore-polygons').scene
        expect(fingerprintScene(whole)).toEqual(fingerprintScene(scene))
      }
    },
  )
  test('n-gons come back whole, beginning with their own corner', () => {
    const mesh = meshOf(
      [
        [0, 0, 0],
        [4, 0, 0],
        [4, 0, -4],
        [2, 0, -1],
        [0, 0, -4],
      ],
      [[2, 3, 4, 0, 1]],
    )
    const cut = only(mesh, 'triangulate')
    expect(faceCountOf(cut)).toBe(3)
    expect([...restorePolygons(cut).mesh.faceVertices]).toEqual([2, 3, 4, 0, 1])
  })
  test('the shorter diagonal, and the fixed one', () => {
    const kite = meshOf(
      [
        [0, 0, 0],
        [1, 0, 1],
        [8, 0, 0],
        [1, 0, -1],
      ],
      [[0, 1, 2, 3]],
    )
    const diagonal = (params: RecipeStep['params']): number[] => {
      const edges = createMeshFacts(only(kite, 'triangulate', params)).edges()
      const found: number[] = []
      for (let edge = 0; edge < edges.edgeCount; edge++)
        if (edges.edgeSides[edge] === 2) found.push(...edges.edgePoints.subarray(2 * edge, 2 * edge + 2))
      return found
    }
    expect(diagonal({})).toEqual([1, 3])
    expect(diagonal({ diagonal: 'fixed' })).toEqual([0, 2])
  })
  test('triangles pair back to the quads they came from', () => {
    const grid = gridOf(6, 5, {}, (x, z) => 0.1 * Math.sin(x + z))
    const cut = { ...only(grid, 'triangulate', { diagonal: 'fixed' }), cutFrom: null }
    const paired = only(cut, 'pair-triangles')
    const ledger = compareScenes(sceneOf([grid]), sceneOf([paired]))
    // the same polygons; they may begin with another corner
    expect(['same', 'within']).toContain(ledger.rows[0]!.cells.topology!.state)
    expect(ledger.rows[0]!.cells.uvs!.state).toBe('same')
  })
})

describe('creases and support loops', () => {
  const creased = (sharpness: number): Mesh =>
    cubeOf({
      uvSets: [],
      creases: {
        edgePoints: Uint32Array.of(2, 3, 3, 7, 7, 6, 6, 2),
        edgeSharpness: new Float64Array(4).fill(sharpness),
        cornerPoints: new Uint32Array(0),
        cornerSharpness: new Float64Array(0),
      },
    })
  test.each([2, 3, 4])('a loop in place of a crease of sharpness %i holds the same shape', (sharpness) => {
    const refine = (mesh: Mesh): Mesh => subdivideMesh(mesh, { levels: 5, uvMode: 'all', sharpCorners: true })
    const withCrease = refine(creased(sharpness))
    const looped = only(creased(sharpness), 'support-loops')
    expect(looped.creases).toBeNull()
    const withLoops = refine(looped)
    const bare = refine({ ...creased(sharpness), creases: null })
    const size = (mesh: Mesh): number => boundsOf(mesh.points)!.max[1]
    // the top stays at its height with either, and sinks without
    expect(size(withCrease)).toBeCloseTo(1, 1)
    expect(Math.abs(size(withLoops) - size(withCrease))).toBeLessThan(0.12)
    expect(size(withCrease) - size(bare)).toBeGreaterThan(0.04)
    expect(Math.abs(volumeOf(withLoops) - volumeOf(withCrease)) / 6).toBeLessThan(0.06)
    expect(eulerOf(looped)).toBe(2)
  })
  test('loops are closer the sharper the crease, and stay apart from the edge', () => {
    expect([1, 2, 3].map(shareOfSharpness)).toEqual([0.45, 0.25, 0.125])
    expect(shareOfSharpness(1000)).toBe(0.01)
  })
  test('loops keep the mesh closed wherever creases end or meet, on the whole demo', () => {
    for (const scene of [buildCourierHeron(), buildStormLantern()]) {
      const done = apply(scene, 'support-loops')
      expect(done.changedCount).toBeGreaterThan(50)
      scene.meshes.forEach((mesh, at) => {
        const before = createMeshFacts(mesh).edges()
        const after = createMeshFacts(done.scene.meshes[at]!).edges()
        const borders = (edges: typeof before): number =>
          edges.edgeSides.reduce((sum, sides) => sum + (sides === 1 ? 1 : 0), 0)
        expect(borders(after) === 0).toBe(borders(before) === 0)
        expect(eulerOf(done.scene.meshes[at]!)).toBe(eulerOf(mesh))
        expect(Math.max(...after.edgeSides)).toBe(Math.max(...before.edgeSides))
      })
    }
  })
})

describe('parts', () => {
  test('split into pieces and joined again: the same polygons in the same places', () => {
    const lantern = buildStormLantern()
    const split = apply(lantern, 'split-parts').scene
    expect(split.nodes.length).toBeGreaterThan(lantern.nodes.length)
    expect(new Set(split.nodes.map((node) => node.name)).size).toBe(split.nodes.length)
    const joined = apply(split, 'join-parts', { name: 'lantern' }).scene
    expect(joined.nodes.map((node) => node.name)).toEqual(['lantern'])
    expect(faceCountOf(joined.meshes[0]!)).toBe(
      lantern.meshes.reduce((sum, mesh) => sum + faceCountOf(mesh), 0),
    )
    const ledger = compareScenes(apply(lantern, 'join-parts', { name: 'lantern' }).scene, joined)
    for (const trait of ['topology', 'uvs', 'materials', 'groups', 'creases', 'smoothing'] as const)
      expect([trait, 'same', 'within']).toContain(ledger.rows[0]!.cells[trait]!.state)
  })
  test.each([
    ['materials', 2],
    ['groups', 2],
  ])('split by %s', (by, parts) => {
    const mesh = cubeOf({
      faceMaterials: Int32Array.of(0, 0, 0, 1, 1, 1),
      groups: { names: ['a', 'b'], sets: [[0], [1]], faceSets: Int32Array.of(0, 0, 0, 1, 1, 1) },
    })
    const scene = sceneOf([mesh], { materials: [materialOf('tin'), materialOf('zinc')] })
    const { nodes, meshes } = apply(scene, 'split-parts', { by }).scene
    expect(nodes.map((node) => node.name)).toEqual([
      'part_1',
      by === 'materials' ? 'part_1_zinc' : 'part_1_b',
    ])
    expect(meshes.map(faceCountOf)).toEqual(Array(parts).fill(3))
  })
  test('join puts parts together in the world, hard edges and all', () => {
    const left = withNodes(
      sceneOf([
        cubeOf({ smoothing: { kind: 'groups', faceGroups: Int32Array.of(1, 1, 2, 2, 3, 3) } }),
        cubeOf({ smoothing: { kind: 'edges', hardEdgePoints: Uint32Array.of(0, 1) } }),
      ]),
      (_node, at) => ({ local: at ? scaled(-1, 1, 1) : moved(5, 0, 0) }),
    )
    const joined = apply(left, 'join-parts').scene
    expect(farthest(worldPoints(joined), worldPoints(left))).toBe(0)
    expect(volumeOf(joined.meshes[0]!)).toBeCloseTo(12, 9)
    expect(joined.meshes[0]!.smoothing!.kind).toBe('edges')
  })
  test('a part is mirrored and welded along the plane', () => {
    const half = gridOf(2, 2)
    const whole = only(half, 'mirror-part')
    expect([faceCountOf(whole), pointCountOf(whole)]).toEqual([8, 15])
    expect(createMeshFacts(whole).pieces().pieceCount).toBe(1)
    expect(runStep(sceneOf([whole]), { step: 'turn-faces', params: { mode: 'agree' } }).changedCount).toBe(0)
    expect(areaOf(whole)).toBeCloseTo(8, 12)
  })
  test('twins become places of one mesh and stand where they stood', () => {
    const heron = buildCourierHeron()
    const done = apply(heron, 'keep-one-twin')
    expect(done.changedCount).toBe(3)
    expect(done.scene.meshes.length).toBe(heron.meshes.length - 3)
    expect(
      done.scene.nodes
        .filter((node) => node.properties.twinOf)
        .map((node) => [node.name, node.properties.twinOf]),
    ).toEqual([
      ['wing_right', 'wing_left'],
      ['leg_right', 'leg_left'],
      ['eye_right', 'eye_left'],
    ])
    const box = (scene: Scene) => boundsOf(Float64Array.from(worldPoints(scene)))!
    box(heron).min.forEach((value, axis) => expect(box(done.scene).min[axis]).toBeCloseTo(value, 3))
    box(heron).max.forEach((value, axis) => expect(box(done.scene).max[axis]).toBeCloseTo(value, 3))
  })
  test('names by a pattern, each its own', () => {
    const scene = withNodes(sceneOf([cubeOf(), cubeOf(), cubeOf()]), (_node, at) => ({ name: `eye.L.${at}` }))
    const names = (params: RecipeStep['params']): string[] =>
      apply(scene, 'rename-parts', params).scene.nodes.map((node) => node.name)
    expect(names({ find: '.L', replace: '_left' })).toEqual(['eye_left.0', 'eye_left.1', 'eye_left.2'])
    expect(names({ pattern: 'prop_<number>', digits: 3 })).toEqual(['prop_001', 'prop_002', 'prop_003'])
    expect(names({ pattern: 'same' })).toEqual(['same', 'same_2', 'same_3'])
  })
})

describe('space', () => {
  const placed = (): Scene => {
    const scene = sceneOf([cubeOf({}, 20), gridOf(2, 2)])
    return withNodes(scene, (_node, at) => ({
      local: at ? moved(30, 10, 0) : [0, 0, -2, 0, 0, 2, 0, 0, 2, 0, 0, 0, 5, 0, 0, 1],
    }))
  }
  test('baking moves nothing in the world and leaves no transform', () => {
    const before = placed()
    const after = apply(before, 'bake-transforms').scene
    expect(farthest(worldPoints(after), worldPoints(before))).toBeLessThan(1e-9)
    expect(
      after.nodes.every((node) => node.local.every((value, at) => value === (at % 5 === 0 ? 1 : 0))),
    ).toBe(true)
  })
  test('to another unit and other axes and back: the numbers are the same to the last bit', () => {
    const before = placed()
    const there = apply(before, 'change-space', { unitMeters: 0.0025, upAxis: 'z' }).scene
    expect(there.space).toEqual({ unitMeters: 0.0025, upAxis: 'z', frontAxis: '-y', handedness: 'right' })
    expect(sceneHeight(there)! * 0.0025).toBeCloseTo(sceneHeight(before)! * 0.01, 12)
    const back = apply(there, 'change-space', { unitMeters: 0.01, upAxis: 'y', frontAxis: 'z' }).scene
    expect(worldPoints(back)).toEqual(worldPoints(before))
  })
  test('a known height gives the exact factor', () => {
    const scene = buildCourierHeron()
    const done = apply(scene, 'scale-to-size', { height: 1.78 }).scene
    expect(sceneHeight(done)! * done.space.unitMeters!).toBeCloseTo(1.78, 12)
    // a length measured on it, as the ruler gives it
    const measured = apply(scene, 'scale-to-size', { measured: sceneHeight(scene)! / 2, length: 0.5 })
    expect(sceneHeight(measured.scene)! * measured.scene.space.unitMeters!).toBeCloseTo(1, 12)
    expect(() => apply(scene, 'scale-to-size', { measured: 3 })).toThrow(/needs what it is in truth/)
    expect(() => apply(scene, 'scale-to-size', { length: 3 })).toThrow(/needs what it is in truth/)
    expect(() => apply(scene, 'scale-to-size', { height: 1, measured: 3, length: 3 })).toThrow(/both/)
    // a file without a unit is given one with its size
    const unknown = { ...scene, space: { ...scene.space, unitMeters: null } }
    const known = apply(unknown, 'scale-to-size', { height: 1 })
    expect(known.scene.space.unitMeters).toBe(0.01)
    expect(sceneHeight(known.scene)!).toBeCloseTo(100, 10)
    expect(known.notes.join(' ')).toContain('one is a centimetre now')
    // a factor alone says nothing of a unit
    expect(apply(unknown, 'scale-to-size', { factor: 2 }).scene.space.unitMeters).toBeNull()
  })
  test('one material that there is none of is made, on every polygon', () => {
    const done = apply(buildCourierHeron(), 'one-material', { name: 'clay' })
    expect(done.scene.materials.map(({ name }) => name)).toEqual(['clay'])
    expect(done.scene.images).toEqual([])
    for (const mesh of done.scene.meshes) expect([...new Set(mesh.faceMaterials)]).toEqual([0])
    expect(done.notes.join(' ')).toContain('it is new')
    expect(apply(done.scene, 'one-material', { name: 'clay' }).changedCount).toBe(0)
  })
  test('a point on an edge is taken in: the crack is closed, UVs lie on the line, the crease goes along', () => {
    // a square whose right side two others share, with a point in its middle
    const mesh = meshOf(
      [[0, 0, 0], [2, 0, 0], [2, 0, -2], [0, 0, -2], [2, 0, -0.5], [4, 0, 0], [4, 0, -0.5], [4, 0, -2]],
      [[0, 1, 2, 3], [1, 5, 6, 4], [4, 6, 7, 2]],
      {
        uvSets: [uvsOf([[0, 0], [1, 0], [1, 1], [0, 1], [0, 0], [1, 0], [1, 0.5], [0, 0.5], [0, 0.5], [1, 0.5], [1, 1], [0, 1]])],
        creases: {
          edgePoints: Uint32Array.of(1, 2),
          edgeSharpness: Float64Array.of(3),
          cornerPoints: new Uint32Array(0),
          cornerSharpness: new Float64Array(0),
        },
      },
    ) // prettier-ignore
    const before = sceneOf([mesh])
    const done = apply(before, 'take-in-points', {})
    const after = done.scene.meshes[0]!
    expect(done.changedCount).toBe(1)
    expect([...after.faceVertices.subarray(0, 5)]).toEqual([0, 1, 4, 2, 3])
    const [set] = after.uvSets
    const at = 2 * set!.indices[2]!
    expect([set!.values[at], set!.values[at + 1]]).toEqual([1, 0.25])
    expect([...after.creases!.edgeSharpness]).toEqual([3, 3])
    expect([...after.points]).toEqual([...mesh.points])
    const open = (scene: Scene) => runChecks(scene, { checks: ['t-junctions'] }).length
    expect([open(before), open(done.scene)]).toEqual([1, 0])
    // what hangs on no open edge stays, and that is said
    const loose = sceneOf([meshOf([[0, 0, 0], [2, 0, 0], [0, 0, -2], [1, 0, 0], [1, 1, 1], [0, 1, 1]], [[0, 1, 2], [3, 4, 5]])]) // prettier-ignore
    const none = apply(loose, 'take-in-points', {})
    expect(none.changedCount).toBe(0)
    expect(none.notes.join(' ')).toContain('stays beside the edge')
  })
  test.each(['centre', 'base', 'origin'])('a pivot goes to the %s and the part stays', (to) => {
    const before = placed()
    const after = apply(before, 'set-pivot', { to }).scene
    expect(farthest(worldPoints(after), worldPoints(before))).toBeLessThan(1e-9)
    if (to === 'origin') return
    for (const mesh of after.meshes) {
      const box = boundsOf(mesh.points)!
      expect(box.min[0] + box.max[0]).toBeCloseTo(0, 12)
      expect(to === 'base' ? box.min[1] : box.min[1] + box.max[1]).toBeCloseTo(0, 12)
    }
  })
  test('under one root everything stands as before, and what names nodes follows', () => {
    const scene: Scene = { ...placed(), cameras: [{ name: 'view', node: 1, properties: {} }] }
    const rooted = apply(scene, 'group-under-root', { name: 'heron' }).scene
    expect(rooted.nodes.map((node) => [node.name, node.parent])).toEqual([
      ['heron', -1],
      ['part_1', 0],
      ['part_2', 0],
    ])
    expect(rooted.cameras[0]!.node).toBe(2)
    expect(worldPoints(rooted)).toEqual(worldPoints(scene))
  })
})

describe('shading', () => {
  test('hard edges by angle go to groups and back', () => {
    const cube = only(cubeOf(), 'set-shading', { mode: 'angle', angle: 40 })
    expect(
      createMeshFacts(cube)
        .hardEdges()
        .every((flag) => flag === 1),
    ).toBe(true)
    const edges = only(cube, 'convert-smoothing', { to: 'edges' })
    const groups = only(edges, 'convert-smoothing', { to: 'groups' })
    const masks = only(edges, 'convert-smoothing', { to: 'masks' })
    for (const mesh of [edges, groups, masks])
      expect([...createMeshFacts(mesh).hardEdges()]).toEqual([...createMeshFacts(cube).hardEdges()])
    // a cube's six faces need three groups, and no two that touch share one
    expect(new Set((groups.smoothing as { faceGroups: Int32Array }).faceGroups).size).toBe(3)
  })
  test('a hard edge inside a soft area is told, not lost in silence', () => {
    const mesh = gridOf(3, 3, { smoothing: { kind: 'edges', hardEdgePoints: Uint32Array.of(5, 6) } })
    expect(apply(sceneOf([mesh]), 'convert-smoothing', { to: 'groups' }).notes[0]).toMatch(
      /One hard edge of “part_1” ends inside/,
    )
  })
})

describe('steps and recipes', () => {
  test('a step shares every array it did not touch, and touches only the parts it is told to', () => {
    const scene = sceneOf([cubeOf(), cubeOf({}, 1, [5, 0, 0]), gridOf(2, 2)])
    const { scene: after } = apply(scene, 'set-shading', { mode: 'smooth' }, { parts: ['part_2'] })
    expect(after.meshes[0]).toBe(scene.meshes[0])
    expect(after.meshes[2]).toBe(scene.meshes[2])
    expect(after.meshes[1]!.points).toBe(scene.meshes[1]!.points)
    expect(after.meshes[1]!.uvSets).toBe(scene.meshes[1]!.uvSets)
  })
  test('a step can be limited to polygons', () => {
    const scene = sceneOf([cubeOf()])
    const done = apply(
      scene,
      'turn-faces',
      { mode: 'all' },
      { only: [{ node: scene.nodes[0]!.id, element: 'faces', elements: [2, 4] }] },
    )
    expect([done.changedCount, [...done.places[0]!.elements]]).toEqual([2, [2, 4]])
    expect(apply(done.scene, 'turn-faces').changedCount).toBe(2)
  })
  test('a recipe runs in order and says what each step did; what can’t be done is refused with its number', () => {
    const recipe = parseRecipe({
      name: 'ready',
      steps: [{ step: 'subdivide', params: { levels: 2 } }, { step: 'to-floor' }],
    })
    const { scene, records } = runRecipe(sceneOf([cubeOf({}, 1, [0, 3, 0])]), recipe)
    expect(records.map((record) => [record.step.step, record.changedCount])).toEqual([
      ['subdivide', 6],
      ['to-floor', 1],
    ])
    expect([faceCountOf(scene.meshes[0]!), boundsOf(scene.meshes[0]!.points)!.min[1]]).toEqual([96, 0])
    for (const [steps, words] of [
      [[{ step: 'melt' }], /Step 1, “melt”: There is no step “melt”/],
      [
        [{ step: 'to-floor' }, { step: 'subdivide', params: { levels: 9 } }],
        /Step 2.*“levels” takes a number from 1 to 5/,
      ],
      [[{ step: 'subdivide', params: { depth: 1 } }], /has no parameter “depth”/],
      [[{ step: 'subdivide', parts: ['nobody'] }], /There is no part “nobody”/],
    ] as const)
      expect(() => runRecipe(scene, parseRecipe({ steps }))).toThrow(words)
    for (const broken of [
      null,
      {},
      { steps: [1] },
      { steps: [{ params: {} }] },
      { steps: [{ step: 'weld', params: 3 }] },
    ])
      expect(() => parseRecipe(broken)).toThrow(/This is not a recipe/)
  })
  test('what fits one model only does not travel with a recipe', () => {
    const recipe = {
      name: 'x',
      steps: [
        { step: 'to-floor', params: {}, nodes: ['node-1'] },
        { step: 'set-normals', params: {}, parts: ['feather_*'] },
        {
          step: 'turn-faces',
          params: {},
          only: [{ node: 'node-1', element: 'faces' as const, elements: [1] }],
        },
      ],
    }
    expect(portableRecipe(recipe)).toEqual({
      name: 'x',
      steps: [
        // names and patterns mean something in any model; a number of this one's would mean every part
        { step: 'set-normals', params: {}, parts: ['feather_*'] },
      ],
    })
    expect(portableRecipe(recipe, (id) => (id === 'node-1' ? 'heron/beak' : null)).steps[0]).toEqual({
      step: 'to-floor',
      params: {},
      parts: ['heron/beak'],
    })
  })
  test('every step takes its defaults on the demo, and a second time finds nothing left or does the same again', () => {
    const needChoice = new Set(['remove-parts', 'remove-polygons', 'replace-material'])
    for (const step of STEPS) {
      if (needChoice.has(step.id)) {
        expect(() => apply(buildMooringBollard(), step.id)).toThrow(StepRefusal)
        continue
      }
      const params: RecipeStep['params'] = step.id === 'scale-to-size' ? { height: 1 } : {}
      const done = apply(buildMooringBollard(), step.id, params)
      expect([step.id, done.of.length > 0]).toEqual([step.id, true])
      for (const mesh of done.scene.meshes)
        expect([step.id, mesh.points.every(Number.isFinite)]).toEqual([step.id, true])
    }
  })
})

test('hard edges, UVs and creases of a cube survive being cut across and along', () => {
  const bar = meshOf(
    CUBE_POINTS.map(([x, y, z]) => [x * 30, y, z] as Point),
    CUBE_FACES,
    {
      uvSets: [
        uvsOf(
          CUBE_FACES.flatMap(
            (_face, at) =>
              [
                [at, 0],
                [at + 1, 0],
                [at + 1, 1],
                [at, 1],
              ] as [number, number][],
          ),
        ),
      ],
      creases: {
        edgePoints: Uint32Array.of(2, 3),
        edgeSharpness: Float64Array.of(4),
        cornerPoints: new Uint32Array(0),
        cornerSharpness: new Float64Array(0),
      },
      smoothing: { kind: 'edges', hardEdgePoints: Uint32Array.of(2, 3, 0, 1) },
    },
  )
  const split = only(bar, 'split-long-polygons', { aspect: 4 })
  const pieces = (pairs: Uint32Array): number => pairs.length / 2
  expect(pieces(split.creases!.edgePoints)).toBe(8)
  expect([...split.creases!.edgeSharpness]).toEqual(Array(8).fill(4))
  expect(pieces((split.smoothing as { hardEdgePoints: Uint32Array }).hardEdgePoints)).toBe(16)
  const areas = (mesh: Mesh): number => {
    const [set] = mesh.uvSets
    let sum = 0
    for (let face = 0; face < faceCountOf(mesh); face++) {
      const at = [0, 1, 2, 3].map((k) => 2 * set!.indices[4 * face + k]!)
      for (let k = 0; k < 4; k++)
        sum +=
          (set!.values[at[k]!]! * set!.values[at[(k + 1) % 4]! + 1]! -
            set!.values[at[(k + 1) % 4]!]! * set!.values[at[k]! + 1]!) /
          2
    }
    return sum
  }
  expect(areas(split)).toBeCloseTo(areas(bar), 9)
})
