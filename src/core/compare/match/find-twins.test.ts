/** Parts that are another one moved or mirrored: made at random, the truth known. */
import { describe, expect, test } from 'vitest'
import { howMany } from '../../../../tests/how-many.ts'
import { ballOf, cubeOf, gridOf, moved, scaled, sceneOf, turnedAbout } from '../../../../tests/solids.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { isMirroring, multiplyMatrices, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { removeFaces } from '../../mesh/rebuilding/edit-faces.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { renumberMesh } from '../../practice/standins/sculptor.ts'
import { faceCountOf, type Mesh } from '../../scene/mesh.ts'
import { IDENTITY_MATRIX } from '../../scene/scene.ts'
import { findTwins, fitAffine, isRigid } from './find-twins.ts'

/** No two sides of it look alike; its polygons hang together alike from several. */
const whole: Mesh = {
  ...ballOf(9, 6, 1),
  points: ballOf(9, 6, 1).points.map((_value, at, all) => {
    const [x, y, z] = [0, 1, 2].map((axis) => all[at - (at % 3) + axis]!) as [number, number, number]
    const place = [
      x * (1 + 0.3 * y) + 0.2 * z * z,
      1.6 * y + 0.1 * x * x,
      0.8 * z * (1 + 0.25 * x) + 0.2 * y * y + 0.1 * x * y,
    ]
    return place[at % 3]!
  }),
}
/** They do not. */
const lump = removeFaces(whole, Uint8Array.from({ length: faceCountOf(whole) }, (_face, at) => Number([12, 13, 29].includes(at))), { dropLoose: true }) // prettier-ignore
const mirror = scaled(-1, 1, 1)
function anyWay(chance: () => number, mirrors: boolean): Matrix {
  const axis = [chance() - 0.5, chance() - 0.5, chance() + 0.1] as const
  const turned = multiplyMatrices(turnedAbout(axis, 360 * chance()), mirrors ? mirror : IDENTITY_MATRIX)
  return multiplyMatrices(moved(20 * chance() - 10, 20 * chance() - 10, 30 * chance()), turned)
}
const close = (a: ArrayLike<number>, b: ArrayLike<number>): number =>
  Math.max(...Array.from(a, (value, at) => Math.abs(value - b[at]!)))

describe.each([
  ['with the numbers that it had', lump, (mesh: Mesh) => mesh],
  ['numbered anew', lump, (mesh: Mesh, seed: number) => renumberMesh(mesh, seed)],
  ['numbered anew, of polygons that tell nothing', whole, (mesh: Mesh, seed: number) => renumberMesh(mesh, seed)], // prettier-ignore
])('%s', (name, shape, numbered) => {
  test.each([false, true])('mirrored: %s', (mirrors) => {
    for (let seed = 0; seed < howMany(12, 400); seed++) {
      const chance = chanceOf(seed)
      const way = anyWay(chance, mirrors)
      const own = transformMesh(shape, moved(3 * chance(), 0, 0))
      const twin = numbered(transformMesh(own, way), seed)
      const other = { ...transformMesh(shape, moved(50, 0, 0)), points: shape.points.map((value, at) => value * (at % 3 === 2 ? 1.2 : 0.9)) } // prettier-ignore
      const found = findTwins(sceneOf([own, other, twin]))
      expect(found).toHaveLength(1)
      const [{ node, twin: is, matrix, mirrored, points }] = found as [(typeof found)[0]]
      expect([seed, node, is, mirrored]).toEqual([seed, 0, 2, mirrors])
      expect(isMirroring(matrix)).toBe(mirrors)
      expect(close(matrix, way)).toBeLessThan(1e-9)
      // the points that are its own lie where the way takes them
      const there = transformPoints(own.points, way)
      const itsOwn = Float64Array.from({ length: there.length }, (_value, at) => twin.points[3 * (points?.[Math.floor(at / 3)] ?? Math.floor(at / 3)) + (at % 3)]!) // prettier-ignore
      expect(close(itsOwn, there)).toBeLessThan(1e-9)
      // what is mirrored has its corners the other way round
      expect(points === null).toBe(name === 'with the numbers that it had' && !mirrors)
    }
  })
})

test('what was sized, bent or sheared is no twin; what misses by less than a ten-thousandth is', () => {
  const twinsOf = (change: (mesh: Mesh) => Mesh): number =>
    findTwins(sceneOf([lump, transformMesh(change(lump), moved(9, 0, 0))])).length
  expect(twinsOf((mesh) => mesh)).toBe(1)
  expect(twinsOf((mesh) => transformMesh(mesh, scaled(1.01, 1.01, 1.01)))).toBe(0)
  expect(twinsOf((mesh) => transformMesh(mesh, scaled(1.1, 1, 1 / 1.1)))).toBe(0)
  const pulled = (by: number) => (mesh: Mesh): Mesh => ({ ...mesh, points: mesh.points.map((value, at) => (at === 4 ? value + by : value)) }) // prettier-ignore
  // the diagonal is about four and a half
  expect(twinsOf(pulled(0.0003))).toBe(1)
  expect(twinsOf(pulled(0.001))).toBe(0)
})

test('each is the twin of one, the first stays; a sheet has none, for it does not tell a mirror from a turn', () => {
  const along = [0, 5, 9, 20].map((x) => transformMesh(lump, moved(x, 0, 0)))
  expect(findTwins(sceneOf(along)).map(({ node, twin }) => [node, twin])).toEqual([[0, 1], [0, 2], [0, 3]]) // prettier-ignore
  const sheet = gridOf(3, 2)
  expect(findTwins(sceneOf([sheet, transformMesh(sheet, moved(0, 4, 0))]))).toEqual([])
  expect(findTwins(sceneOf([cubeOf(), transformMesh(cubeOf(), moved(0, 4, 0))]))).toHaveLength(1)
})

test('a matrix is fitted to points that are not flat, and is rigid where it keeps lengths and angles', () => {
  const chance = chanceOf(5)
  const from = Float64Array.from({ length: 30 }, () => chance() * 4 - 2)
  const sheared = multiplyMatrices(
    anyWay(chance, true),
    [1, 0.3, 0, 0, 0, 2, 0, 0, 0.1, 0, 0.7, 0, 4, 5, 6, 1],
  )
  expect(close(fitAffine(from, transformPoints(from, sheared))!, sheared)).toBeLessThan(1e-9)
  expect([isRigid(sheared, 1e-3), isRigid(anyWay(chance, true), 1e-9), isRigid(scaled(1.001, 1, 1), 1e-3)]).toEqual([false, true, false]) // prettier-ignore
  expect(isRigid([1, 0, 0, 0, 0.01, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1], 1e-3)).toBe(false)
  expect(isRigid(scaled(NaN, 1, 1), 1)).toBe(false)
  expect(fitAffine(from.map((value, at) => (at % 3 ? value : 0)), from)).toBeNull() // prettier-ignore
  expect(fitAffine(from.subarray(0, 9), from.subarray(0, 9))).toBeNull()
})

test('numbers that are too large, or none, end in no twins', () => {
  for (const value of [NaN, Infinity, 1e160, 1e308]) {
    const broken = { ...lump, points: lump.points.map((own, at) => (at === 7 ? value : own)) }
    const sized = { ...lump, points: lump.points.map((own) => own * (Number.isFinite(value) ? value : 1)) }
    for (const mesh of [broken, sized]) {
      const found = findTwins(sceneOf([mesh, renumberMesh(mesh, 3)]))
      expect(found.every(({ matrix }) => matrix.every(Number.isFinite))).toBe(true)
    }
  }
})
