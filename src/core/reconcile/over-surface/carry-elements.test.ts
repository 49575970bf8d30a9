/** UVs, colours, weights and shapes of elements without counterpart: grids of which every value is known by hand. */
import { describe, expect, test } from 'vitest'
import { gridOf, meshOf, uvsOf, type Point } from '../../../../tests/solids.ts'
import type { CarryMap } from '../../compare/traits/trait.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type BlendShape, type ColorSet, type Mesh, type Skin, type UvSet } from '../../scene/mesh.ts' // prettier-ignore
import { carryColoursOver, carryShapeOver, carrySkinOver, placesOfPoints } from './carry-points.ts'
import { carryUvsOver } from './carry-uvs.ts'
import { findPlaces } from './find-places.ts'
import { carryOverSurface } from './over-surface.ts'

/** A row of four cells, cut into two islands in the middle: the first at 0 to 1 of u, the second moved up by `apart`. */
const row = gridOf(4, 1)
const islands = (apart: number): UvSet =>
  uvsOf(
    [...row.faceVertices].map((point, corner): [number, number] => {
      const x = row.points[3 * point]!
      const isSecond = corner >= 8
      return [(x - (isSecond ? 2 : 0)) / 2, -row.points[3 * point + 2]! + (isSecond ? apart : 0)]
    }),
  )
const nothing = (target: Mesh, own: Mesh): CarryMap => ({
  points: new Int32Array(pointCountOf(target)).fill(-1),
  sourcePoints: new Int32Array(pointCountOf(own)).fill(-1),
  faces: new Int32Array(faceCountOf(target)).fill(-1),
  corners: new Int32Array(cornerCountOf(target)).fill(-1),
})
const empty = (target: Mesh): UvSet => ({ name: 'other', values: new Float64Array(0), indices: new Int32Array(cornerCountOf(target)).fill(-1), depths: null }) // prettier-ignore
const quad = (x: number, toX: number, z = 0, toZ = 1): Point[] => [[x, 0, -z], [toX, 0, -z], [toX, 0, -toZ], [x, 0, -toZ]] // prettier-ignore
const quads = (...all: Point[][]): Mesh =>
  meshOf(
    all.flat(),
    all.map((_quad, at) => [0, 1, 2, 3].map((corner) => 4 * at + corner)),
  )
const uvAt = (set: UvSet, corner: number): [number, number] | null => {
  const at = set.indices[corner]!
  return at < 0 ? null : [set.values[2 * at]!, set.values[2 * at + 1]!]
}
function carried(
  target: Mesh,
  set: UvSet,
  more: { map?: Partial<CarryMap>; known?: UvSet; wanted?: Uint8Array; own?: Mesh } = {},
) {
  const own = { ...(more.own ?? row), uvSets: [set] }
  const map = { ...nothing(target, own), ...more.map }
  const wanted = more.wanted ?? new Uint8Array(cornerCountOf(target)).fill(1)
  return carryUvsOver(findPlaces(own, target, map), target, map, set, more.known ?? empty(target), wanted)
}

describe('UVs', () => {
  test('of polygons that end at the seam: each from its own side of it', () => {
    const target = quads(quad(0.5, 2), quad(2, 3.5))
    const { set, acrossSeams } = carried(target, islands(5))
    expect(set.name).toBe('uv')
    const expected = [[0.25, 0], [1, 0], [1, 1], [0.25, 1], [0, 5], [0.75, 5], [0.75, 6], [0, 6]] // prettier-ignore
    expected.forEach((uv, corner) =>
      uv.forEach((value, axis) => expect(uvAt(set, corner)![axis]).toBeCloseTo(value, 12)),
    )
    expect(acrossSeams).toBe(0)
  })
  test('of a polygon over the seam: all of its corners from the side that has more of it, and it is counted', () => {
    const target = quads(quad(0.5, 2.5), quad(1.75, 3.75))
    const { set, acrossSeams } = carried(target, islands(5))
    expect(acrossSeams).toBe(2)
    for (const corner of [0, 1, 2, 3]) expect(uvAt(set, corner)![1]).toBeLessThanOrEqual(1)
    // its end beyond the seam lies nearest to the seam itself
    expect(uvAt(set, 1)![0]).toBeCloseTo(1, 12)
    for (const corner of [4, 5, 6, 7]) expect(uvAt(set, corner)![1]).toBeGreaterThanOrEqual(5)
    expect(uvAt(set, 4)![0]).toBeCloseTo(0, 12)
    // without corners that want something nothing is counted
    expect(carried(target, islands(5), { wanted: new Uint8Array(8) }).acrossSeams).toBe(0)
  })
  test('what one corner lies beyond is counted, whatever the next one says; what only stands off it is not', () => {
    // the first corner beyond the seam, the others over their own side, off the surface
    const [a, b, c, d] = quad(0.25, 2.25)
    const over = ([x, , z]: Point): Point => [x, 0.01, z]
    expect(carried(quads([b!, over(c!), over(d!), over(a!)]), islands(5)).acrossSeams).toBe(1)
    expect(carried(quads([[2.25, 0, 0], [1.2, 0.01, -1], [0.5, 0.01, -0.9], [0.5, 0.01, -0.1]]), islands(5)).acrossSeams).toBe(1) // prettier-ignore
    // over the end of the row, where it has nothing beyond
    const end = quad(3.2, 4.3).map(over)
    expect(carried(quads(end), islands(5)).acrossSeams).toBe(0)
  })
  test('no seam where both sides have one UV, shared or written twice', () => {
    const target = quads(quad(0.5, 3.5))
    const whole = uvsOf([...row.faceVertices].map((point): [number, number] => [row.points[3 * point]!, -row.points[3 * point + 2]!])) // prettier-ignore
    for (const set of [whole, row.uvSets[0]!]) {
      const { set: found, acrossSeams } = carried(target, set)
      expect(acrossSeams).toBe(0)
      const scale = set === whole ? 1 : 0.25
      ;[0.5, 3.5, 3.5, 0.5].forEach((x, corner) => expect(uvAt(found, corner)![0]).toBeCloseTo(x * scale, 12))
    }
    // a seam of one corner alone is one
    const torn = {
      ...whole,
      values: whole.values.map((value, at) => (at === 2 * 8 + 1 ? value + 0.5 : value)),
    }
    expect(carried(target, torn).acrossSeams).toBe(1)
  })
  test('a winding turned on the other side of an edge makes no seam', () => {
    const faceVertices = row.faceVertices.slice()
    faceVertices.subarray(8, 12).reverse()
    const turned = { ...row, faceVertices }
    const set = uvsOf([...faceVertices].map((point): [number, number] => [row.points[3 * point]!, -row.points[3 * point + 2]!])) // prettier-ignore
    const { acrossSeams, set: found } = carried(quads(quad(1.25, 2.5)), set, { own: turned })
    expect(acrossSeams).toBe(0)
    ;[1.25, 2.5].forEach((x, corner) => expect(uvAt(found, corner)![0]).toBeCloseTo(x, 12))
  })
  test('corners of one point share the UV that they have in common, and no other', () => {
    // two quads on shared points, their common side on the seam
    const target = meshOf(
      [...quad(1, 2), [3, 0, 0], [3, 0, -1]],
      [
        [0, 1, 2, 3],
        [1, 4, 5, 2],
      ],
    )
    const one = carried(target, uvsOf([...row.faceVertices].map((point): [number, number] => [row.points[3 * point]!, -row.points[3 * point + 2]!]))).set // prettier-ignore
    expect([one.indices[1] === one.indices[4], one.indices[2] === one.indices[7]]).toEqual([true, true])
    expect(one.values.length / 2).toBe(6)
    const two = carried(target, islands(5)).set
    expect([one.indices[1] === two.indices[4], two.indices[1] === two.indices[4]]).toEqual([false, false])
    expect(two.values.length / 2).toBe(8)
  })
  test('known ones stay, and only what is wanted is given', () => {
    const target = quads(quad(0, 1), quad(1, 2))
    const known: UvSet = { ...empty(target), values: Float64Array.of(9, 8), indices: Int32Array.of(0, 0, 0, 0, -1, -1, -1, 0) } // prettier-ignore
    const map = { faces: Int32Array.of(0, -1) }
    const { set } = carried(target, islands(5), { map, known, wanted: Uint8Array.of(0, 0, 0, 0, 1, 1, 0, 0) })
    expect([0, 1, 2, 3, 7].map((corner) => uvAt(set, corner))).toEqual(Array(5).fill([9, 8]))
    expect(uvAt(set, 6)).toBeNull()
    expect(uvAt(set, 5)![0]).toBeCloseTo(1, 12)
  })
  test('a corner that was put on a known polygon lies on that very polygon', () => {
    const target = meshOf([...quad(0, 1), [0.5, 0, 0]], [[0, 4, 1, 2, 3]])
    const { set } = carried(target, islands(5), {
      map: { faces: Int32Array.of(0) },
      wanted: Uint8Array.of(0, 1, 0, 0, 0),
    })
    uvAt(set, 1)!.forEach((value, axis) => expect(value).toBeCloseTo([0.25, 0][axis]!, 12))
    expect([0, 2, 3, 4].map((corner) => uvAt(set, corner))).toEqual([null, null, null, null])
    // a corner of that polygon without: there is nothing to share out
    const holed = islands(5)
    for (const without of [[0], [1, 2], [0, 1, 2, 3]]) {
      const some = { ...holed, indices: holed.indices.map((uv, corner) => (without.includes(corner) ? -1 : uv)) } // prettier-ignore
      const found = carried(target, some, { map: { faces: Int32Array.of(0) }, wanted: Uint8Array.of(0, 1, 0, 0, 0) }) // prettier-ignore
      expect([uvAt(found.set, 1), found.set.values.length]).toEqual([null, 0])
    }
  })
  test('where the master has none, nothing is made', () => {
    const set = islands(5)
    const holed = { ...set, indices: set.indices.map((uv, corner) => (corner < 4 ? -1 : uv)) }
    const { set: found } = carried(quads(quad(0, 1), quad(1, 2)), holed)
    expect([0, 1, 2, 3].map((corner) => uvAt(found, corner))).toEqual([null, null, null, null])
    expect(uvAt(found, 4)![0]).toBeCloseTo(0.5, 12)
    // most of a polygon lies there: it has no side of its own, so nothing of it lies beyond one
    const between = carried(quads(quad(0.2, 1.4)), holed)
    expect([between.acrossSeams, [...between.set.indices]]).toEqual([0, [-1, -1, -1, -1]])
    // and what lies nowhere has neither
    const nowhere = quads(quad(0.5, 1.5), [[NaN, 0, 0], [1, 0, 0], [1, 0, -1], [NaN, 0, -1]]) // prettier-ignore
    const { set: some, acrossSeams } = carried(nowhere, set)
    expect([acrossSeams, uvAt(some, 4), uvAt(some, 7)]).toEqual([0, null, null])
    expect(uvAt(some, 0)![0]).toBeCloseTo(0.25, 12)
    // one corner of its polygon without: what lies between it and the others has none either
    const cornerless = { ...set, indices: set.indices.map((uv, corner) => (corner === 0 ? -1 : uv)) }
    expect(uvAt(carried(quads(quad(0.2, 0.4, 0.2, 0.4)), cornerless).set, 0)).toBeNull()
  })
  test('round a polygon larger than many of the master’s: the nearest of all that lie on its side of the seams', () => {
    const fine = gridOf(12, 6)
    const target = quads([
      [1, 0, -1],
      [11, 0, -1],
      [11, 0, -5],
      [1, 0, -5],
    ])
    const { set, acrossSeams } = carried(target, fine.uvSets[0]!, { own: fine })
    expect(acrossSeams).toBe(0)
    const expected = [[1 / 12, 1 / 6], [11 / 12, 1 / 6], [11 / 12, 5 / 6], [1 / 12, 5 / 6]] // prettier-ignore
    expected.forEach((uv, corner) =>
      uv.forEach((value, axis) => expect(uvAt(set, corner)![axis]).toBeCloseTo(value, 12)),
    )
  })
})

describe('values of points', () => {
  const target = quads(quad(0.25, 1.5), quad(3, 4))
  const map = { ...nothing(target, row), points: Int32Array.of(-1, -1, -1, -1, 3, 4, 9, 8), faces: Int32Array.of(-1, 3) } // prettier-ignore
  const places = findPlaces(row, target, map)
  const points = placesOfPoints(places, target, map)
  /** A value of the row’s points, as the places share it. */
  const valueAt = (point: number, of: (own: number) => number): number =>
    points.get(point)!.reduce((sum, [own, share]) => sum + share * of(own), 0)

  test('new points alone have places: shares of the master’s points that sum to one and lie there', () => {
    expect([...points.keys()]).toEqual([0, 1, 2, 3])
    for (const point of points.keys()) {
      expect(valueAt(point, () => 1)).toBeCloseTo(1, 12)
      expect(points.get(point)!.every(([, share]) => share > 0)).toBe(true)
      for (const axis of [0, 1, 2])
        expect(valueAt(point, (own) => row.points[3 * own + axis]!)).toBeCloseTo(target.points[3 * point + axis]!, 12) // prettier-ignore
    }
  })
  test('a new point on a known polygon lies on that very polygon; one that is nowhere has no place', () => {
    const five = meshOf([...quad(0, 1), [0.5, 0, 0], [NaN, 0, 0]], [[0, 4, 1, 2, 3], [1, 5, 2]]) // prettier-ignore
    const known = { ...nothing(five, row), points: Int32Array.of(0, 1, 6, 5, -1, -1), faces: Int32Array.of(0, -1) } // prettier-ignore
    const found = placesOfPoints(findPlaces(row, five, known), five, known)
    expect([...found.keys()]).toEqual([4])
    expect([...found.get(4)!].sort(([a], [b]) => a - b)).toEqual([
      [0, 0.5],
      [1, 0.5],
    ])
  })
  test('weights: a joint’s share of what the master’s points have, each joint once; known points keep theirs', () => {
    const skin: Skin = {
      jointNodes: Int32Array.of(0, 1, 2),
      offsets: Uint32Array.from({ length: 11 }, (_o, point) => 2 * point),
      joints: Uint32Array.from({ length: 20 }, (_j, at) => (at % 2 ? 2 : 1)),
      weights: Float64Array.from({ length: 20 }, (_w, at) => {
        const x = row.points[3 * (at >> 1)]!
        return at % 2 ? x / 4 : 1 - x / 4
      }),
    }
    const before: Skin = { ...skin, offsets: Uint32Array.of(0, 0, 0, 0, 0, 1, 2, 2, 4), joints: Uint32Array.of(0, 1, 0, 2), weights: Float64Array.of(1, 0.5, 0.25, 0.75) } // prettier-ignore
    const found = carrySkinOver(before, skin, points)
    expect([...found.offsets]).toEqual([0, 2, 4, 6, 8, 9, 10, 10, 12])
    expect([...found.joints.subarray(8)]).toEqual([0, 1, 0, 2])
    expect([...found.weights.subarray(8)]).toEqual([1, 0.5, 0.25, 0.75])
    for (const point of [0, 1, 2, 3]) {
      const x = target.points[3 * point]!
      const own = new Map([0, 1].map((at) => [found.joints[2 * point + at]!, found.weights[2 * point + at]!]))
      expect(own.get(1)).toBeCloseTo(1 - x / 4, 12)
      expect(own.get(2)).toBeCloseTo(x / 4, 12)
    }
    expect(carrySkinOver(before, skin, new Map())).toBe(before)
  })
  test('shapes: offsets in shares; points that the shape leaves stay out of it', () => {
    // the shape moves the points up to x = 2
    const moving = [0, 1, 2, 5, 6, 7]
    const shape: BlendShape = { name: 'lift', points: Uint32Array.from(moving), offsets: Float64Array.from(moving.flatMap((own) => [row.points[3 * own]!, 2, 0])) } // prettier-ignore
    const carriedShape: BlendShape = { ...shape, name: 'own', points: Uint32Array.of(5), offsets: Float64Array.of(7, 8, 9) } // prettier-ignore
    const found = carryShapeOver(carriedShape, shape, points)
    expect([found.name, [...found.points]]).toEqual(['own', [0, 1, 2, 3, 5]])
    for (const point of [0, 1, 2, 3])
      expect([0, 1, 2].map((axis) => Math.round(found.offsets[3 * point + axis]! * 1e9) / 1e9)).toEqual([target.points[3 * point]!, 2, 0]) // prettier-ignore
    expect([...found.offsets.subarray(12)]).toEqual([7, 8, 9])
    const beyond = carryShapeOver(carriedShape, { ...shape, points: Uint32Array.of(4), offsets: Float64Array.of(1, 1, 1) }, points) // prettier-ignore
    expect([...beyond.points]).toEqual([5])
    // a place on the border of the shape is moved by the share that it has in it
    const half = carryShapeOver(carriedShape, { ...shape, points: Uint32Array.of(2, 7), offsets: Float64Array.of(4, 0, 0, 4, 0, 0) }, points) // prettier-ignore
    expect([...half.points]).toEqual([1, 2, 5])
    expect(half.offsets[0]).toBeCloseTo(2, 12)
  })
  const tints: ColorSet = { name: 'tint', components: 3, per: 'points', values: Float64Array.from({ length: 30 }, (_v, at) => row.points[3 * Math.floor(at / 3)]! * (1 + (at % 3))), indices: new Int32Array(0) } // prettier-ignore
  test('colours of points: in shares, shared or not, where wanted', () => {
    const before: ColorSet = { ...tints, values: new Float64Array(24).fill(0.5), indices: new Int32Array(0) }
    const wanted = Uint8Array.of(1, 1, 0, 1, 0, 0, 0, 0)
    const found = carryColoursOver(places, target, map, before, tints, points, wanted)
    const colourOf = (point: number): number[] => [0, 1, 2].map((part) => Math.round(found.values[3 * found.indices[point]! + part]! * 1e9) / 1e9) // prettier-ignore
    expect([0, 1, 3].map(colourOf)).toEqual([0.25, 1.5, 0.25].map((x) => [x, 2 * x, 3 * x]))
    expect([2, 4, 7].map(colourOf)).toEqual(Array(3).fill([0.5, 0.5, 0.5]))
    // the same by way of indices, turned round; one that has no colour gives none
    const turned: ColorSet = { ...tints, values: Float64Array.from({ length: 30 }, (_v, at) => tints.values[3 * (9 - Math.floor(at / 3)) + (at % 3)]!), indices: Int32Array.from({ length: 10 }, (_i, point) => 9 - point) } // prettier-ignore
    const again = carryColoursOver(places, target, map, before, turned, points, wanted)
    expect([...again.values]).toEqual([...found.values])
    const without = { ...turned, indices: turned.indices.map((own, point) => (point === 0 ? -1 : own)) }
    const less = carryColoursOver(places, target, map, before, without, points, wanted)
    expect([less.indices[0], less.indices[1]! >= 8]).toEqual([0, true])
  })
  test('colours that came without indices have as many as there are points, or corners', () => {
    const target = quads(quad(0, 1), quad(1, 2))
    for (const [per, count] of [
      ['points', 8],
      ['corners', 8],
    ] as const) {
      const shared = meshOf([...quad(0, 1), [2, 0, 0], [2, 0, -1]], [[0, 1, 2, 3], [1, 4, 5, 2]]) // prettier-ignore
      for (const [mesh, own] of [
        [target, count],
        [shared, per === 'points' ? 6 : 8],
      ] as const) {
        const map = nothing(mesh, row)
        const elements = per === 'points' ? pointCountOf(row) : cornerCountOf(row)
        const source: ColorSet = { name: 'tint', components: 1 as never, per, values: Float64Array.from({ length: elements }, (_v, at) => at), indices: new Int32Array(0) } // prettier-ignore
        const carried: ColorSet = { ...source, values: new Float64Array(own), indices: new Int32Array(0) }
        const places = findPlaces(row, mesh, map)
        const wanted = new Uint8Array(own)
        wanted[own - 1] = 1
        const { indices } = carryColoursOver(places, mesh, map, carried, source, placesOfPoints(places, mesh, map), wanted) // prettier-ignore
        expect([...indices]).toEqual([...Array.from({ length: own - 1 }, (_i, at) => at), own])
        // what was given stays as it was
        const given = { ...carried, indices: Int32Array.from({ length: own }, (_i, at) => at) }
        carryColoursOver(places, mesh, map, given, source, placesOfPoints(places, mesh, map), wanted)
        expect(given.indices[own - 1]).toBe(own - 1)
      }
    }
  })
  test('colours of corners: on their own polygon where it is known, by the surface elsewhere', () => {
    const perCorner: ColorSet = { name: 'tint', components: 4, per: 'corners', values: Float64Array.from([...row.faceVertices].flatMap((point) => [row.points[3 * point]!, -row.points[3 * point + 2]!, 0, 1])), indices: Int32Array.from({ length: 16 }, (_i, corner) => corner) } // prettier-ignore
    const before: ColorSet = {
      ...perCorner,
      values: new Float64Array(0),
      indices: new Int32Array(8).fill(-1),
    }
    const wanted = Uint8Array.of(1, 1, 1, 0, 0, 0, 1, 0)
    const found = carryColoursOver(places, target, map, before, perCorner, points, wanted)
    const colourOf = (corner: number): number[] => [0, 1, 2, 3].map((part) => Math.round(found.values[4 * found.indices[corner]! + part]! * 1e9) / 1e9) // prettier-ignore
    expect([0, 1, 2, 6].map(colourOf)).toEqual([[0.25, 0, 0, 1], [1.5, 0, 0, 1], [1.5, 1, 0, 1], [4, 1, 0, 1]]) // prettier-ignore
    expect([3, 4, 5, 7].map((corner) => found.indices[corner])).toEqual([-1, -1, -1, -1])
    // moved over another polygon it is still a piece of its own: its place there is the nearest of that one
    const moved = quads(quad(2, 3))
    const own = { ...nothing(moved, row), faces: Int32Array.of(0) }
    const taken = carryColoursOver(findPlaces(row, moved, own), moved, own, { ...before, indices: new Int32Array(4).fill(-1) }, perCorner, new Map(), Uint8Array.of(1, 0, 0, 0)) // prettier-ignore
    expect([0, 1, 2, 3].map((part) => taken.values[4 * taken.indices[0]! + part])).toEqual([1, 0, 0, 1])
  })
})

describe('what new elements take, and what stays as it came', () => {
  const pointsOf = (mesh: Mesh): Point[] => Array.from({ length: pointCountOf(mesh) }, (_p, at) => [mesh.points[3 * at]!, mesh.points[3 * at + 1]!, mesh.points[3 * at + 2]!]) // prettier-ignore
  /** The row with its last cell cut in two: two new points at the end of the list, two new polygons. */
  const cut = meshOf(
    [...pointsOf(row), [3.5, 0, 0], [3.5, 0, -1]],
    [[0, 1, 6, 5], [1, 2, 7, 6], [2, 3, 8, 7], [3, 10, 11, 8], [10, 4, 9, 11]], // prettier-ignore
  )
  const known = Array.from({ length: 10 }, (_p, at) => at)
  const map: CarryMap = {
    points: Int32Array.of(...known, -1, -1),
    sourcePoints: Int32Array.from(known),
    faces: Int32Array.of(0, 1, 2, -1, -1),
    corners: Int32Array.of(0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, -1, -1, 15, -1, 13, 14, -1),
  }
  const tint = (count: number, value: number): ColorSet => ({ name: 'tint', components: 3, per: 'points', values: new Float64Array(3 * count).fill(value), indices: new Int32Array(0) }) // prettier-ignore
  const master: Mesh = {
    ...row,
    uvSets: [],
    colorSets: [{ ...tint(10, 0), values: Float64Array.from({ length: 30 }, (_v, at) => row.points[3 * Math.floor(at / 3)]!) }], // prettier-ignore
  }
  const over = (target: Mesh, agrees: boolean, wants = true, own = master) =>
    carryOverSurface(own, target, map, () => wants, () => agrees)! // prettier-ignore
  const reds = ({ colorSets: [set] }: Mesh): number[] =>
    Array.from({ length: 12 }, (_p, point) => {
      const at = set!.indices.length ? set!.indices[point]! : point
      return at < 0 ? NaN : set!.values[3 * at]!
    })
  /** As carrying by counterparts leaves it: an index a point. */
  const own: ColorSet = { ...tint(12, 9), indices: Int32Array.from({ length: 12 }, (_i, at) => at) }
  test('colours of new points: the surface’s where the master’s are wanted, the tool’s own where all else of them agrees', () => {
    const target = { ...cut, colorSets: [own] }
    const taken = over(target, false)
    expect(reds(taken.mesh)).toEqual([...Array(10).fill(9), 3.5, 3.5])
    expect([taken.traits.includes('colours'), taken.hardEdges, taken.creases]).toEqual([true, null, null])
    expect(reds(over(target, true).mesh)).toEqual(Array(12).fill(9))
    expect(over(target, true).traits).toEqual([])
    expect(reds(over(target, false, false).mesh)).toEqual(Array(12).fill(9))
  })
  test('without indices a point’s own number says which colour it has', () => {
    const plain: ColorSet = { ...own, values: Float64Array.from({ length: 36 }, (_v, at) => 100 + Math.floor(at / 3)), indices: new Int32Array(0) } // prettier-ignore
    const expected = Array.from({ length: 10 }, (_p, at) => 100 + at)
    expect(reds(over({ ...cut, colorSets: [plain] }, false).mesh)).toEqual([...expected, 3.5, 3.5])
  })
  test('the first colour of all is one as any other', () => {
    const first: ColorSet = { ...own, indices: Int32Array.of(...known, 0, 11) }
    expect(over({ ...cut, colorSets: [first] }, true).traits).toEqual([])
    const bare: ColorSet = { ...own, indices: new Int32Array(0) }
    // without indices none of them says that it has one
    expect(over({ ...cut, colorSets: [bare] }, true).traits).toEqual(['colours'])
  })
  test('new points that came without a colour take the surface’s in any case', () => {
    const indexed: ColorSet = { ...own, indices: Int32Array.of(...known, -1, 11) }
    const { mesh, traits } = over({ ...cut, colorSets: [indexed] }, true)
    expect([reds(mesh), traits]).toEqual([[...Array(10).fill(9), 3.5, 9], ['colours']])
  })
  /** A UV set of the row by place, moved up by `by`; the last cell's second half apart where there is a seam. */
  const byPlace = (mesh: Mesh, name: string, by: number, seam = false): UvSet => ({
    ...uvsOf(
      [...mesh.faceVertices].map((point, corner): [number, number] => [
        mesh.points[3 * point]! + by,
        -mesh.points[3 * point + 2]! + (seam && corner >= 8 ? 9 : 0),
      ]),
    ),
    name,
  })
  const uv = (set: UvSet, corner: number): number => (set.indices[corner]! < 0 ? NaN : set.values[2 * set.indices[corner]!]!) // prettier-ignore
  describe('UVs of corners', () => {
    const sets = [byPlace(row, 'first', 0), byPlace(row, 'second', 100)]
    const painted: Mesh = { ...master, colorSets: [], uvSets: sets }
    /** As carrying by counterparts leaves it: the new corners have what the tool gave them, or nothing. */
    const target = (own: (corner: number) => number): Mesh => ({
      ...cut,
      uvSets: [0, 100].map((by, at) => {
        const set = byPlace(cut, at ? 'second' : 'first', by)
        return { ...set, values: set.values.map((value, k) => (k % 2 ? value : own(k / 2) ? own(k / 2) : value)), indices: set.indices.map((index, corner) => (own(corner) < 0 ? -1 : index)) } // prettier-ignore
      }),
    })
    const isNew = (corner: number): boolean => map.corners[corner]! < 0
    const expected = (by: number): number[] =>
      [...cut.faceVertices].map((point) => cut.points[3 * point]! + by)
    test('those without counterpart take the surface’s, in every set, whatever the tool gave them; known ones keep theirs', () => {
      const { mesh, traits, acrossSeams } = over(target((corner) => (isNew(corner) ? 55 : 0)), false, true, painted) // prettier-ignore
      mesh.uvSets.forEach((set, at) => {
        expect(set.name).toBe(sets[at]!.name)
        expected(100 * at).forEach((value, corner) => expect(uv(set, corner)).toBeCloseTo(value, 12))
      })
      expect([traits, acrossSeams]).toEqual([['uvs'], 0])
      // a known one that was changed stays changed
      const changed = over(
        target((corner) => (corner === 0 || corner === 5 ? 77 : 0)),
        false,
        true,
        painted,
      )
      expect([0, 5].map((corner) => uv(changed.mesh.uvSets[0]!, corner))).toEqual([77, 77])
    })
    test('the tool’s own stay where all else of them agrees, the first of all among them; those that it gave none take the surface’s', () => {
      // the first UV of the list is a new corner's
      const own = target((corner) => (corner === 13 ? 55 : corner === 14 ? -1 : 0))
      const [set] = own.uvSets
      const first = { ...set!, values: Float64Array.of(55, 5, ...set!.values.slice(2)), indices: set!.indices.map((index, corner) => (corner === 13 ? 0 : corner === 0 ? 13 : index)) } // prettier-ignore
      const { mesh } = over({ ...own, uvSets: [first, own.uvSets[1]!] }, true, true, painted)
      expect(uv(mesh.uvSets[0]!, 13)).toBe(55)
      expect(uv(mesh.uvSets[0]!, 14)).toBeCloseTo(expected(0)[14]!, 12)
      // where all have their own nothing is carried
      const whole = over(
        target((corner) => (corner === 13 ? 55 : 0)),
        true,
        true,
        painted,
      )
      expect([whole.traits, uv(whole.mesh.uvSets[0]!, 13), whole.faces]).toEqual([[], 55, 0])
    })
    test('a corner that a cut put on a known polygon, the first of all, takes its UV and makes no polygon new', () => {
      const put = meshOf([...quad(0, 1), [0.5, 0, 0]], [[0, 4, 1, 2, 3]])
      const whole = { points: Int32Array.of(0, 1, 6, 5, -1), sourcePoints: Int32Array.of(0, 1, -1, -1, -1, 3, 2, -1, -1, -1), faces: Int32Array.of(0), corners: Int32Array.of(0, -1, 1, 2, 3) } // prettier-ignore
      const own = byPlace(put, 'first', 0)
      const bare = { ...own, indices: own.indices.map((index, corner) => (corner === 1 ? -1 : index)) }
      const { mesh, faces, traits, farthest } = carryOverSurface({ ...painted, uvSets: [sets[0]!] }, { ...put, uvSets: [bare] }, whole, () => true, () => false)! // prettier-ignore
      expect(uv(mesh.uvSets[0]!, 1)).toBeCloseTo(0.5, 12)
      expect([faces, traits, farthest]).toEqual([0, ['uvs'], 0])
    })
    test('seams are counted in the first set alone', () => {
      const wide = meshOf(pointsOf(row), [[0, 1, 6, 5], [1, 3, 8, 6], [3, 4, 9, 8]]) // prettier-ignore
      const own = { ...map, points: Int32Array.from(known), faces: Int32Array.of(0, -1, 3), corners: Int32Array.of(0, 1, 2, 3, -1, -1, -1, -1, 12, 13, 14, 15) } // prettier-ignore
      const across = (first: boolean, second: boolean): number => {
        const both = { ...painted, uvSets: [byPlace(row, 'first', 0, first), byPlace(row, 'second', 100, second)] } // prettier-ignore
        const empties = both.uvSets.map(({ name }) => ({ ...empty(wide), name, indices: own.corners.slice(), values: byPlace(row, name, 0).values })) // prettier-ignore
        return carryOverSurface(both, { ...wide, uvSets: empties }, own, () => true, () => false)!.acrossSeams // prettier-ignore
      }
      expect([across(true, false), across(false, true), across(true, true), across(false, false)]).toEqual([1, 0, 1, 0]) // prettier-ignore
    })
  })
  test('shapes and weights: told where there are any, and new points to give them to', () => {
    const shape: BlendShape = { name: 'lift', points: Uint32Array.of(3, 4, 8, 9), offsets: Float64Array.of(0, 1, 0, 0, 3, 0, 0, 1, 0, 0, 3, 0) } // prettier-ignore
    const shaped = { ...master, colorSets: [], shapes: [shape] }
    const target = { ...cut, shapes: [shape] }
    const taken = over(target, false, true, shaped)
    expect([taken.traits, [...taken.mesh.shapes[0]!.points]]).toEqual([['shapes'], [3, 4, 8, 9, 10, 11]])
    expect([...taken.mesh.shapes[0]!.offsets.subarray(12)]).toEqual([0, 2, 0, 0, 2, 0])
    expect(over(target, false, false, shaped).mesh.shapes[0]).toBe(shape)
    expect(over(cut, false, true, { ...master, colorSets: [] }).traits).toEqual([])
    // nothing is new: nothing to carry
    const whole = { points: Int32Array.from(known), sourcePoints: Int32Array.from(known), faces: Int32Array.of(0, 1, 2, 3), corners: Int32Array.from({ length: 16 }, (_c, at) => at) } // prettier-ignore
    expect(carryOverSurface(shaped, { ...row, uvSets: [], shapes: [shape] }, whole, () => true, () => false)).toBeNull() // prettier-ignore
  })
  test('most of it made anew: what a tool gave of its own does not stay', () => {
    const target = { ...cut, colorSets: [own] }
    const few = { ...map, faces: Int32Array.of(0, -1, -1, -1, -1) }
    const remade = carryOverSurface(master, target, few, () => true, () => true)! // prettier-ignore
    expect(reds(remade.mesh).slice(10)).toEqual([3.5, 3.5])
    const many = { ...map, faces: Int32Array.of(0, 1, 2, -1, -1) }
    expect(reds(carryOverSurface(master, target, many, () => true, () => true)!.mesh).slice(10)).toEqual([9, 9]) // prettier-ignore
  })
})
