import { describe, expect, test } from 'vitest'
import { CUBE, CUBE_MTL, file, readText } from '../../../tests/meshes.ts'
import { buildStormLantern } from '../practice/demo/storm-lantern.ts'
import { renumberMesh } from '../practice/standins/sculptor.ts'
import type { Mesh } from '../scene/mesh.ts'
import type { Scene } from '../scene/scene.ts'
import { compareScenes } from './compare-scenes.ts'
import { createNearestPoints } from './match/evidence/nearest-points.ts'
import { matchPositions } from './match/match-positions.ts'
import { noteText, TRAITS, type Trait } from './traits/registry.ts'

const cube = (): Scene => readText(CUBE, { unitMeters: 0.01 }, [file('cube.mtl', CUBE_MTL)]).scene
const withMesh = (scene: Scene, change: (mesh: Mesh) => Partial<Mesh>): Scene => ({
  ...scene,
  meshes: scene.meshes.map((mesh) => ({ ...mesh, ...change(mesh) })),
})
const cellsOf = (a: Scene, b: Scene) => compareScenes(a, b).rows[0]!.cells
/** Traits whose state is not "same". */
const differing = (a: Scene, b: Scene): Partial<Record<Trait, string>> =>
  Object.fromEntries(
    Object.entries(cellsOf(a, b))
      .filter(([, cell]) => cell!.state !== 'same')
      .map(([trait, cell]) => [trait, cell!.state]),
  )
const replaced = (array: Float64Array, at: number, value: number): Float64Array => {
  const copy = array.slice()
  copy[at] = value
  return copy
}

test('a model compared with itself is the same in every trait', () => {
  expect(differing(cube(), cube())).toEqual({})
  expect(compareScenes(cube(), cube()).scene.state).toBe('same')
})

describe('one change shows in its own trait and in no other', () => {
  test('a moved point, with how far and which', () => {
    const moved = withMesh(cube(), (mesh) => ({ points: replaced(mesh.points, 3, 1.25) }))
    expect(differing(cube(), moved)).toEqual({ points: 'changed' })
    const cell = cellsOf(cube(), moved).points!
    expect([cell.changedCount, cell.totalCount, cell.deviation]).toEqual([1, 8, 0.25])
    expect([...cell.places!.master]).toEqual([1])
    expect(noteText(cell.note, cell.parameters)).toBe('1 of 8 points moved, the farthest by 0.25 cm.')
  })
  test('a point within the tolerance, and just past it', () => {
    const diagonal = Math.sqrt(3)
    const nudged = (share: number) =>
      withMesh(cube(), (mesh) => ({ points: replaced(mesh.points, 3, 1 + share * diagonal) }))
    expect(differing(cube(), nudged(0.9e-6))).toEqual({ points: 'within' })
    expect(differing(cube(), nudged(1.1e-6))).toEqual({ points: 'changed' })
  })
  test('a moved UV', () => {
    const uvs = (value: number) =>
      withMesh(cube(), (mesh) => ({
        uvSets: [{ ...mesh.uvSets[0]!, values: replaced(mesh.uvSets[0]!.values, 8, value) }],
      }))
    expect(differing(cube(), uvs(0.6))).toEqual({ uvs: 'changed' })
    expect(cellsOf(cube(), uvs(0.6)).uvs!.changedCount).toBe(1)
    expect(differing(cube(), uvs(0.5 + 5e-7))).toEqual({ uvs: 'within' })
  })
  test('UVs stored once a corner instead of shared are the same UVs', () => {
    const split = withMesh(cube(), (mesh) => {
      const [set] = mesh.uvSets
      const values = new Float64Array(set!.indices.length * 2)
      set!.indices.forEach((uv, corner) => values.set(set!.values.subarray(2 * uv, 2 * uv + 2), 2 * corner))
      return { uvSets: [{ ...set!, values, indices: set!.indices.map((_uv, corner) => corner) }] }
    })
    expect(differing(cube(), split)).toEqual({})
  })
  test('smoothing groups renumbered, one edge softened, none left', () => {
    const groups = (...faceGroups: number[]) =>
      withMesh(cube(), () => ({ smoothing: { kind: 'groups', faceGroups: Int32Array.from(faceGroups) } }))
    expect(differing(cube(), groups(9, 8, 7, 7, 7, 0))).toEqual({ smoothing: 'within' })
    const softened = cellsOf(cube(), groups(4, 2, 4, 4, 4, 0)).smoothing!
    expect([softened.state, softened.parameters.changed, softened.totalCount]).toEqual(['changed', 3, 10])
    // the lid's edges to the three walls of group 4
    expect([...softened.places!.master].sort()).toEqual([4, 5, 5, 6, 6, 7])
    const lost = cellsOf(
      cube(),
      withMesh(cube(), () => ({ smoothing: null })),
    ).smoothing!
    expect([lost.state, noteText(lost.note, lost.parameters)]).toEqual([
      'lost',
      '10 hard edges came back without smoothing; they can be restored.',
    ])
  })
  test('creases: changed sharpness, lost, gained', () => {
    const creases = (...edgeSharpness: number[]) =>
      withMesh(cube(), (mesh) => ({
        creases: { ...mesh.creases!, edgeSharpness: Float64Array.from(edgeSharpness) },
      }))
    expect(differing(cube(), creases(2.5, 2.50005))).toEqual({ creases: 'within' })
    const cell = cellsOf(cube(), creases(2.5, 3)).creases!
    expect([cell.state, cell.changedCount, cell.deviation, [...cell.places!.master]]).toEqual([
      'changed',
      1,
      0.5,
      [5, 6],
    ])
    const none = withMesh(cube(), () => ({ creases: null }))
    expect(differing(cube(), none)).toEqual({ creases: 'lost' })
    expect(differing(none, cube())).toEqual({ creases: 'gained' })
  })
  test('normals turned', () => {
    const normals = (degrees: number) =>
      withMesh(cube(), (mesh) => ({
        normals: {
          values: Float64Array.of(
            0,
            Math.sin((degrees * Math.PI) / 180),
            Math.cos((degrees * Math.PI) / 180),
          ),
          indices: new Int32Array(mesh.faceVertices.length),
        },
      }))
    expect(differing(normals(0), normals(0.005))).toEqual({ normals: 'within' })
    const cell = cellsOf(normals(0), normals(30)).normals!
    expect([cell.state, cell.changedCount]).toEqual(['changed', 24])
    expect(cell.deviation).toBeCloseTo(Math.PI / 6, 12)
    expect(differing(normals(0), cube())).toEqual({ normals: 'lost' })
  })
  test('materials by face, and their parameters', () => {
    const swapped = withMesh(cube(), (mesh) => ({
      faceMaterials: mesh.faceMaterials!.map((m, face) => (face === 2 ? 0 : m)),
    }))
    expect(differing(cube(), swapped)).toEqual({ materials: 'changed' })
    expect(cellsOf(cube(), swapped).materials!.changedCount).toBe(1)
    const bare = readText(CUBE, { unitMeters: 0.01 }).scene
    expect(differing(cube(), bare)).toEqual({ surfaces: 'lost' })
    const dull = readText(CUBE, { unitMeters: 0.01 }, [
      file('cube.mtl', CUBE_MTL.replace('Pm 1', 'Pm 0')),
    ]).scene
    expect(cellsOf(cube(), dull).surfaces!).toMatchObject({
      state: 'changed',
      changedCount: 1,
      totalCount: 2,
    })
  })
  test('groups', () => {
    const renamed = readText(CUBE.replace('g lid', 'g top'), { unitMeters: 0.01 }, [
      file('cube.mtl', CUBE_MTL),
    ]).scene
    expect(differing(cube(), renamed)).toEqual({ groups: 'changed' })
    expect(cellsOf(cube(), renamed).groups!.parameters).toEqual({
      changed: 1,
      total: 6,
      names: '; 1 group name is new; 1 group name is gone',
    })
  })
  test('a name', () => {
    const renamed = readText(CUBE.replace('o crate', 'o box'), { unitMeters: 0.01 }, [
      file('cube.mtl', CUBE_MTL),
    ]).scene
    expect(differing(cube(), renamed)).toEqual({ names: 'changed' })
  })
  test('polygons: one cut, one turned', () => {
    const cut = readText(CUBE.replace('f 4/1 1/2 5/3 8/5\n', 'f 4/1 1/2 5/3\nf 4/1 5/3 8/5\n'), {
      unitMeters: 0.01,
    }).scene
    const cell = cellsOf(cube(), cut).topology!
    expect([cell.state, cell.parameters, [...cell.places!.master], [...cell.places!.returned]]).toEqual([
      'changed',
      { changed: 1, total: 6, splitOff: 0 },
      [5],
      [5, 6],
    ])
    const turned = readText(CUBE.replace('f 5/1 6/2 7/3 8/4', 'f 8/4 7/3 6/2 5/1'), {
      unitMeters: 0.01,
    }).scene
    expect(cellsOf(cube(), turned).topology!).toMatchObject({ state: 'changed', changedCount: 1 })
    expect([...cellsOf(cube(), turned).topology!.places!.master]).toEqual([0])
  })
  test('vertex colours', () => {
    const text = (red: string) => `v 0 0 0 ${red} 0 0\nv 1 0 0 0 0 0\nv 0 1 0 0 0 0\nf 1 2 3\n`
    expect(differing(readText(text('1')).scene, readText(text('0.5')).scene)).toEqual({ colours: 'changed' })
    expect(
      differing(readText(text('1')).scene, readText('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n').scene),
    ).toEqual({ colours: 'lost' })
  })
})

test('renumbered but otherwise the same: everything is still found and equal', () => {
  const scene = buildStormLantern()
  const renumbered = { ...scene, meshes: scene.meshes.map((mesh, index) => renumberMesh(mesh, index)) }
  for (const row of compareScenes(scene, renumbered).rows) {
    const states = TRAITS.filter((trait) => trait !== 'scene').map((trait) => row.cells[trait]!.state)
    expect([row.name, new Set(states)]).toEqual([row.name, new Set(['within', 'same'])])
    expect(row.cells.topology!.note).toBe('renumbered')
  }
})

test('parts that did not come back are lost, new ones gained', () => {
  const scene = buildStormLantern()
  const ledger = compareScenes(scene, { ...scene, nodes: scene.nodes.slice(1) })
  expect(ledger.rows.find((row) => row.name === 'tank')!.cells.points!.state).toBe('lost')
  const other = compareScenes({ ...scene, nodes: scene.nodes.slice(1) }, scene)
  expect(other.rows.find((row) => row.name === 'tank')!.cells.uvs!.state).toBe('gained')
})

test('units: brought together where both are known, not assumed where one is not', () => {
  const meters = { ...cube(), space: { ...cube().space, unitMeters: 1 } }
  const inMeters = withMesh(meters, (mesh) => ({ points: mesh.points.map((value) => value / 100) }))
  expect(cellsOf(cube(), inMeters).points!.state).toMatch(/same|within/)
  expect(compareScenes(cube(), inMeters).scene).toMatchObject({
    state: 'changed',
    parameters: { what: 'unit' },
  })
  expect(cellsOf(cube(), meters).points!.state).toBe('changed')
  const unknown = { ...cube(), space: { ...cube().space, unitMeters: null } }
  expect(compareScenes(cube(), unknown).scene.state).toBe('incomparable')
  expect(cellsOf(cube(), unknown).points!.state).toBe('same')
})

test('a search with a reach that is nothing beside where it looks ends, and finds what lies on the spot', () => {
  const points = Float64Array.of(1000, 0, 0, 1000, 0, 0.5, 2, 2, 2)
  expect(createNearestPoints(points).nearest(1000, 0, 0, 1e-200).best).toBe(0)
  expect([...matchPositions(points, points, 1e-20)]).toEqual([0, 1, 2])
})
