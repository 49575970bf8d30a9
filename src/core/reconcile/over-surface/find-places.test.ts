/** Where new polygons lie on the master: flat and stepped sheets, of which every nearest polygon is known. */
import { describe, expect, test } from 'vitest'
import { gridOf, meshOf, type Point } from '../../../../tests/solids.ts'
import type { CarryMap } from '../../compare/traits/trait.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { facesByShare, findPlaces, newPoints, isNearer } from './find-places.ts'

const master = gridOf(4, 4)
const nothing = (target: Mesh, own: Mesh = master): CarryMap => ({
  points: new Int32Array(pointCountOf(target)).fill(-1),
  sourcePoints: new Int32Array(pointCountOf(own)).fill(-1),
  faces: new Int32Array(faceCountOf(target)).fill(-1),
  corners: new Int32Array(cornerCountOf(target)).fill(-1),
})
/** A quad over the sheet from one place to another, facing up. */
const quad = (x: number, z: number, toX: number, toZ: number, height = 0): Point[] => [
  [x, height, -z],
  [toX, height, -z],
  [toX, height, -toZ],
  [x, height, -toZ],
]
const quads = (...all: Point[][]): Mesh =>
  meshOf(
    all.flat(),
    all.map((_quad, at) => [0, 1, 2, 3].map((corner) => 4 * at + corner)),
  )

describe('samples of new polygons', () => {
  test('of a quad that lies on four: a quarter each, by the sides’ own triangles', () => {
    const target = quads(quad(0.5, 0.5, 1.5, 1.5), quad(2.1, 2.1, 2.9, 2.9))
    const { newFaces, sampleFaces, sampleAreas, distances, doubtful } = findPlaces(master, target, nothing(target)) // prettier-ignore
    expect(newFaces).toEqual([0, 1])
    // samples lie at two thirds of the way to each side’s middle: on the line between two polygons, either
    expect([...sampleFaces.subarray(0, 4)].every((face) => [0, 1, 4, 5].includes(face))).toBe(true)
    expect([...sampleFaces.subarray(4)]).toEqual([10, 10, 10, 10])
    for (const area of sampleAreas.subarray(0, 4)) expect(area).toBeCloseTo(0.25, 12)
    for (const area of sampleAreas.subarray(4)) expect(area).toBeCloseTo(0.16, 12)
    for (const distance of distances) expect(distance).toBeCloseTo(0, 12)
    expect([...doubtful]).toEqual([0, 0])
  })
  test('what has its counterpart has no samples, and no distance', () => {
    const target = quads(quad(0, 0, 1, 1), quad(1, 0, 2, 1))
    const map = { ...nothing(target), faces: Int32Array.of(0, -1) }
    const { newFaces, sampleFaces, sampleAreas, distances, doubtful } = findPlaces(master, target, map)
    expect(newFaces).toEqual([1])
    expect([...sampleFaces]).toEqual([-1, -1, -1, -1, 1, 1, 1, 1])
    expect([...sampleAreas.subarray(0, 4)]).toEqual([0, 0, 0, 0])
    expect(distances[0]).toBeNaN()
    expect(distances[1]).toBeCloseTo(0, 12)
    expect([...doubtful]).toEqual([0, 0])
  })
  test('a piece of a polygon whose points are known is that one’s, wherever they were moved', () => {
    // over four polygons, with the points of polygon 5
    const moved = quads(quad(1.5, 1.5, 2.5, 2.5))
    const corners = [...master.faceVertices.subarray(20, 24)]
    expect([...findPlaces(master, moved, nothing(moved)).sampleFaces]).not.toEqual([5, 5, 5, 5])
    const known = { ...nothing(moved), points: Int32Array.from(corners) }
    expect([...findPlaces(master, moved, known).sampleFaces]).toEqual([5, 5, 5, 5])
    // one point alone says nothing
    const one = { ...known, points: Int32Array.of(corners[0]!, -1, -1, -1) }
    expect(findPlaces(master, moved, one).sampleFaces).toEqual(findPlaces(master, moved, nothing(moved)).sampleFaces) // prettier-ignore
    // farther off than its own size it is no piece of it
    const far = quads(quad(3, 3, 4, 4))
    expect([...findPlaces(master, far, known).sampleFaces]).toEqual([15, 15, 15, 15])
    // the first point of all counts: without it polygon 1 had as many
    const triangle = meshOf([[0.8, 0, -0.2], [1.4, 0, -0.2], [1.4, 0, -0.8]], [[0, 1, 2]]) // prettier-ignore
    const first = { ...nothing(triangle), points: Int32Array.of(0, 1, 6) }
    expect([...findPlaces(master, triangle, first).sampleFaces]).toEqual([0, 0, 0])
  })
  test('a polygon nowhere is no new one', () => {
    const target = quads(quad(0, 0, 1, 1), quad(1, 0, NaN, 1))
    expect(findPlaces(master, target, nothing(target)).newFaces).toEqual([0])
  })
  test('the distance is that of the farthest sample, in the part’s unit', () => {
    const points = quad(1, 1, 2, 2)
    const tilted = points.map(([x, , z], at): Point => [x, at === 1 || at === 2 ? 0.3 : 0, z])
    const target = quads(tilted)
    const { distances, doubtful } = findPlaces(master, target, nothing(target))
    // the sample of the raised side: a third of the middle’s height and of two corners’
    expect(distances[0]).toBeCloseTo((0.15 + 0.3 + 0.3) / 3, 12)
    // more than a fiftieth of the sheet’s diagonal
    expect(doubtful[0]).toBe(1)
    // turned any way, a square of two units has four quarters
    const slanted = quads([[1, 5, 2], [1 + 4 / 3, 5 + 4 / 3, 2 + 2 / 3], [1 + 4 / 3 - 2 / 3, 5 + 4 / 3 + 4 / 3, 2 + 2 / 3 - 4 / 3], [1 - 2 / 3, 5 + 4 / 3, 2 - 4 / 3]]) // prettier-ignore
    for (const area of findPlaces(master, slanted, nothing(slanted)).sampleAreas)
      expect(area).toBeCloseTo(1, 12)
  })
  test('doubtful: off by more than a fiftieth of the part’s diagonal, and not by less', () => {
    const limit = Math.hypot(4, 4) / 50
    for (const [height, isDoubtful] of [
      [limit * 0.99, 0],
      [limit * 1.01, 1],
    ] as const) {
      const target = quads(quad(1, 1, 2, 2, height))
      expect([...findPlaces(master, target, nothing(target)).doubtful]).toEqual([isDoubtful])
    }
  })
  test('doubtful: on the sheet but facing down', () => {
    const target = quads(quad(1, 1, 2, 2).reverse())
    const { doubtful, sampleFaces } = findPlaces(master, target, nothing(target))
    expect([...doubtful]).toEqual([1])
    expect([...sampleFaces]).toEqual([5, 5, 5, 5])
  })
})

describe('relatives: faces that share points with a new polygon', () => {
  /** The sheet’s first cell cut along its diagonal into two triangles; all else as it was. */
  const cut = (raise: number): { target: Mesh; map: CarryMap } => {
    const points = Array.from({ length: 25 }, (_p, at): Point => [master.points[3 * at]!, at === 0 ? raise : 0, master.points[3 * at + 2]!]) // prettier-ignore
    const faces = Array.from({ length: 16 }, (_f, face) => [...master.faceVertices.subarray(4 * face, 4 * face + 4)]) // prettier-ignore
    const [a, b, c, d] = faces[0]!
    const target = meshOf(points, [[a!, b!, c!], [a!, c!, d!], ...faces.slice(1)]) // prettier-ignore
    return {
      target,
      map: {
        points: Int32Array.from({ length: 25 }, (_p, at) => at),
        sourcePoints: Int32Array.from({ length: 25 }, (_p, at) => at),
        faces: Int32Array.from({ length: 17 }, (_f, face) => (face < 2 ? -1 : face - 1)),
        corners: Int32Array.from({ length: 66 }, (_c, corner) => (corner < 6 ? -1 : corner - 2)),
      },
    }
  }
  test.each([0, 0.3, 3])('pieces of a polygon take from it, moved by %d as it is', (raise) => {
    const { target, map } = cut(raise)
    const found = findPlaces(master, target, map)
    expect([...found.sampleFaces.subarray(0, 6)]).toEqual([0, 0, 0, 0, 0, 0])
    // the points that are known went along
    expect(found.moved.points[1]).toBe(raise)
    expect(found.moved.points.subarray(3)).toEqual(master.points.subarray(3))
    expect(master.points[1]).toBe(0)
    expect([...facesByShare(found, target, map, (face) => face)]).toEqual([0, ...Array.from({ length: 16 }, (_f, face) => face)]) // prettier-ignore
  })
  test('one that shares two points and lies far off is none: the nearest surface counts', () => {
    // two points of the first cell’s front edge, and two at the far end of the sheet
    const bare = quads(quad(0, 0, 1, 1))
    const target = { ...bare, points: Float64Array.of(0, 0, 0, 1, 0, 0, 3.6, 0, -3.6, 3.4, 0, -3.6) }
    const map = { ...nothing(target), points: Int32Array.of(0, 1, -1, -1) }
    const { sampleFaces } = findPlaces(master, target, map)
    // by the front edge its own; by the far one where that lies
    expect(sampleFaces[0]).toBe(0)
    expect([10, 11, 14, 15]).toContain(sampleFaces[2])
  })
  test('one point alone makes no relative', () => {
    const target = quads(quad(2.2, 2.2, 2.8, 2.8))
    const map = { ...nothing(target), points: Int32Array.of(0, -1, -1, -1) }
    expect([...findPlaces(master, target, map).sampleFaces]).toEqual([10, 10, 10, 10])
  })
  test('of two that share as many points the one that faces alike', () => {
    // two sheets on the same four points, one up, one down
    const double = meshOf(quad(0, 0, 1, 1), [[0, 1, 2, 3], [3, 2, 1, 0]]) // prettier-ignore
    for (const [corners, face] of [
      [[0, 1, 2], 0],
      [[2, 1, 0], 1],
    ] as const) {
      const target = meshOf(quad(0, 0, 1, 1), [corners])
      const map = { ...nothing(target, double), points: Int32Array.of(0, 1, 2, 3) }
      expect([...findPlaces(double, target, map).sampleFaces]).toEqual([face, face, face])
    }
  })
})

describe('whose value a polygon takes', () => {
  const target = quads(quad(0.2, 0.2, 2.4, 0.8), quad(3.2, 0.2, 3.8, 0.8))
  const map = { ...nothing(target), faces: Int32Array.of(-1, 15) }
  test('the value with the largest share of its area, all its faces together', () => {
    const places = findPlaces(master, target, map)
    // samples: those of the long sides in the middle of the second cell, the ends’ in the first and the third
    expect([...places.sampleFaces.subarray(0, 4)]).toEqual([1, 2, 1, 0])
    expect([...facesByShare(places, target, map, (face) => face)]).toEqual([1, 15])
    const areas = { ...places, sampleFaces: Int32Array.of(0, 1, 2, 3, -1, -1, -1, -1), sampleAreas: Float64Array.of(3, 4, 2, 2.5, 9, 9, 9, 9) } // prettier-ignore
    expect([...facesByShare(areas, target, map, (face) => face)]).toEqual([1, 15])
    // 0 and 2 have one value: together they are more, and the larger of the two stands for it
    expect([...facesByShare(areas, target, map, (face) => face % 2)]).toEqual([1, 15])
    expect([...facesByShare(areas, target, map, (face) => Number(face === 1))]).toEqual([0, 15])
    const nowhere = { ...areas, sampleFaces: new Int32Array(8).fill(-1) }
    expect([...facesByShare(nowhere, target, map, (face) => face)]).toEqual([-1, 15])
  })
})

test('new points, each with one of its polygons; what no polygon has is none', () => {
  const target = meshOf(
    [...quad(0, 0, 1, 1), [9, 9, 9], [2, 0, 0], [2, 0, -1]],
    [
      [0, 1, 2, 3],
      [1, 5, 6, 2],
    ],
  )
  const map = { ...nothing(target), points: Int32Array.of(0, -1, 7, -1, -1, -1, 8) }
  expect([...newPoints(target, map)]).toEqual([
    [1, 0],
    [3, 0],
    [5, 1],
  ])
})

test('nearer is what is nearer by more than last digits', () => {
  expect([isNearer(1, 2, 0), isNearer(2, 1, 0), isNearer(1, 1, 0)]).toEqual([true, false, false])
  expect([isNearer(1 - 5e-10, 1, 0), isNearer(1 - 2e-9, 1, 0)]).toEqual([false, true])
  expect([isNearer(1000 - 5e-7, 1000, 0), isNearer(1000 - 2e-6, 1000, 0)]).toEqual([false, true])
  expect([isNearer(0, 1e-12, 2e-12), isNearer(0, 3e-12, 2e-12), isNearer(0, 0, 0)]).toEqual([
    false,
    true,
    false,
  ])
})
