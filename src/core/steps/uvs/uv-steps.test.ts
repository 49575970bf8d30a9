import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { cubeOf, gridOf, meshOf, sceneOf, type Point } from '../../../../tests/solids.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { createMeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { buildMooringBollard } from '../../practice/demo/mooring-bollard.ts'
import { buildStormLantern } from '../../practice/demo/storm-lantern.ts'
import { runChecks } from '../../checks/run-checks.ts'
import type { Mesh, UvSet } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { findIslands } from '../../uv/find-islands.ts'
import { findOverlaps } from '../../uv/find-overlaps.ts'
import { isMapped, measureStretch, uvAreas } from '../../uv/uv-measures.ts'
import type { RecipeStep } from '../recipe.ts'
import { runStep } from '../run-steps.ts'
import { howMany } from '../../../../tests/how-many.ts'

const apply = (
  scene: Scene,
  step: string,
  params: RecipeStep['params'] = {},
  more: Partial<RecipeStep> = {},
) => runStep(scene, { step, params, ...more })

/** What has to be so of any UVs that were laid out: all mapped, the right way up, none over another, in the tile. */
function expectSound(scene: Scene, setName?: string): void {
  const parts = scene.meshes
    .filter(({ faceOffsets }) => faceOffsets.length > 1)
    .map((mesh) => ({ mesh, set: setOf(mesh, setName), chosen: null }))
  for (const { mesh, set } of parts) {
    uvAreas(mesh, set).forEach((area, face) => {
      const corners = mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]!
      if (corners > 2 && !(area > 0)) expect([mesh.name, face, area]).toEqual([mesh.name, face, 'above 0'])
      if (corners > 2 && !isMapped(mesh, set, face)) expect.fail(`${mesh.name}: polygon ${face} has no UVs`)
    })
    expect(set.values.filter((value) => !(value >= 0 && value <= 1))).toHaveLength(0)
  }
  expect(findOverlaps(parts).pairCount).toBe(0)
}

const setOf = (mesh: Mesh, name?: string): UvSet =>
  name === undefined ? mesh.uvSets[0]! : mesh.uvSets.find((set) => set.name === name)!

const islandsOf = (mesh: Mesh, name?: string): number => findIslands(mesh, setOf(mesh, name)).islandCount

const onlyMesh = (scene: Scene): Mesh => scene.meshes[0]!

/** A lumpy ball: closed, with triangles at its poles. */
function ball(rows: number, seed: number): Mesh {
  const chance = chanceOf(seed)
  const columns = 2 * rows
  const points: Point[] = [[0, 1, 0]]
  for (let row = 1; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const [a, b] = [(Math.PI * row) / rows, (2 * Math.PI * column) / columns]
      const out = 1 + 0.2 * (chance() - 0.5)
      points.push([out * Math.sin(a) * Math.cos(b), out * Math.cos(a), -out * Math.sin(a) * Math.sin(b)])
    }
  points.push([0, -1, 0])
  const at = (row: number, column: number): number =>
    row === 0 ? 0 : row === rows ? points.length - 1 : 1 + (row - 1) * columns + (column % columns)
  const faces: number[][] = []
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++)
      faces.push([
        ...new Set([at(row, column), at(row + 1, column), at(row + 1, column + 1), at(row, column + 1)]),
      ])
  return meshOf(points, faces)
}

/** A tube that is open at both ends: a ring of faces. */
function tube(columns: number, rows: number): Mesh {
  const points: Point[] = []
  for (let row = 0; row <= rows; row++)
    for (let column = 0; column < columns; column++) {
      const angle = (2 * Math.PI * column) / columns
      points.push([Math.cos(angle), row * 0.5, -Math.sin(angle)])
    }
  const faces: number[][] = []
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const next = (column + 1) % columns
      faces.push([
        row * columns + column,
        row * columns + next,
        (row + 1) * columns + next,
        (row + 1) * columns + column,
      ])
    }
  return meshOf(points, faces)
}

describe('unwrap', () => {
  test.each([
    ['bollard', buildMooringBollard],
    ['lantern', buildStormLantern],
    ['heron', buildCourierHeron],
  ] as const)('the %s lies flat with found seams, none of it stretched more than asked', (_name, build) => {
    const done = apply(build(), 'unwrap', { distortion: 10 })
    expectSound(done.scene)
    for (const mesh of done.scene.meshes) {
      const { area, angle } = measureStretch(createMeshFacts(mesh), mesh.uvSets[0]!)
      const middle = [...angle].sort((a, b) => a - b)[angle.length >> 1]!
      expect(middle).toBeLessThan(1.25)
      for (const value of area) expect(value).toBeGreaterThan(0.2)
    }
    // and the Bench finds nothing of what unwrapping is for
    const found = runChecks(done.scene, {
      checks: [
        'no-uvs',
        'uv-overlaps',
        'outside-tiles',
        'flipped-islands',
        'texel-density',
        'island-distance',
      ],
    })
    expect(found.map(({ check, problem }) => `${check} ${problem}`)).toEqual([])
  })
  test.each(['hardEdges', 'groups', 'materials', 'angle', 'existing'])('with the seams of %s', (seams) => {
    const done = apply(buildMooringBollard(), 'unwrap', { seams })
    expectSound(done.scene)
    expect(done.notes.some((note) => /islands? uses? \d/.test(note))).toBe(true)
  })
  test('a cube by its bends is six squares, a tube is cut once, a closed ball gets seams: told', () => {
    const cube = apply(sceneOf([cubeOf()]), 'unwrap', { seams: 'angle', angle: 60 })
    expect(islandsOf(onlyMesh(cube.scene))).toBe(6)
    const rolled = apply(sceneOf([tube(12, 4)]), 'unwrap', { seams: 'hardEdges' })
    expectSound(rolled.scene)
    expect(islandsOf(onlyMesh(rolled.scene))).toBe(1)
    expect(rolled.notes.join(' ')).toContain('1 piece was closed or had holes and was cut open.')
    // a cut tube is a rectangle: no stretch at all
    const { angle } = measureStretch(
      createMeshFacts(onlyMesh(rolled.scene)),
      onlyMesh(rolled.scene).uvSets[0]!,
    )
    for (const value of angle) expect(value).toBeCloseTo(1, 6)
    const round = apply(sceneOf([ball(8, 2)]), 'unwrap', { seams: 'materials' })
    expectSound(round.scene)
    expect(round.notes.join(' ')).toContain('cut open')
  })
  test('any lumpy ball, any bound, any method', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 3, max: 9 }),
        fc.integer(),
        fc.constantFrom(2, 5, 15, 40),
        fc.constantFrom('leastDistortion', 'angles', 'sizes'),
        (rows, seed, distortion, method) =>
          expectSound(apply(sceneOf([ball(rows, seed)]), 'unwrap', { distortion, method }).scene),
      ),
      { numRuns: howMany(4, 120) },
    )
  })
  test('few islands where much stretch is allowed, more where little is', () => {
    const counts = [2, 6, 20].map((distortion) =>
      islandsOf(onlyMesh(apply(sceneOf([ball(12, 5)]), 'unwrap', { distortion }).scene)),
    )
    expect(counts[0]).toBeGreaterThan(counts[1]!)
    expect(counts[1]).toBeGreaterThanOrEqual(counts[2]!)
  })
  test('never an island across face groups, where they are kept', () => {
    const grid = gridOf(6, 6, { uvSets: [] })
    const faceSets = Int32Array.from({ length: 36 }, (_, face) => (face % 6 < 3 ? 0 : 1))
    const scene = sceneOf([{ ...grid, groups: { names: ['left', 'right'], sets: [[0], [1]], faceSets } }])
    const islands = (keepGroups: boolean) => islandsOf(onlyMesh(apply(scene, 'unwrap', { keepGroups }).scene))
    expect([islands(false), islands(true)]).toEqual([1, 2])
  })
  test('into a set of its own beside the old one, or only what has none', () => {
    const before = buildMooringBollard()
    const beside = apply(before, 'unwrap', { set: 'fresh' }).scene
    expectSound(beside, 'fresh')
    before.meshes.forEach((mesh, at) => expect(beside.meshes[at]!.uvSets[0]).toBe(mesh.uvSets[0]))
    // polygons without UVs in the middle of a sheet
    const grid = gridOf(4, 4)
    const set = grid.uvSets[0]!
    const half: UvSet = {
      ...set,
      values: set.values.map((value) => value / 2),
      indices: set.indices.map((uv, corner) => (corner >= 40 ? -1 : uv)),
    }
    const filled = apply(sceneOf([{ ...grid, uvSets: [half] }]), 'unwrap', { onlyMissing: true })
    expectSound(filled.scene)
    expect(filled.changedCount).toBe(6)
    const after = onlyMesh(filled.scene).uvSets[0]!
    for (let corner = 0; corner < 40; corner++)
      for (const axis of [0, 1])
        expect(after.values[2 * after.indices[corner]! + axis]).toBe(
          half.values[2 * half.indices[corner]! + axis],
        )
  })
  test.each(['unwrap', 'project-uvs'])('%s goes into a first set without a name', (step) => {
    const grid = gridOf(2, 2)
    const done = onlyMesh(
      apply(sceneOf([{ ...grid, uvSets: [{ ...grid.uvSets[0]!, name: '' }] }]), step).scene,
    )
    expect(done.uvSets.map(({ name }) => name)).toEqual([''])
  })
  test('a given texel density is met; without packing islands keep the model’s size', () => {
    const scene = sceneOf([gridOf(4, 4, { uvSets: [] })])
    const dense = onlyMesh(apply(scene, 'unwrap', { density: 100, mapSize: 1024 }).scene)
    expect(uvAreas(dense, dense.uvSets[0]!)[0]).toBeCloseTo((100 / 1024) ** 2, 9)
    const loose = onlyMesh(apply(scene, 'unwrap', { pack: false }).scene)
    expect(uvAreas(loose, loose.uvSets[0]!)[0]).toBeCloseTo(1, 6)
    const large = apply(scene, 'unwrap', { density: 1000, mapSize: 1024 })
    // what reaches over the border uses no share of a tile
    expect(large.notes.join(' ')).toMatch(/^At this texel density one island is larger than a tile/)
    expect(large.notes.join(' ')).not.toContain('%')
    expect(apply(scene, 'unwrap', { density: 200, mapSize: 1024 }).notes.join(' ')).toMatch(
      /1 island uses \d+ %/,
    )
  })
  test('one part of several that share a map keeps off the others', () => {
    const laid = gridOf(4, 4)
    const half = { ...laid.uvSets[0]!, values: laid.uvSets[0]!.values.map((value) => value / 2) }
    const scene = sceneOf([{ ...laid, uvSets: [half] }, gridOf(3, 3, { name: 'bare', uvSets: [] })])
    const done = apply(scene, 'unwrap', { set: half.name }, { nodes: [scene.nodes[1]!.id] })
    expect(done.scene.meshes[0]).toBe(scene.meshes[0])
    expectSound(done.scene, half.name)
    // no room at all: told, and beside it
    const full = sceneOf([laid, gridOf(3, 3, { name: 'bare', uvSets: [] })])
    const beside = apply(full, 'unwrap', { set: half.name }, { nodes: [full.nodes[1]!.id] })
    expect(beside.notes.join(' ')).toContain(
      'There is no room beside the islands that stay; these lie in a tile that is free.',
    )
    for (const [at, value] of beside.scene.meshes[1]!.uvSets[0]!.values.entries())
      if (at % 2 === 0) expect(value).toBeGreaterThanOrEqual(1)
  })
  test('small polygons far apart have a shape all the same; thousands of islands lie by their boxes', () => {
    const count = 5000
    const points: Point[] = []
    const faces: number[][] = []
    for (let at = 0; at < count; at++) {
      const x = 100 * at
      points.push([x, 0, 0], [x + 1, 0, 0], [x + 1, 1 + (at % 3), 0], [x, 1 + (at % 3), 0])
      faces.push([4 * at, 4 * at + 1, 4 * at + 2, 4 * at + 3])
    }
    const done = apply(sceneOf([meshOf(points, faces)]), 'unwrap', { padding: 0 })
    expect(done.notes.join(' ')).not.toContain('no shape')
    expectSound(done.scene)
    const set = onlyMesh(done.scene).uvSets[0]!
    const areas = uvAreas(onlyMesh(done.scene), set)
    for (let at = 1; at < 3; at++) expect(areas[at]! / areas[0]!).toBeCloseTo(1 + at, 6)
  })
  test('bad input: no size, doubled corners, several sides on an edge, NaN, nothing', () => {
    const points: Point[] = [
      [0, 0, 0],
      [1, 0, 0],
      [1, 1, 0],
      [0, 1, 0],
      [0.5, 0.5, 1],
      [2, 0, 0],
      [0, 0, 0],
      [0, 0, 0],
    ]
    const odd: [string, number[][], RegExp | null][] = [
      ['no size', [[0, 6, 7]], /no shape that can be laid flat/],
      ['a line', [[0, 1, 5]], /no shape that can be laid flat/],
      [
        'three on a side',
        [
          [0, 1, 2],
          [0, 1, 4],
          [1, 0, 3],
        ],
        /meet in no flat way/,
      ],
      [
        'two the same',
        [
          [0, 1, 2],
          [0, 1, 2],
        ],
        /meet in no flat way/,
      ],
      [
        'facing each other',
        [
          [0, 1, 2, 3],
          [3, 2, 1, 0],
        ],
        null,
      ],
      ['a corner twice', [[0, 1, 1, 2]], null],
    ]
    for (const [name, faces, note] of odd) {
      const done = apply(sceneOf([meshOf(points, faces)]), 'unwrap')
      expectSound(done.scene)
      if (note) expect([name, done.notes.join(' ')]).toEqual([name, expect.stringMatching(note)])
    }
    const broken = apply(sceneOf([meshOf([[NaN, 0, 0], ...points.slice(1)], [[0, 1, 2, 3]])]), 'unwrap')
    expectSound(broken.scene)
    expect(broken.notes.join(' ')).toContain('1 point has coordinates that are no numbers')
    expect(apply(sceneOf([meshOf([], [])]), 'unwrap').changedCount).toBe(0)
  })
})

describe('what every UV check finds is mended by its mend', () => {
  const grid = gridOf(4, 4)
  const uv = (change: (u: number, v: number, corner: number) => [number, number]): Mesh => {
    const set = grid.uvSets[0]!
    const values: number[] = []
    grid.faceVertices.forEach((_, corner) =>
      values.push(
        ...change(set.values[2 * set.indices[corner]!]!, set.values[2 * set.indices[corner]! + 1]!, corner),
      ),
    )
    return {
      ...grid,
      uvSets: [
        {
          ...set,
          values: Float64Array.from(values),
          indices: Int32Array.from(grid.faceVertices, (_, at) => at),
        },
      ],
    }
  }
  const cases: [string, string, Scene][] = [
    ['no-uvs', 'none', sceneOf([{ ...grid, uvSets: [] }])],
    [
      'no-uvs',
      'some',
      sceneOf([
        {
          ...grid,
          uvSets: [
            {
              ...grid.uvSets[0]!,
              indices: grid.uvSets[0]!.indices.map((at, corner) => (corner < 16 ? -1 : at)),
            },
          ],
        },
      ]),
    ],
    ['outside-tiles', 'outside', sceneOf([uv((u, v) => [u * 0.5 + 3, v * 0.5])])],
    ['outside-tiles', 'across', sceneOf([uv((u, v) => [u * 3 + 0.1, v * 3 + 0.1])])],
    ['flipped-islands', 'flipped', sceneOf([uv((u, v) => [1 - u, v])])],
    ['flipped-islands', 'folded', sceneOf([uv((u, v) => [Math.abs(u - 0.3), v])])],
    ['zero-uv-faces', 'faces', sceneOf([uv((u, v) => [Math.min(u, 0.5), v])])],
    ['zero-uv-faces', 'faces', sceneOf([uv(() => [0.5, 0.5])])],
    ['uv-stretch', 'angle', sceneOf([uv((u, v) => [u * 0.1, v])])],
    [
      'uv-overlaps',
      'own',
      sceneOf([uv((u, v, corner) => [corner < 32 ? u : u + 0.02, corner < 32 ? v * 0.5 : (v - 0.5) * 0.5])]),
    ],
    [
      'uv-overlaps',
      'own',
      sceneOf([uv((u, v) => [0.5 + 0.4 * v * Math.cos(12 * u), 0.5 + 0.4 * v * Math.sin(12 * u)])]),
    ],
  ]
  test.each(cases)('%s: %s', (check, problem, scene) => {
    const found = runChecks(scene, { checks: [check] }).find((one) => one.problem === problem)!
    expect(found).toBeDefined()
    expect(found.fix).not.toBeNull()
    const done = apply(scene, found.fix!.step, found.fix!.params)
    expect(done.changedCount).toBeGreaterThan(0)
    expect(runChecks(done.scene, { checks: [check] }).filter((one) => one.problem === problem)).toEqual([])
    expect(uvAreas(onlyMesh(done.scene), onlyMesh(done.scene).uvSets[0]!).every((area) => area > 0)).toBe(
      true,
    )
  })
  test('a nick is sewn, and nothing else moves far', () => {
    // one side of one quad is off in the middle of the sheet
    const nicked = uv((u, v, corner) => (corner === 4 * 5 + 2 ? [u + 0.02, v + 0.02] : [u, v]))
    const scene = sceneOf([nicked])
    const found = runChecks(scene, { checks: ['tiny-cuts'] })
    expect(found.map(({ problem }) => problem)).toEqual(['nicks'])
    const done = apply(scene, found[0]!.fix!.step, found[0]!.fix!.params)
    expect(runChecks(done.scene, { checks: ['tiny-cuts'] })).toEqual([])
  })
})

describe('layouts that are there', () => {
  test('packing keeps every island’s shape and seams', () => {
    const before = buildStormLantern()
    const { scene } = apply(before, 'pack-islands', { padding: 6, mapSize: 1024 })
    before.meshes.forEach((mesh, at) => {
      expect(islandsOf(scene.meshes[at]!)).toBe(islandsOf(mesh))
      const [was, is] = [mesh, scene.meshes[at]!].map(
        (own) => measureStretch(createMeshFacts(own), own.uvSets[0]!).angle,
      )
      is!.forEach((value, face) => expect(value).toBeCloseTo(was![face]!, 6))
    })
    expect(runChecks(scene, { checks: ['uv-overlaps', 'outside-tiles', 'texel-density'] })).toEqual([])
    expect(
      runChecks(scene, { checks: ['island-distance'], settings: { paddingPixels: 6, mapSize: 1024 } }),
    ).toEqual([])
  })
  test('twins lie on each other, mirrored ones too where that is wanted; tiles by material', () => {
    const heron = buildCourierHeron()
    const stacked = apply(heron, 'pack-islands', { stackTwins: 'mirrored' })
    expect(stacked.notes.join(' ')).toMatch(/\d+ islands lie on their twins/)
    const tiles = apply(heron, 'pack-islands', { by: 'material' }).scene
    const columnOf = new Map<number, Set<number>>()
    for (const mesh of tiles.meshes) {
      const set = mesh.uvSets[0]!
      const { faceIslands } = findIslands(mesh, set)
      const materialOf = new Map<number, number>()
      faceIslands.forEach((island, face) => {
        const material = mesh.faceMaterials?.[face] ?? -1
        if (!materialOf.has(island)) materialOf.set(island, material)
        const column = Math.floor(set.values[2 * set.indices[mesh.faceOffsets[face]!]!]!)
        const own = materialOf.get(island)!
        columnOf.set(own, (columnOf.get(own) ?? new Set()).add(column))
      })
    }
    for (const columns of columnOf.values()) expect(columns.size).toBe(1)
    expect(new Set([...columnOf.values()].flatMap((own) => [...own])).size).toBe(columnOf.size)
  })
  test('relaxing lowers stretch where it lies, and a held border stays', () => {
    const bent = gridOf(6, 6, { uvSets: [] }, (x, z) => Math.sin(x) * Math.cos(z))
    const flat = onlyMesh(apply(sceneOf([bent]), 'project-uvs', { from: 'y' }).scene)
    const stretch = (mesh: Mesh): number =>
      Math.max(...measureStretch(createMeshFacts(mesh), mesh.uvSets[0]!).angle)
    const free = onlyMesh(apply(sceneOf([flat]), 'relax-uvs').scene)
    expect(stretch(free)).toBeLessThan(stretch(flat))
    const held = onlyMesh(apply(sceneOf([flat]), 'relax-uvs', { borders: 'kept' }).scene)
    const border = new Set<number>()
    const { edgeCount, edgePoints, edgeSides } = createMeshFacts(flat).edges()
    for (let edge = 0; edge < edgeCount; edge++)
      if (edgeSides[edge] === 1) border.add(edgePoints[2 * edge]!).add(edgePoints[2 * edge + 1]!)
    flat.faceVertices.forEach((point, corner) => {
      if (!border.has(point)) return
      for (const axis of [0, 1])
        expect(held.uvSets[0]!.values[2 * held.uvSets[0]!.indices[corner]! + axis]).toBeCloseTo(
          flat.uvSets[0]!.values[2 * flat.uvSets[0]!.indices[corner]! + axis]!,
          12,
        )
    })
  })
  test('turned strips come upright and straight', () => {
    const strap = gridOf(8, 2, { uvSets: [] }, (x) => Math.sin(x / 2))
    const laid = apply(sceneOf([strap]), 'unwrap').scene
    const straight = onlyMesh(apply(laid, 'straighten-islands').scene)
    const set = straight.uvSets[0]!
    for (let face = 0; face < 16; face++)
      for (let k = 0; k < 4; k++) {
        const [a, b] = [k, (k + 1) % 4].map((corner) => 2 * set.indices[4 * face + corner]!) as [
          number,
          number,
        ]
        const [du, dv] = [set.values[b]! - set.values[a]!, set.values[b + 1]! - set.values[a + 1]!]
        expect(Math.min(Math.abs(du), Math.abs(dv))).toBeLessThan(1e-9)
      }
    const upright = gridOf(3, 7, { uvSets: [] })
    const standing = meshOf(
      Array.from({ length: upright.points.length / 3 }, (_, at): Point => [
        upright.points[3 * at]!,
        -upright.points[3 * at + 2]!,
        0,
      ]),
      Array.from({ length: 21 }, (_, face) => [...upright.faceVertices.subarray(4 * face, 4 * face + 4)]),
    )
    const turned = onlyMesh(apply(apply(sceneOf([standing]), 'unwrap').scene, 'orient-islands').scene)
    // what is higher on the part is higher in the UVs
    const uvs = turned.uvSets[0]!
    const heights = Array.from(turned.faceVertices, (point, corner) => [
      turned.points[3 * point + 1]!,
      uvs.values[2 * uvs.indices[corner]! + 1]!,
    ]).sort((a, b) => a[0]! - b[0]!)
    for (let at = 1; at < heights.length; at++)
      expect(heights[at]![1]!).toBeGreaterThanOrEqual(heights[at - 1]![1]! - 1e-9)
  })
  test('cut along chosen edges and sewn again; an island a group, a group an island', () => {
    const grid = gridOf(4, 4)
    const middle = Array.from({ length: 4 }, (_, row) => [row * 5 + 2, (row + 1) * 5 + 2]).flat()
    const scene = sceneOf([grid])
    const only = [{ node: scene.nodes[0]!.id, element: 'edges' as const, elements: middle }]
    const cut = apply(scene, 'cut-uvs', {}, { only })
    expect(islandsOf(onlyMesh(cut.scene))).toBe(2)
    const sewn = apply(cut.scene, 'sew-uvs', {}, { only })
    expect(islandsOf(onlyMesh(sewn.scene))).toBe(1)
    expect(sewn.notes.join(' ')).toContain('4 edges')
    expect(
      findOverlaps([{ mesh: onlyMesh(sewn.scene), set: onlyMesh(sewn.scene).uvSets[0]!, chosen: null }])
        .pairCount,
    ).toBe(0)
    expect(apply(scene, 'cut-uvs').notes).toEqual(['No edges are chosen.'])
    expect(apply(scene, 'sew-uvs').notes).toEqual(['No seams are chosen.'])
    const grouped = apply(cut.scene, 'groups-from-islands').scene
    expect(onlyMesh(grouped).groups!.names).toEqual(['island_1', 'island_2'])
    const again = sceneOf([{ ...grid, groups: onlyMesh(grouped).groups }])
    expect(islandsOf(onlyMesh(apply(again, 'islands-from-groups').scene))).toBe(2)
  })
  test('sets are copied and removed, told where maps go by them', () => {
    const scene = sceneOf([gridOf(2, 2)])
    const copied = apply(scene, 'copy-uv-set', { to: 'second' }).scene
    expect(onlyMesh(copied).uvSets.map(({ name }) => name)).toEqual([
      onlyMesh(scene).uvSets[0]!.name,
      'second',
    ])
    expect(onlyMesh(apply(copied, 'remove-uv-set', { set: 'second' }).scene).uvSets).toHaveLength(1)
    expect(onlyMesh(apply(copied, 'remove-uv-set').scene).uvSets).toHaveLength(1)
  })
  test('lines keep the UVs they go by', () => {
    const grid = gridOf(2, 2)
    const lines = { offsets: Uint32Array.of(0, 2), points: Uint32Array.of(0, 1), uvs: Int32Array.of(3, 5) }
    const before = grid.uvSets[0]!
    const done = onlyMesh(apply(sceneOf([{ ...grid, lines }]), 'unwrap').scene)
    done.lines!.uvs.forEach((uv, at) =>
      expect([...done.uvSets[0]!.values.subarray(2 * uv, 2 * uv + 2)]).toEqual([
        ...before.values.subarray(2 * lines.uvs[at]!, 2 * lines.uvs[at]! + 2),
      ]),
    )
  })
})
