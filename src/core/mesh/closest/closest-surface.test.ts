import { describe, expect, test } from 'vitest'
import { ballOf as ball, gridOf, meshOf, sceneOf, type Point } from '../../../../tests/solids.ts'
import { compareScenes } from '../../compare/compare-scenes.ts'
import { closestSurface, distancesToSurface } from './closest-surface.ts'

describe('how far points lie from a surface', () => {
  test('of a ball in a larger one: the difference of the radii, less what flat polygons cut off', () => {
    const [inner, outer] = [ball(24, 16, 1), ball(36, 20, 1.1)]
    // the sagitta of the larger one's longest chord
    const cut = 1.1 * (1 - Math.cos(Math.PI / 20) * Math.cos(Math.PI / 36))
    for (const distance of distancesToSurface(inner, closestSurface(outer))) {
      expect(distance).toBeLessThan(0.1 + 1e-6)
      expect(distance).toBeGreaterThan(0.1 - 2 * cut)
    }
  })
  test('sheets that lie on each other and face opposite ways: each is measured by the one that faces as it does', () => {
    const sheet = gridOf(4, 4)
    const faces = Array.from({ length: 16 }, (_face, at) => [
      ...sheet.faceVertices.subarray(4 * at, 4 * at + 4),
    ])
    const lifted = { ...sheet, points: sheet.points.map((value, at) => (at % 3 === 1 ? 0.3 : value)) }
    const below = meshOf(
      Array.from({ length: 25 }, (_p, at): Point => [sheet.points[3 * at]!, 0.1, sheet.points[3 * at + 2]!]),
      faces.map((face) => [...face].reverse()),
    )
    const both = meshOf(
      [lifted, below].flatMap(({ points }) => Array.from({ length: 25 }, (_p, at): Point => [points[3 * at]!, points[3 * at + 1]!, points[3 * at + 2]!])), // prettier-ignore
      [...faces, ...faces.map((face) => face.map((point) => point + 25).reverse())],
    )
    for (const distance of distancesToSurface(sheet, closestSurface(both)))
      expect(distance).toBeCloseTo(0.3, 6)
    for (const distance of distancesToSurface(below, closestSurface(both))) expect(distance).toBeCloseTo(0, 6)
  })
  test('what faces the same way far off does not count where the surface is near', () => {
    // a strip whose far side alone faces up
    const near = meshOf([[0, 0.1, 0], [1, 0.1, 0], [1, 0.1, -1], [0, 0.1, -1], [50, 0, 0], [51, 0, 0], [51, 0, -1]], [[3, 2, 1, 0], [4, 5, 6]]) // prettier-ignore
    for (const distance of distancesToSurface(gridOf(1, 1), closestSurface(near)))
      expect(distance).toBeCloseTo(0.1, 6)
  })
  test('loose points, and those that are nowhere, have no distance; nothing is near to nothing', () => {
    const loose = meshOf([[0, 0, 0], [1, 0, 0], [0, 1, 0], [5, 5, 5], [NaN, 0, 0]], [[0, 1, 2], [0, 1, 4]]) // prettier-ignore
    const distances = distancesToSurface(loose, closestSurface(gridOf(2, 2)))
    expect([...distances].map((distance) => Number.isNaN(distance))).toEqual([
      false,
      false,
      false,
      true,
      true,
    ])
    expect(distancesToSurface(loose, closestSurface(meshOf([], [])))[0]).toBeNaN()
  })
})

describe('a part of other polygons in the ledger', () => {
  const cellOf = (own: ReturnType<typeof ball>, came: ReturnType<typeof ball>) =>
    compareScenes(sceneOf([own]), sceneOf([came])).rows[0]!.cells.points!
  test('its surface is measured on both sides, and nothing is said of points', () => {
    const [own, came] = [ball(24, 16, 1), ball(31, 19, 1.05)]
    const cell = cellOf(own, came)
    expect([cell.state, cell.note]).toEqual(['incomparable', 'points-surface'])
    expect(cell.deviation).toBeGreaterThan(0.05 - 1e-6)
    expect(cell.deviation).toBeLessThan(0.08)
    expect(cell.parameters.mean).toBeLessThan(cell.deviation!)
    const { master, returned } = cell.places!.field!
    expect([master.length, returned.length]).toEqual([own.points.length / 3, came.points.length / 3])
    expect(Math.max(...returned, ...master)).toBeCloseTo(cell.deviation!, 6)
  })
  test('a coarse one whose points all lie on the surface cuts across it all the same, which is measured', () => {
    const cell = cellOf(ball(48, 32, 1), ball(12, 8, 1))
    // the middle of its longest side stands by so much from the ball
    expect(cell.deviation).toBeGreaterThan(1 - Math.cos(Math.PI / 12) - 0.01)
    expect(String(cell.parameters.mean)).not.toMatch(/below/)
  })
  test.each([
    [16, 10, 33, 17],
    [16, 10, 24, 15],
    [20, 12, 40, 25],
    [48, 8, 30, 11],
    [12, 30, 17, 41],
  ])('a ball of %i by %i made anew of %i by %i: no point is said to have moved', (a, b, c, d) => {
    const cell = cellOf({ ...ball(a, b, 1), uvSets: [] }, { ...ball(c, d, 1), uvSets: [] })
    expect([cell.note, cell.state]).toEqual(['points-surface', 'incomparable'])
    expect(cell.deviation).toBeLessThan(0.2)
  })
  test('where it is the very surface that is said, in no digits of rounding', () => {
    const cell = cellOf(gridOf(8, 8), { ...gridOf(8, 8), ...gridOf(5, 7), points: gridOf(5, 7).points.map((value, at) => (at % 3 === 0 ? (value * 8) / 5 : at % 3 === 2 ? (value * 8) / 7 : value)), uvSets: [] }) // prettier-ignore
    expect(cell.note).toBe('points-surface')
    expect(String(cell.parameters.deviation)).toMatch(/^(0|below 0\.000001)$/)
  })
})
