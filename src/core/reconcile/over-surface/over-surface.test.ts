/** Traits over the nearest surface: against reference closest points, against linear fields, and on a model that was made anew. */
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { cubeOf, gridOf, materialOf, meshOf, sceneOf, type Point } from '../../../../tests/solids.ts'
import { buildBvh } from '../../base/math/bvh.ts'
import { recogniseReturn } from '../../compare/recognise/recognise-return.ts'
import { compareScenes } from '../../compare/compare-scenes.ts'
import { faceCountOf, type Mesh, type UvSet } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { carryOverSurface } from './over-surface.ts'
import { reconcile } from '../reconcile.ts'

// tests/reference/closest-point: brute force in doubles and closed forms; its README names how they were made
const folder = join(import.meta.dirname, '../../../../tests/reference/closest-point')
interface Case {
  readonly name: string
  readonly positions: readonly Point[]
  readonly triangles: readonly (readonly number[])[]
  readonly queries: readonly {
    readonly query: Point
    readonly face: number
    readonly barycentric: readonly number[]
    readonly point: Point
    readonly distance: number
    readonly ties: number
  }[]
}
const { cases } = JSON.parse(readFileSync(join(folder, 'cases.json'), 'utf8')) as { cases: Case[] }

describe('nearest places against reference values', () => {
  test.each(cases.map((entry) => [entry.name, entry] as const))(
    '%s',
    (_name, { positions, triangles, queries }) => {
      const tree = buildBvh(meshOf(positions, triangles))
      for (const { query, face, barycentric, point, distance, ties } of queries) {
        const found = tree.nearest(...query)!
        expect(Math.abs(found.distance - distance)).toBeLessThan(1e-9)
        if (ties > 1) continue
        expect(found.face).toBe(face)
        point.forEach((value, axis) => expect(Math.abs(found.point[axis]! - value)).toBeLessThan(1e-9))
        barycentric.forEach((value, at) => expect(Math.abs(found.shares[at]! - value)).toBeLessThan(1e-9))
      }
    },
  )
  test('only what is let pass', () => {
    const tree = buildBvh(gridOf(6, 6))
    expect(tree.nearest(0.5, 1, -0.5)!.face).toBe(0)
    expect(tree.nearest(0.5, 1, -0.5, (face) => face !== 0)!.face).not.toBe(0)
    expect(tree.nearest(0, 0, 0, () => false)).toBeNull()
    expect(buildBvh(meshOf([], [])).nearest(0, 0, 0)).toBeNull()
  })
})

/** Every trait is the master's, and nothing that came back says otherwise. */
const all = [() => true, () => false] as const
const emptySet = (mesh: Mesh): UvSet => ({ name: 'uv', values: new Float64Array(0), indices: new Int32Array(mesh.faceVertices.length).fill(-1), depths: null }) // prettier-ignore
const nothing = (target: Mesh) => ({
  points: new Int32Array(target.points.length / 3).fill(-1),
  sourcePoints: new Int32Array(0),
  faces: new Int32Array(faceCountOf(target)).fill(-1),
  corners: new Int32Array(target.faceVertices.length).fill(-1),
})

test('UVs that are linear over a square are the same linear ones over any other polygons of it', () => {
  // a square of one unit, eight by eight, onto five by seven
  const square = (columns: number, rows: number): Mesh => {
    const grid = gridOf(columns, rows)
    return { ...grid, points: grid.points.map((value, at) => (at % 3 === 0 ? value / columns : at % 3 === 2 ? value / rows : value)) } // prettier-ignore
  }
  const bare = square(5, 7)
  const target = { ...bare, uvSets: [emptySet(bare)] }
  const over = carryOverSurface(square(8, 8), target, nothing(target), ...all)!
  expect([over.faces, over.doubtful, over.acrossSeams]).toEqual([35, 0, 0])
  expect(over.farthest).toBeLessThan(1e-12)
  const [set] = over.mesh.uvSets
  target.faceVertices.forEach((point, corner) => {
    const uv = set!.indices[corner]!
    expect(set!.values[2 * uv]!).toBeCloseTo(target.points[3 * point]!, 12)
    expect(set!.values[2 * uv + 1]!).toBeCloseTo(-target.points[3 * point + 2]!, 12)
  })
})

test('a thin double shell: each side takes from the side that faces as it does', () => {
  const sheet = gridOf(4, 4)
  const over = { ...sheet, points: sheet.points.map((value, at) => (at % 3 === 1 ? value + 0.001 : value)) }
  const turned = (mesh: Mesh): Mesh => {
    const faceVertices = mesh.faceVertices.slice()
    for (let face = 0; face < faceCountOf(mesh); face++)
      faceVertices.subarray(4 * face, 4 * face + 4).reverse()
    return { ...mesh, faceVertices }
  }
  const both = (top: Mesh, below: Mesh): Mesh =>
    meshOf(
      [top, below].flatMap((mesh) => Array.from({ length: mesh.points.length / 3 }, (_p, at): Point => [mesh.points[3 * at]!, mesh.points[3 * at + 1]!, mesh.points[3 * at + 2]!])),
      [top, below].flatMap((mesh, at) => Array.from({ length: faceCountOf(mesh) }, (_f, face) => [...mesh.faceVertices.subarray(4 * face, 4 * face + 4)].map((point) => point + at * (top.points.length / 3)))),
    ) // prettier-ignore
  const master = {
    ...both(over, turned(sheet)),
    faceMaterials: Int32Array.from({ length: 32 }, (_face, at) => (at < 16 ? 0 : 1)),
  }
  // the same, the sides' heights swapped by a hair, so that distance alone would mix them
  const target = both(sheet, turned(over))
  const { mesh } = carryOverSurface(master, { ...target, uvSets: [] }, nothing(target), ...all)!
  expect(mesh.faceMaterials).toEqual(master.faceMaterials)
})

test('a model that was made anew: what is not taken is carried over, and it is told how well', () => {
  const red = materialOf('red')
  const box = (cells: number, more: Partial<Mesh> = {}): Mesh => {
    const points: Point[] = []
    const faces: number[][] = []
    const grid = gridOf(cells, cells)
    for (let side = 0; side < 2; side++) {
      const first = points.length
      for (let at = 0; at < grid.points.length; at += 3)
        points.push([grid.points[at]! / cells, side, grid.points[at + 2]! / cells])
      for (let face = 0; face < faceCountOf(grid); face++) {
        const corners = [...grid.faceVertices.subarray(4 * face, 4 * face + 4)].map((point) => point + first)
        faces.push(side ? corners : corners.reverse())
      }
    }
    return meshOf(points, faces, more)
  }
  const count = 2 * 36
  const master: Scene = {
    ...sceneOf([
      box(6, {
        faceMaterials: Int32Array.from({ length: count }, (_face, at) => (at < 36 ? 0 : 1)),
        smoothing: {
          kind: 'groups',
          faceGroups: Int32Array.from({ length: count }, (_face, at) => (at < 36 ? 3 : 7)),
        },
      }),
    ]),
    materials: [red, materialOf('blue')],
  }
  const returned: Scene = { ...master, meshes: [{ ...box(7), id: '' }], materials: [] }
  const found = recogniseReturn(master, returned)
  const ledger = compareScenes(master, found.returned, () => {}, found.matching)
  // nothing is promised before it was tried
  expect(ledger.rows[0]!.cells.materials!.note).toMatch(/^(lost-apart|lost-partly)$/)
  const { scene, findings } = reconcile(
    master,
    found.returned,
    { take: ['topology', 'points'] },
    () => {},
    found.matching,
  )
  const mesh = scene.meshes[0]!
  expect(faceCountOf(mesh)).toBe(98)
  for (let face = 0; face < 98; face++) {
    const top = mesh.points[3 * mesh.faceVertices[4 * face]! + 1] === 1
    expect(scene.materials[mesh.faceMaterials![face]!]!.name).toBe(top ? 'blue' : 'red')
    expect((mesh.smoothing as { faceGroups: Int32Array }).faceGroups[face]).toBe(top ? 7 : 3)
  }
  const told = findings.find(({ code }) => code === 'reconcile.over-surface')!
  expect(told.parameters).toMatchObject({ doubtful: 0 })
  expect(reconcile(master, master, { take: ['topology'] }).findings).toEqual([])
  expect(cubeOf().points.length).toBe(24)
})

describe('a polygon that lies over several of the master’s', () => {
  /** A row of four; the target's one polygon lies over all but a corner of the first, half of it over the last two. */
  const row = gridOf(4, 1)
  const one = meshOf([[0.9, 0, 0], [4, 0, 0], [4, 0, -1], [0.9, 0, -1]], [[0, 1, 2, 3]]) // prettier-ignore
  const over = (more: Partial<Mesh>, target = one) =>
    carryOverSurface({ ...row, uvSets: [], ...more }, { ...target, uvSets: [] }, nothing(target), ...all)!
  const values = [5, 3, 8, 8]
  test('has the material, group and smoothing of most of it', () => {
    const faceMaterials = Int32Array.from(values)
    expect([...over({ faceMaterials }).mesh.faceMaterials!]).toEqual([8])
    const groups = { names: ['a', 'b'], sets: [[0], [1]], faceSets: Int32Array.of(0, 0, 1, 1) }
    const grouped = over({ groups: { ...groups, faceSets: Int32Array.of(0, 1, 1, 1) } }).mesh.groups!
    expect(grouped.sets[grouped.faceSets[0]!]!.map((name) => grouped.names[name])).toEqual(['b'])
    const faceGroups = over({ smoothing: { kind: 'groups', faceGroups: Int32Array.from(values) } }).mesh
      .smoothing
    expect(faceGroups).toMatchObject({ faceGroups: Int32Array.of(8) })
    const masks = over({ smoothing: { kind: 'masks', faceMasks: Uint32Array.from(values) } as never }).mesh
      .smoothing
    expect(masks).toMatchObject({ faceMasks: Uint32Array.of(8) })
  })
  test('how far off the farthest is that took anything, and how many are doubtful', () => {
    const two = (height: number): Mesh =>
      meshOf(
        [[0, 0, 0], [1, 0, 0], [1, 0, -1], [0, 0, -1], [2, height, 0], [3, height, 0], [3, height, -1], [2, height, -1]], // prettier-ignore
        [[0, 1, 2, 3], [4, 5, 6, 7]], // prettier-ignore
      )
    const near = over({ faceMaterials: Int32Array.from(values) }, two(0.01))
    expect(near.farthest).toBeCloseTo(0.01, 12)
    expect([near.faces, near.doubtful]).toEqual([2, 0])
    const far = over({ faceMaterials: Int32Array.from(values) }, two(0.5))
    expect([far.faces, far.doubtful]).toEqual([2, 1])
    expect(far.farthest).toBeCloseTo(0.5, 12)
    expect(over({}, two(0.5)).farthest).toBe(0)
  })
})
