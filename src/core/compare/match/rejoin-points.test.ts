/** Parts that came back with points split at seams, at hard edges, or at every corner. */
import { describe, expect, test } from 'vitest'
import { cubeOf, gridOf, meshOf, sceneOf } from '../../../../tests/solids.ts'
import { buildStormLantern } from '../../practice/demo/storm-lantern.ts'
import { triangulateScene } from '../../formats/arrange/arrange-scene.ts'
import { reconcile } from '../../reconcile/reconcile.ts'
import { pointCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { splitCorners } from '../../practice/standins/engine.ts'
import { carvePoints } from '../../practice/faults/carve-points.ts'
import { runStep } from '../../steps/run-steps.ts'
import { compareScenes } from '../compare-scenes.ts'
import { fingerprintScene } from '../fingerprint.ts'
import { correspond } from './correspond.ts'

/** Every corner with a point of its own, as files of triangles alone have it. */
function exploded(mesh: Mesh): Mesh {
  const points = new Float64Array(3 * mesh.faceVertices.length)
  mesh.faceVertices.forEach((point, corner) =>
    points.set(mesh.points.subarray(3 * point, 3 * point + 3), 3 * corner),
  )
  return {
    ...mesh,
    points,
    faceVertices: Uint32Array.from(mesh.faceVertices.keys()),
    smoothing: null,
    creases: null,
  }
}
const split = (scene: Scene, by: (mesh: Mesh) => Mesh): Scene => ({ ...scene, meshes: scene.meshes.map(by) })
const notes = (master: Scene, returned: Scene, ...traits: ('topology' | 'points' | 'uvs' | 'materials')[]) =>
  compareScenes(master, returned).rows.map(({ cells }) =>
    traits.map((trait) => (cells[trait]!.empty ? 'none' : cells[trait]!.note)),
  )

describe('split points', () => {
  const lantern = buildStormLantern()
  const all = ['topology', 'points', 'uvs', 'materials'] as const
  test('at every corner: the same polygons, and nothing on them has changed', () => {
    for (const row of notes(lantern, split(lantern, exploded), ...all))
      expect(row).toEqual(['points-split', 'same', 'same', 'same'])
  })
  test('at seams and hard edges, of triangles: all polygons are there, in pieces', () => {
    const returned = split(triangulateScene(lantern), splitCorners)
    for (const row of notes(lantern, returned, ...all))
      expect(row).toEqual(['polygons-cut', 'same', 'same', 'same'])
    const tank = compareScenes(lantern, returned).rows[0]!.cells.topology!
    expect(tank.parameters.splitOff).toBeGreaterThan(0)
    // the master's own wins where nothing is taken, and polygons that are taken hang together again
    const { scene } = reconcile(lantern, returned, { take: [] })
    expect(fingerprintScene(scene)).toEqual(fingerprintScene(lantern))
    const taken = reconcile(lantern, returned, { take: ['topology'] }).scene
    expect(taken.meshes.map(pointCountOf)).toEqual(lantern.meshes.map(pointCountOf))
    expect(notes(lantern, taken, 'uvs', 'materials').flat()).not.toContain('uvs-moved')
  })
  test('and moved besides: found by how the polygons hang together', () => {
    const [tank] = lantern.meshes
    const moved = exploded({ ...tank!, points: carvePoints(tank!, 0.01) })
    const found = correspond(tank!, moved)
    expect([found.kind, found.matchedFaceCount]).toEqual(['connectivity', tank!.faceOffsets.length - 1])
    expect(found.joinedPoints!.filter((first, point) => first === point)).toHaveLength(pointCountOf(tank!))
  })
  test('points that the master has twice stay two', () => {
    // two triangles that touch along an edge without sharing it
    const doubled = meshOf(
      [[0, 0, 0], [1, 0, 0], [0, 1, 0], [1, 0, 0], [0, 1, 0], [1, 1, 0]],
      [[0, 1, 2], [3, 5, 4]],
    ) // prettier-ignore
    const found = correspond(doubled, { ...doubled, points: doubled.points.map((value) => value + 1e-9) })
    expect([found.kind, found.joinedPoints]).toEqual(['index', null])
    const renumbered = meshOf(
      [[1, 1, 0], [0, 0, 0], [1, 0, 0], [0, 1, 0], [1, 0, 0], [0, 1, 0]],
      [[1, 2, 3], [4, 0, 5]],
    ) // prettier-ignore
    expect(correspond(doubled, renumbered).joinedPoints).toBeNull()
  })
  test('polygons that the tool made may touch known ones without being joined to them', () => {
    const cube = cubeOf()
    const tile = gridOf(1, 1)
    const count = pointCountOf(cube)
    const both = meshOf(
      [...cube.points, ...tile.points].reduce<[number, number, number][]>(
        (points, value, at) => (at % 3 ? points.at(-1)!.push(value) : points.push([value] as never), points),
        [],
      ),
      [
        ...Array.from({ length: 6 }, (_face, at) => [...cube.faceVertices.subarray(4 * at, 4 * at + 4)]),
        [...tile.faceVertices].map((point) => point + count),
      ],
    )
    const found = correspond(cube, both)
    expect([found.matchedFaceCount, found.joinedPoints]).toEqual([6, null])
    const { scene } = reconcile(sceneOf([cube]), sceneOf([both]), { take: ['topology', 'points'] })
    expect(pointCountOf(scene.meshes[0]!)).toBe(count + 4)
  })
  test('the other way round: points that the tool welded share one, and no crease is lost by it', () => {
    // two quads that touch along an edge without sharing its points; the edge is creased on both sides
    const apart = meshOf(
      [[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0], [1, 0, 0], [2, 0, 0], [2, 1, 0], [1, 1, 0]],
      [[0, 1, 2, 3], [4, 5, 6, 7]],
      {
        creases: {
          edgePoints: Uint32Array.of(1, 2, 4, 7),
          edgeSharpness: Float64Array.of(3, 3),
          cornerPoints: new Uint32Array(0),
          cornerSharpness: new Float64Array(0),
        },
      },
    ) // prettier-ignore
    const master = sceneOf([apart])
    const { scene: welded } = runStep(master, { step: 'weld-by-distance', params: {} })
    expect(pointCountOf(welded.meshes[0]!)).toBe(6)
    const { cells } = compareScenes(master, welded).rows[0]!
    expect([cells.topology!.note, cells.topology!.parameters]).toEqual([
      'points-welded',
      { welded: 2, lost: 0, added: 0 },
    ])
    expect([cells.points!.state, cells.creases!.state]).toEqual(['same', 'same'])
    const bare = { ...welded, meshes: welded.meshes.map((mesh) => ({ ...mesh, creases: null })) }
    const taken = reconcile(master, bare, { take: ['topology'] }).scene.meshes[0]!
    expect([pointCountOf(taken), [...taken.creases!.edgeSharpness]]).toEqual([6, [3]])
    expect(compareScenes(welded, sceneOf([taken])).rows[0]!.cells.creases!.state).toBe('same')
  })
  test('points without a place are no ground for anything', () => {
    const broken = exploded(cubeOf())
    broken.points[4] = NaN
    expect(correspond(cubeOf(), broken).joinedPoints).toBeNull()
  })
})
