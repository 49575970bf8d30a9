import { describe, expect, test } from 'vitest'
import { cubeOf, gridOf, uvsOf } from '../../../../tests/solids.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { haveOtherUvs, voteFaces } from './vote-faces.ts'

const standing = (mesh: Mesh) => ({ mesh, points: mesh.points })
const movedBy = (mesh: Mesh, x: number): Mesh => ({
  ...mesh,
  points: mesh.points.map((value, at) => value + (at % 3 === 0 ? x : 0)),
})
/** UVs of a part's own, off by so much. */
const laid = (mesh: Mesh, off: number): Mesh => ({
  ...mesh,
  uvSets: [uvsOf([...mesh.faceVertices].map((point) => [off + point / 100, off + (point % 7) / 50] as const))],
}) // prettier-ignore
const facesOf = (mesh: Mesh): number => mesh.faceOffsets.length - 1

const bare = (mesh: Mesh): Mesh => ({ ...mesh, uvSets: [] })
const [cube, sheet] = [bare(cubeOf()), movedBy(bare(gridOf(2, 3)), 5)]

describe('which part a polygon is of', () => {
  test('says its place, where there are no UVs', () => {
    const votes = voteFaces([cube, sheet].map(standing), [sheet, cube].map(standing))
    expect(votes.map((faces) => [...faces])).toEqual([Array(facesOf(sheet)).fill(1), Array(facesOf(cube)).fill(0)])
  }) // prettier-ignore
  test('and not what lies a thousandth off', () => {
    const [faces] = voteFaces([cube, sheet].map(standing), [standing(movedBy(cube, 0.01))])
    expect([...faces!]).toEqual(Array(facesOf(cube)).fill(-1))
  })
  test('say its UVs, where it has come to the place of another', () => {
    const masters = [laid(cube, 0), laid(movedBy(cube, 3), 0.5)]
    const [faces] = voteFaces(masters.map(standing), [standing(laid(movedBy(cube, 3), 0))])
    expect([...faces!]).toEqual(Array(facesOf(cube)).fill(0))
  })
  test('say its UVs alone, where a point has no place', () => {
    const broken = laid(cube, 0)
    const points = broken.points.slice()
    points[0] = NaN
    const masters = [laid(movedBy(cube, 3), 0.5), laid(cube, 0)]
    const [faces] = voteFaces(masters.map(standing), [standing({ ...broken, points })])
    expect([...faces!]).toEqual(Array(facesOf(cube)).fill(1))
    // and without UVs nothing does
    const [none] = voteFaces([movedBy(cube, 3), cube].map(standing), [standing({ ...cube, points })])
    expect([...none!]).toEqual(Array(facesOf(cube)).fill(-1))
  })
  test('nothing says, where several parts lie on each other', () => {
    const [faces] = voteFaces([cube, { ...cube }].map(standing), [standing({ ...cube })])
    expect([...faces!]).toEqual(Array(facesOf(cube)).fill(-1))
  })
  test('says its place where parts meet, whole and in triangles: every corner is of both, the polygon of one', () => {
    // two boxes beside each other, the wall between them taken out of the second and its corners split
    const other = movedBy(cube, 1)
    const open: Mesh = { ...other, faceOffsets: other.faceOffsets.slice(0, 6), faceVertices: other.faceVertices.slice(0, 20) }
    const masters = [cube, open].map(standing)
    const wallOf = (mesh: Mesh): number[] => [...mesh.faceVertices.subarray(12, 16)]
    for (const faces of [[wallOf(cube)], [[...wallOf(cube).slice(0, 3)], wallOf(cube).filter((_point, at) => at !== 1)]]) {
      const wall = { ...cube, faceOffsets: Uint32Array.from([0, ...faces].map((_face, at) => at * faces[0]!.length)), faceVertices: Uint32Array.from(faces.flat()) }
      const [votes] = voteFaces(masters, [standing(wall)])
      expect([...votes!]).toEqual(faces.map(() => 0))
    }
    // the second has a wall of its own there as well, which faces the other way
    const one = (points: number[]): Mesh => ({ ...cube, faceOffsets: Uint32Array.of(0, points.length), faceVertices: Uint32Array.from(points) })
    for (let from = 0; from < 4; from++) {
      const way = [0, 1, 2, 3].map((at) => wallOf(cube)[(at + from) % 4]!)
      for (const points of [way, way.slice(0, 3)]) {
        const [own] = voteFaces([cube, other].map(standing), [standing(one(points))])
        expect([...own!]).toEqual([0])
        const [back] = voteFaces([cube, other].map(standing), [standing(one([...points].reverse()))])
        expect([...back!]).toEqual([1])
      }
    }
  }) // prettier-ignore
  test('of two parts alike nothing is said; of three corners against one the three', () => {
    // a polygon whose corners lie on the points of two parts, two and two, then three and one
    const strip = bare(gridOf(1, 1))
    const [own, other] = [movedBy(strip, -1), movedBy(strip, 1)]
    const at = (mesh: Mesh, point: number): number[] => [...mesh.points.subarray(3 * point, 3 * point + 3)]
    const between = (places: number[][]): Mesh => ({ ...strip, points: Float64Array.from(places.flat()) })
    const masters = [own, other].map(standing)
    const [even] = voteFaces(masters, [standing(between([at(own, 0), at(own, 2), at(other, 1), at(other, 3)]))])
    expect([...even!]).toEqual([-1])
    const [more] = voteFaces(masters, [standing(between([at(own, 0), at(own, 2), at(other, 1), [9, 9, 9]]))])
    expect([...more!]).toEqual([0])
  }) // prettier-ignore
})

test('parts whose UVs are hardly any of both', () => {
  expect(haveOtherUvs(laid(cube, 0), laid(cube, 0))).toBe(false)
  expect(haveOtherUvs(laid(cube, 0), laid(cube, 0.5))).toBe(true)
  expect(haveOtherUvs(cube, laid(cube, 0.5))).toBe(false)
  expect(haveOtherUvs(laid(cube, 0), cube)).toBe(false)
})
