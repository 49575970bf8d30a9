import { expect, test } from 'vitest'
import { chanceOf } from '../../base/math/chance.ts'
import { EMPTY_MESH, type Mesh } from '../../scene/mesh.ts'
import { nearCorners } from './near-corners.ts'

const soup = (points: Float64Array): Mesh => ({
  ...EMPTY_MESH,
  points,
  faceVertices: Uint32Array.from({ length: points.length / 3 }, (_corner, at) => at),
})

test('the nearest of many are those that are found when all are looked at', () => {
  for (let seed = 1; seed <= 20; seed++) {
    const chance = chanceOf(seed)
    const count = seed < 5 ? 30 * seed : 500 * seed
    // lines, sheets and clouds
    const spread = [1, seed % 3 ? 1 : 1e-6, seed % 2 ? 1 : 0]
    const mesh = soup(Float64Array.from({ length: 3 * count }, (_value, at) => chance() * spread[at % 3]!))
    const corners = [...mesh.faceVertices].filter((corner) => corner % 3 !== 1)
    const taken = new Set(corners.filter(() => chance() < 0.3))
    const find = nearCorners(mesh, corners)
    for (let look = 0; look < 10; look++) {
      const place = [chance() * 1.2 - 0.1, chance() * spread[1]!, chance() * spread[2]!]
      const away = (corner: number): number =>
        Math.hypot(...place.map((value, axis) => mesh.points[3 * corner + axis]! - value))
      const [nearest] = corners.filter((corner) => !taken.has(corner)).sort((a, b) => away(a) - away(b))
      const found = find(place, 8, (corner) => !taken.has(corner))
      expect(found).toHaveLength(8)
      expect(found[0]).toBe(nearest)
      expect(found.every((corner, at) => at === 0 || away(found[at - 1]!) <= away(corner))).toBe(true)
    }
  }
})

test('taking one after the other leaves none, however they lie', () => {
  for (const place of [
    () => 7,
    (chance: () => number) => chance(),
    (chance: () => number) => (chance() < 0.2 ? NaN : chance() < 0.2 ? Infinity : chance()),
  ]) {
    const chance = chanceOf(11)
    const mesh = soup(Float64Array.from({ length: 3 * 1000 }, () => place(chance)))
    const find = nearCorners(mesh, [...mesh.faceVertices])
    const taken = new Set<number>()
    for (let turn = 0; turn < 1000; turn++) {
      const at = 3 * Math.floor(1000 * chance())
      const found = find(mesh.points.subarray(at, at + 3), 1, (corner) => !taken.has(corner))
      // of places that are no numbers some may not be come to from elsewhere
      if (found.length) taken.add(found[0]!)
    }
    expect(taken.size).toBe(1000)
  }
})
