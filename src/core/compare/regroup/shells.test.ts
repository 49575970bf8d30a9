/** Against closed forms: the corners of a box of sides 2a, 2b, 2c spread by a², b² and c² along its axes. */
import { expect, test } from 'vitest'
import { cubeOf, gridOf, meshOf, turnedAbout, type Point } from '../../../../tests/solids.ts'
import { transformPoints } from '../../base/math/matrix.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { findShells, formsAlike, shellForms } from './shells.ts'

const box = (a: number, b: number, c: number): Mesh => {
  const cube = cubeOf()
  return { ...cube, points: cube.points.map((value, at) => 2 * (value - 0.5) * [a, b, c][at % 3]!) }
}
const formOf = (a: number, b: number, c: number): [number, number] => {
  const [xx, yy, zz] = [a * a, b * b, c * c]
  const sum = xx + yy + zz
  return [(xx * yy + xx * zz + yy * zz) / sum ** 2, (xx * yy * zz) / sum ** 3]
}
/** Several meshes as the shells of one. */
function joined(meshes: readonly Mesh[]): Mesh {
  const points: Point[] = []
  const faces: number[][] = []
  for (const mesh of meshes) {
    const first = points.length
    for (let at = 0; at < mesh.points.length; at += 3)
      points.push([mesh.points[at]!, mesh.points[at + 1]!, mesh.points[at + 2]!])
    for (let face = 0; face + 1 < mesh.faceOffsets.length; face++)
      faces.push([...mesh.faceVertices.subarray(mesh.faceOffsets[face], mesh.faceOffsets[face + 1])].map((point) => first + point)) // prettier-ignore
  }
  return meshOf(points, faces)
}

test('the form of each shell, wherever it stands and however it is turned', () => {
  const sides = [[1, 1, 1], [1, 2, 3], [0.1, 4, 0.3], [5, 0.01, 0.01]] as const // prettier-ignore
  const turns = [turnedAbout([0, 0, 1], 0), turnedAbout([1, 2, -0.5], 33), turnedAbout([0, 1, 1], 140)]
  for (const turn of turns) {
    const meshes = sides.map(([a, b, c], at) => {
      const mesh = box(a, b, c)
      const moved = transformPoints(mesh.points, turn).map((value, k) => value + [20, -30, 7][k % 3]! * at)
      return { ...mesh, points: moved }
    })
    const mesh = joined(meshes)
    shellForms(mesh, mesh.points, findShells(mesh)).forEach(([second, third], at) => {
      const [a, b, c] = sides[at]!
      expect(second).toBeCloseTo(formOf(a, b, c)[0], 9)
      expect(third).toBeCloseTo(formOf(a, b, c)[1], 9)
    })
  }
})

test('a square lies flat, whichever way it faces', () => {
  const grid = gridOf(4, 4)
  for (const turn of [turnedAbout([0, 0, 1], 0), turnedAbout([1, 0, 0], 90), turnedAbout([0, 0, 1], 90)]) {
    const [[second, third]] = shellForms(grid, transformPoints(grid.points, turn), findShells(grid)) as [[number, number]] // prettier-ignore
    expect(second).toBeCloseTo(1 / 4, 9)
    expect(third).toBeCloseTo(0, 9)
  }
})

test('forms are alike where sculpting may have made the one of the other; what can’t be told speaks for nothing', () => {
  expect(formsAlike(formOf(1, 1, 1), formOf(1, 1.1, 0.95))).toBe(true)
  expect(formsAlike(formOf(1, 1, 1), formOf(1, 1, 0.2))).toBe(false)
  expect(formsAlike(formOf(5, 0.01, 0.01), formOf(5, 5, 0.01))).toBe(false)
  expect(formsAlike([NaN, NaN], formOf(1, 1, 1))).toBe(true)
})
