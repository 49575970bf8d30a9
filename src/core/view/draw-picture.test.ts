import { decode } from 'fast-png'
import { describe, expect, test } from 'vitest'
import { cubeOf, gridOf, sceneOf } from '../../../tests/solids.ts'
import { EMPTY_MESH } from '../scene/mesh.ts'
import { buildCourierHeron } from '../practice/demo/courier-heron.ts'
import { drawPicture } from './draw-picture.ts'

const coverage = (png: Uint8Array): number => {
  const { data, width, height } = decode(png)
  let covered = 0
  for (let at = 3; at < data.length; at += 4) if (data[at]! > 0) covered++
  return covered / (width * height)
}

describe('a picture of a scene', () => {
  test('fills its frame with the model, whatever its size, and shows its faces in different light', () => {
    for (const size of [1e-6, 1, 1e9]) {
      const png = drawPicture(sceneOf([cubeOf({}, size)]))!
      expect(coverage(png)).toBeGreaterThan(0.3)
      const { data } = decode(png)
      const lights = new Set<number>()
      for (let at = 0; at < data.length; at += 4) if (data[at + 3] === 255) lights.add(data[at]!)
      expect(lights.size).toBeGreaterThanOrEqual(3)
    }
  })
  test('leaves a margin on every side', () => {
    const { data, width, height } = decode(drawPicture(buildCourierHeron())!)
    const clear = (x: number, y: number): boolean => data[4 * (y * width + x) + 3] === 0
    for (let x = 0; x < width; x++) expect(clear(x, 0) && clear(x, height - 1)).toBe(true)
    for (let y = 0; y < height; y++) expect(clear(0, y) && clear(width - 1, y)).toBe(true)
  })
  test('a hidden part is not in it; of nothing there is none', () => {
    const two = sceneOf([cubeOf(), cubeOf({}, 1)])
    const hidden = { ...two, nodes: two.nodes.map((node) => ({ ...node, visible: false })) }
    expect(drawPicture(hidden)).toBeNull()
    expect(drawPicture(sceneOf([{ ...EMPTY_MESH, name: 'nothing' }]))).toBeNull()
  })
  test('a cloud of points is in it, and lines are, beside polygons or alone', () => {
    const ring = Array.from({ length: 40 }, (_p, at) => [Math.cos(at / 6), Math.sin(at / 6), at / 20]).flat() // prettier-ignore
    const cloud = { ...EMPTY_MESH, name: 'scan', points: Float64Array.from(ring) }
    const scan = coverage(drawPicture(sceneOf([cloud]))!)
    expect(scan).toBeGreaterThan(0.002)
    const all = { offsets: Uint32Array.of(0, 40), points: Uint32Array.from({ length: 40 }, (_p, at) => at), uvs: new Int32Array(40).fill(-1) } // prettier-ignore
    // joined to a line there is more to be seen than single points
    expect(coverage(drawPicture(sceneOf([{ ...cloud, lines: all }]))!)).toBeGreaterThan(1.5 * scan)
    // a line stands out of a cube: the frame holds both
    const cube = cubeOf({})
    const alone = coverage(drawPicture(sceneOf([cube]))!)
    const antenna = { ...cube, lines: { offsets: Uint32Array.of(0, 2), points: Uint32Array.of(0, 8), uvs: Int32Array.of(-1, -1) }, points: Float64Array.of(...cube.points, 9, 9, 9) } // prettier-ignore
    const both = coverage(drawPicture(sceneOf([antenna]))!)
    expect(both).toBeLessThan(alone / 2)
    expect(both).toBeGreaterThan(0.01)
    // one point alone has no extent, and still there is something
    expect(() => drawPicture(sceneOf([{ ...EMPTY_MESH, points: Float64Array.of(1, 2, 3) }]))).not.toThrow()
  })
  test('numbers that are none end in no picture and no fault', () => {
    const wild = cubeOf({})
    const scene = sceneOf([
      { ...wild, points: wild.points.map((value, at) => (at === 4 ? 1e308 : value * -1e308)) },
    ])
    expect(() => drawPicture(scene)).not.toThrow()
    for (const value of [NaN, Infinity, 1e308]) {
      const points = Float64Array.of(0, 0, 0, 1, 1, 1, value, 0, -value)
      const lines = { offsets: Uint32Array.of(0, 3), points: Uint32Array.of(0, 1, 2), uvs: new Int32Array(3) }
      expect(() => drawPicture(sceneOf([{ ...EMPTY_MESH, points }]))).not.toThrow()
      expect(() => drawPicture(sceneOf([{ ...EMPTY_MESH, points, lines }]))).not.toThrow()
    }
  })
  test('a coarse round part is shaded smoothly, also beside one of very many faces', () => {
    const heavy = gridOf(300, 300)
    const flat = { ...heavy, points: heavy.points.map((value) => value * 1e-6) }
    const round = gridOf(8, 8, {}, (x, z) => 4 - ((x - 4) ** 2 + (z - 4) ** 2) / 8)
    const lightsOf = (scene: Parameters<typeof drawPicture>[0]): number => {
      const { data } = decode(drawPicture(scene)!)
      const lights = new Set<number>()
      for (let at = 0; at < data.length; at += 4) if (data[at + 3] === 255) lights.add(data[at]!)
      return lights.size
    }
    expect(lightsOf(sceneOf([flat]))).toBeLessThan(4)
    // from faces alone there are at most as many as faces, most of them alike
    expect(lightsOf(sceneOf([round, flat]))).toBe(lightsOf(sceneOf([round])))
    expect(lightsOf(sceneOf([round, flat]))).toBeGreaterThan(70)
  })
})
