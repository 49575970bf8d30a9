/** Cutting ends on every input, and what was cut can be put together again. */
import { describe, expect, test } from 'vitest'
import { chanceOf } from '../../base/math/chance.ts'
import { meshOf } from '../../../../tests/solids.ts'
import { createMeshFacts } from '../relations/mesh-facts.ts'
import { EMPTY_MESH, type Mesh } from '../../scene/mesh.ts'
import { cutPolygons } from './cut-polygons.ts'
import { restorePolygons } from './restore-polygons.ts'

const polygon = (points: readonly (readonly number[])[], corners: readonly number[]): Mesh => ({
  ...EMPTY_MESH,
  name: 'sail',
  points: Float64Array.from(points.flat()),
  faceOffsets: Uint32Array.of(0, corners.length),
  faceVertices: Uint32Array.from(corners),
})
const cut = (mesh: Mesh): Mesh => cutPolygons(createMeshFacts(mesh), [0], true)
const ring = (mesh: Mesh): number[] => [...mesh.faceVertices]

describe('cutting a polygon', () => {
  test('whose first two corners are at one place ends', () => {
    const mesh = polygon([[0, 0, 0], [0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]], [0, 1, 2, 3, 4]) // prettier-ignore
    const triangles = cut(mesh)
    expect(triangles.faceOffsets).toHaveLength(4)
    expect(ring(restorePolygons(triangles).mesh)).toEqual([0, 1, 2, 3, 4])
  })
  test('keeps a corner on a straight side, for the neighbour that meets it there', () => {
    const mesh = polygon([[0, 0, 0], [1, 0, 0], [2, 0, 0], [2, 2, 0], [0, 2, 0]], [0, 1, 2, 3, 4]) // prettier-ignore
    const triangles = cut(mesh)
    expect(new Set(triangles.faceVertices)).toEqual(new Set([0, 1, 2, 3, 4]))
    expect(triangles.faceOffsets).toHaveLength(4)
    expect(ring(restorePolygons(triangles).mesh)).toEqual([0, 1, 2, 3, 4])
  })
  test('that goes round over the same three points two hundred thousand times ends', () => {
    const corners = Array.from({ length: 600000 }, (_corner, at) => at % 3)
    const triangles = cut(polygon([[0, 0, 0], [1, 0, 0], [1, 1, 0]], corners)) // prettier-ignore
    expect(triangles.faceOffsets.length - 1).toBe(599998)
  })
  test.each([5, 7, 12])('that crosses itself as a star of %i points, round after round, ends', (points) => {
    const count = 30000
    const star = Array.from({ length: count }, (_corner, at) => {
      const angle = (at * 4 * Math.PI) / points
      return [(1 + at * 1e-6) * Math.cos(angle), (1 + at * 1e-6) * Math.sin(angle), 0]
    })
    const triangles = cut(polygon(star, star.map((_point, at) => at))) // prettier-ignore
    expect(triangles.faceOffsets.length - 1).toBe(count - 2)
  })
  test('that turns often and never crosses itself is cut by ear clipping, without a flip', () => {
    // a spiral out and back beside itself: it turns as much one way as the other, but for once
    const arm = Array.from({ length: 400 }, (_corner, at) => [
      at * Math.cos(at / 12),
      at * Math.sin(at / 12),
      0,
    ])
    const back = [...arm].reverse().map(([x, y], at) => [x! + 0.4 * Math.cos((399 - at) / 12), y! + 0.4 * Math.sin((399 - at) / 12), 0]) // prettier-ignore
    const spiral = [...arm.slice(20), ...back.slice(0, 380)]
    const whole = polygon(spiral, spiral.map((_point, at) => at)) // prettier-ignore
    const triangles = cut(whole)
    const areaOf = (mesh: Mesh): number =>
      [...createMeshFacts(mesh).faceAreas()].reduce((sum, area) => sum + area, 0)
    expect(areaOf(triangles)).toBeCloseTo(areaOf(whole), 6)
  })
  const PLACES: Record<string, (chance: () => number) => number> = {
    'whole numbers': (chance) => Math.floor(chance() * 3),
    'one line': (chance) => Math.floor(chance() * 3) * 2,
    'any size': (chance) => (chance() - 0.5) * 10 ** Math.floor(chance() * 60 - 30),
    'what no number is': (chance) =>
      [NaN, Infinity, -Infinity, 1e308, -1e308, 5e-324, 0][Math.floor(chance() * 7)]!,
  }
  test.each(Object.keys(PLACES))('of corners at %s, some of them the same point twice, ends', (kind) => {
    for (let seed = 1; seed <= 1500; seed++) {
      const chance = chanceOf(seed)
      const size = 3 + Math.floor(chance() ** 3 * 40)
      const place = PLACES[kind]!
      const flat = kind === 'one line'
      const points = Array.from({ length: size }, () => [place(chance), flat ? 1 : place(chance), flat ? 0 : place(chance)]) // prettier-ignore
      const repeats = chance() < 0.5
      const corners = points.map((_point, at) => (repeats ? Math.floor(chance() * size) : at))
      const mesh = polygon(points, corners)
      const triangles = cut(mesh)
      const count = triangles.faceOffsets.length - 1
      expect(count).toBeGreaterThan(0)
      for (let face = 0; face < count; face++)
        expect(triangles.faceOffsets[face + 1]! - triangles.faceOffsets[face]!).toBe(3)
      expect(new Set(triangles.faceVertices)).toEqual(new Set(corners))
      if (!repeats) expect(count).toBe(size - 2)
    }
  })
})

test('a corner on a straight side makes no triangle without area, wherever it lies', () => {
  const ring = (corners: [number, number][]): Mesh =>
    meshOf(corners.map(([x, z]): [number, number, number] => [x, 0, -z]), [corners.map((_corner, at) => at)]) // prettier-ignore
  const square: [number, number][] = [[0, 0], [1, 0], [1, 1], [0, 1]] // prettier-ignore
  const triangle: [number, number][] = [[0, 0], [1, 0], [0, 1]] // prettier-ignore
  for (const shorter of [true, false])
    for (const base of [square, triangle])
      for (let side = 0; side < base.length; side++)
        for (const shares of [[0.5], [0.1], [0.3, 0.6]])
          for (let turn = 0; turn < base.length + shares.length; turn++) {
            const [a, b] = [base[side]!, base[(side + 1) % base.length]!]
            const corners = [...base]
            corners.splice(side + 1, 0, ...shares.map((t): [number, number] => [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])])) // prettier-ignore
            const turned = [...corners.slice(turn), ...corners.slice(0, turn)]
            const facts = createMeshFacts(ring(turned))
            const cut = createMeshFacts(cutPolygons(facts, [0], shorter))
            expect(cut.faceCount).toBe(turned.length - 2)
            for (const area of cut.faceAreas()) expect(area).toBeGreaterThan(1e-6)
          }
})
