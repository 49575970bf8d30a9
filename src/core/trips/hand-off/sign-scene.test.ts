import { describe, expect, test } from 'vitest'
import { cubeOf, gridOf, materialOf, moved, sceneOf, withNodes } from '../../../../tests/solids.ts'
import type { Scene } from '../../scene/scene.ts'
import { signScene } from './sign-scene.ts'

const bent = (x: number, z: number): number => Math.sin(x * 1.3) * Math.cos(z * 0.7)
const scene = sceneOf([gridOf(9, 7, {}, bent), cubeOf()], {
  materials: [materialOf('tin'), materialOf('zinc'), materialOf('tin')],
})
const pointsTo = (source: Scene, turn: (at: number, value: number) => number): Scene => ({
  ...source,
  meshes: source.meshes.map((mesh) => ({ ...mesh, points: mesh.points.map((value, at) => turn(at, value)) })),
})

describe('a signature', () => {
  const whole = signScene(scene)
  test('counts of parts as they are, materials each once', () => {
    expect(whole.parts).toEqual([
      { name: scene.nodes[0]!.name, polygons: 63, corners: 252, triangles: 126 },
      { name: scene.nodes[1]!.name, polygons: 6, corners: 24, triangles: 12 },
    ])
    expect(whole.materials).toEqual(['tin', 'zinc'])
  })
  test('samples ascend, hold each member once, and lie below their limit', () => {
    const { hashes, limit } = signScene(sceneOf([gridOf(90, 90, {}, bent)])).places
    expect(hashes.length).toBe(2048)
    expect(hashes.every((hash, at) => hash < limit && (at === 0 || hash > hashes[at - 1]!))).toBe(true)
    expect(whole.places.limit).toBe(2 ** 32)
    // nearly all 80 + 8 points lie in different steps of a thousandth of the diagonal
    expect(whole.places.hashes.length).toBeGreaterThan(80)
    // 80 UVs of the grid, 24 of the cube
    expect(whole.uvs.hashes).toHaveLength(104)
  })
  test('places are those in the model’s own box: another unit, another origin, and digits leave them', () => {
    for (const other of [
      pointsTo(scene, (_at, value) => value * 100),
      pointsTo(scene, (at, value) => value + [10, -4, 2][at % 3]!),
      pointsTo(scene, (_at, value) => value + 1e-9),
      withNodes(scene, () => ({ local: moved(3, 0, 0) })),
    ]) {
      const known = new Set(whole.places.hashes)
      const shared = signScene(other).places.hashes.filter((hash) => known.has(hash)).length
      expect(shared).toBeGreaterThan(0.85 * known.size)
    }
    const apart = signScene(withNodes(scene, (_node, at) => ({ local: moved(at * 30, 0, 0) }))).places
    const known = new Set(whole.places.hashes)
    expect(apart.hashes.filter((hash) => known.has(hash)).length).toBeLessThan(0.5 * known.size)
  })
  test('UVs are those of the first set; the seventh digit leaves them', () => {
    const withUvs = (change: (value: number) => number): Scene => ({
      ...scene,
      meshes: scene.meshes.map((mesh) => ({
        ...mesh,
        uvSets: mesh.uvSets.map((set) => ({ ...set, values: set.values.map(change) })),
      })),
    })
    expect(signScene(withUvs((value) => value + 1e-8)).uvs).toEqual(whole.uvs)
    expect(signScene(withUvs((value) => value + 0.3)).uvs).not.toEqual(whole.uvs)
    // u and v are no sum
    const turned = withUvs((value) => value)
    turned.meshes[0]!.uvSets[0]!.values.reverse()
    expect(signScene(turned).uvs).not.toEqual(whole.uvs)
  })
  test('of chosen parts alone', () => {
    const cube = signScene(scene, [scene.nodes[1]!.id])
    expect(cube.parts.map(({ polygons }) => polygons)).toEqual([6])
    expect([cube.uvs.hashes.length, cube.places.hashes.length]).toEqual([24, 8])
    expect(signScene(scene, []).parts).toEqual([])
  })
  test('what has no size, or no end, has no places', () => {
    for (const value of [5, Infinity, NaN])
      expect(signScene(pointsTo(scene, () => value)).places.hashes).toEqual([])
    expect(signScene(sceneOf([])).places.hashes).toEqual([])
  })
})
