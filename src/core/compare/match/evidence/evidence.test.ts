import { describe, expect, test } from 'vitest'
import { pointCountOf, type Mesh } from '../../../scene/mesh.ts'
import { gridOf, meshOf, uvsOf } from '../../../../../tests/solids.ts'
import { neighboursOf } from '../neighbours.ts'
import { byCarriedMoves } from './by-carried-moves.ts'
import { byOrder } from './by-order.ts'
import { byUvs } from './by-uvs.ts'
import { createNearestPoints } from './nearest-points.ts'

const wave = (x: number, z: number): number => Math.sin(x * 0.7) * 0.4 + Math.cos(z * 0.9) * 0.3
const moved = (mesh: Mesh, by: (x: number, y: number, z: number) => readonly number[]): Mesh => ({
  ...mesh,
  points: Float64Array.from({ length: mesh.points.length }, (_value, at) => {
    const first = at - (at % 3)
    const [x, y, z] = [mesh.points[first]!, mesh.points[first + 1]!, mesh.points[first + 2]!]
    return by(x, y, z)[at % 3]!
  }),
})
const shifted = (mesh: Mesh, from: number, by: number): Mesh => ({
  ...mesh,
  points: Float64Array.from({ length: mesh.points.length + 3 * by }, (_value, at) =>
    at < 3 * from ? mesh.points[at]! : at < 3 * (from + by) ? 99 + at : mesh.points[at - 3 * by]!,
  ),
})
const identity = (mesh: Mesh): number[] => Array.from({ length: pointCountOf(mesh) }, (_point, at) => at)

describe('the order of points', () => {
  const sheet = gridOf(30, 20, {}, wave)
  test('is believed where all moved smoothly, and where only here and there something did', () => {
    expect([
      ...byOrder(
        sheet,
        moved(sheet, (x, y, z) => [x, y + 0.2 * Math.sin(x / 9), z]),
      )!,
    ]).toEqual(identity(sheet))
    const bump = moved(sheet, (x, y, z) => [x, y + 0.6 * Math.max(0, 1 - Math.hypot(x - 9, z + 7) / 4), z])
    const pairs = byOrder(sheet, bump)!
    expect(pairs.every((other, point) => other === point || other === -1)).toBe(true)
    expect(pairs.filter((other) => other >= 0).length).toBeGreaterThan(pairs.length * 0.6)
  })
  test.each([1, 3, 31])('is not where %i points were added in the middle', (by) => {
    expect(byOrder(sheet, shifted(sheet, 300, by))).toBeNull()
  })
})

describe('moves that are carried on', () => {
  /** Coarse on one side, and finer than it will move on the other. */
  const graded = gridOf(24, 12, {}, wave)
  const fine = moved(graded, (x, y, z) => [x < 12 ? x : 12 + (x - 12) * 0.08, y * 0.1, z])
  const away = (x: number): number => 0.25 + 0.01 * x

  test('reach what moved past its neighbours', () => {
    const returned = moved(fine, (x, y, z) => [x + away(x), y, z])
    const { pairs, guess } = byCarriedMoves(fine, returned, neighboursOf(fine), neighboursOf(returned))!
    expect(guess).toBe(false)
    const found = pairs.filter((other) => other >= 0).length
    expect(pairs.every((other, point) => other === point || other === -1)).toBe(true)
    expect(found).toBeGreaterThan(pairs.length * 0.9)
  })
  test('are a guess where another shell lies about as near as what was moved', () => {
    const gap = 0.05
    const over = moved(graded, (x, y, z) => [x, y + gap, z])
    const count = graded.points.length / 3
    const both = {
      ...graded,
      points: Float64Array.from([...graded.points, ...over.points]),
      faceOffsets: Uint32Array.from([...graded.faceOffsets, ...over.faceOffsets.subarray(1).map((at) => at + graded.faceVertices.length)]), // prettier-ignore
      faceVertices: Uint32Array.from([
        ...graded.faceVertices,
        ...over.faceVertices.map((point) => point + count),
      ]),
      uvSets: [],
    }
    const guessAt = (by: number): boolean | null => {
      const returned = moved(both, (x, y, z) => [x, y + by, z])
      return byCarriedMoves(both, returned, neighboursOf(both), neighboursOf(returned))?.guess ?? null
    }
    expect([0, 0.1 * gap, 0.3 * gap, 0.8 * gap].map(guessAt)).toEqual([false, false, true, null])
  })
  test('say nothing of a lattice that was made anew over the same place', () => {
    for (const [across, along] of [
      [20, 10],
      [26, 13],
      [28, 14],
      [31, 17],
    ] as const) {
      const other = moved(gridOf(across, along), (x, _y, z) => [
        (x * 24) / across,
        wave((x * 24) / across, (z * 12) / along),
        (z * 12) / along,
      ])
      expect(byCarriedMoves(graded, other, neighboursOf(graded), neighboursOf(other))).toBeNull()
    }
  })
  test('say nothing where nothing lies near', () => {
    const returned = moved(graded, (x, y, z) => [x + 900, y, z])
    expect(byCarriedMoves(graded, returned, neighboursOf(graded), neighboursOf(returned))).toBeNull()
  })
})

describe('nearest points', () => {
  test('are those that looking at all of them finds, at any reach', () => {
    const points = Float64Array.from({ length: 3 * 400 }, (_value, at) => ((at * 7919) % 1000) / 100)
    const there = createNearestPoints(points)
    for (const reach of [0.01, 0.3, 1.7, 40])
      for (let look = 0; look < 60; look++) {
        const [x, y, z] = [(look * 13) % 10, (look * 7) % 10, (look * 3) % 10] as const
        const all = Array.from({ length: 400 }, (_point, at) =>
          Math.sqrt([x, y, z].reduce((sum, value, axis) => sum + (points[3 * at + axis]! - value) ** 2, 0)),
        ).sort((a, b) => a - b)
        const { least, second } = there.nearest(x, y, z, reach)
        expect(least).toBe(all[0]! <= reach ? all[0] : Infinity)
        expect(second).toBe(all[1]! <= reach ? all[1] : Infinity)
      }
  })
  test('only those that fit count, and nonsense finds none', () => {
    const there = createNearestPoints(Float64Array.from([0, 0, 0, 1, 0, 0]))
    expect(there.nearest(0.1, 0, 0, 5, (point) => point === 1).best).toBe(1)
    expect(there.nearest(0, 0, 0, 0).best).toBe(-1)
    expect(there.nearest(0, 0, 0, Infinity).best).toBe(-1)
    expect(there.nearest(NaN, 0, 0, 1).best).toBe(-1)
  })
})

describe('UVs that say different things of one point', () => {
  /** A fan about a point, each of its polygons with UVs of its own; the named ones name another point there. */
  const fan = (astray: Readonly<Record<number, number>>, count: number): Mesh => {
    const rim = Array.from({ length: count }, (_none, at) => {
      const angle = (2 * Math.PI * at) / count
      return [Math.cos(angle), Math.sin(angle), 0] as const
    })
    const middles = [0, ...new Set(Object.values(astray))].map((z) => [0, 0, z] as const)
    const faces = rim.map((_point, at) => [
      Math.max(
        0,
        middles.findIndex(([, , z]) => z === (astray[at] ?? 0)),
      ),
      middles.length + at,
      middles.length + ((at + 1) % count),
    ])
    const uvs = faces.flatMap((_face, at) => [0, 1, 2].map((k) => [at / count, k / 4 + at / 100] as const))
    return meshOf([...middles, ...rim], faces, { uvSets: [uvsOf(uvs)] })
  }
  test('most of them decide, and as many on either side settle nothing', () => {
    const master = fan({}, 7)
    // the middle point of most polygons is another one here, of some the same
    for (const [astray, wanted] of [
      [{}, 0],
      [{ 6: 1 }, 0],
      [{ 0: 1 }, 0],
      [{ 0: 1, 3: 1, 6: 1 }, 0],
      [{ 0: 1, 2: 1, 4: 1, 6: 1 }, 1],
      [{ 0: 1, 1: 2, 2: 2, 3: 2 }, -1],
      [{ 0: 1, 1: 2, 2: 2, 3: 2, 4: 2 }, 2],
      [{ 2: 1, 3: 1, 4: 1, 5: 1, 6: 1 }, 1],
    ] as const)
      expect(byUvs(master, fan(astray, 7))![0], JSON.stringify(astray)).toBe(wanted)
  })
})
