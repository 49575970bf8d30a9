/** One word changed in the core used to leave all tests green: these notice such words, and their like. */
import { describe, expect, test } from 'vitest'
import { compareScenes } from '../../src/core/compare/compare-scenes.ts'
import { readPackage } from '../../src/core/formats/package/read-package.ts'
import { writeObj } from '../../src/core/formats/obj/write-obj.ts'
import { computeNormals } from '../../src/core/mesh/normals/compute-normals.ts'
import { reconcile } from '../../src/core/reconcile/reconcile.ts'
import type { Creases, Mesh, PolyLines } from '../../src/core/scene/mesh.ts'
import type { Scene } from '../../src/core/scene/scene.ts'
import { chanceOf } from '../../src/core/base/math/chance.ts'
import { cubeOf, gridOf, sceneOf } from '../solids.ts'

const back = (scene: Scene): Scene => readPackage(writeObj(scene, 'x.obj').files).scene

test.each([1, 2, 3, 7])('of %i polylines every one is written, the last as well', (count) => {
  const lines: PolyLines = {
    offsets: Uint32Array.from({ length: count + 1 }, (_value, at) => 2 * at),
    points: Uint32Array.from({ length: 2 * count }, (_value, at) => at % 8),
    uvs: new Int32Array(2 * count).fill(-1),
  }
  const again = back(sceneOf([{ ...cubeOf(), lines }])).meshes[0]!.lines!
  expect([...again.offsets]).toEqual([...lines.offsets])
  expect([...again.points]).toEqual([...lines.points])
})

const NO_CREASES: Creases = {
  edgePoints: new Uint32Array(0),
  edgeSharpness: new Float64Array(0),
  cornerPoints: new Uint32Array(0),
  cornerSharpness: new Float64Array(0),
}
/** The same mesh with its points in another order. */
function renumbered(mesh: Mesh, order: readonly number[]): Mesh {
  const newOf = new Map(order.map((old, at) => [old, at]))
  return {
    ...mesh,
    points: Float64Array.from(order.flatMap((old) => [...mesh.points.subarray(3 * old, 3 * old + 3)])),
    faceVertices: mesh.faceVertices.map((point) => newOf.get(point)!),
    creases: mesh.creases && {
      ...mesh.creases,
      edgePoints: mesh.creases.edgePoints.map((point) => newOf.get(point)!),
      cornerPoints: mesh.creases.cornerPoints.map((point) => newOf.get(point)!),
    },
  }
}
const shuffled = (count: number, seed: number): number[] => {
  const next = chanceOf(seed)
  return Array.from({ length: count }, (_value, at) => at)
    .map((at) => [next(), at] as const)
    .sort(([a], [b]) => a - b)
    .map(([, at]) => at)
}
/** Pairs of points, each in rising order, all in order. */
const pairsOf = (flat: ArrayLike<number>): string[] =>
  Array.from({ length: flat.length / 2 }, (_value, at) =>
    [flat[2 * at]!, flat[2 * at + 1]!].sort((a, b) => a - b).join(' '),
  ).sort()

describe.each([0, 1, 5, 7])('a crease at point %i', (point) => {
  const plain = cubeOf()
  const neighbour = [...plain.faceVertices.subarray(0, 4)].includes(point)
    ? plain.faceVertices[(plain.faceVertices.indexOf(point) + 1) % 4]!
    : [0, 1, 2, 3, 4, 5, 6, 7].find((other) => other !== point && sharesEdge(plain, point, other))!
  const creased = {
    ...plain,
    creases: {
      edgePoints: Uint32Array.of(point, neighbour),
      edgeSharpness: Float64Array.of(3),
      cornerPoints: Uint32Array.of(point),
      cornerSharpness: Float64Array.of(5),
    },
  }
  test('comes home on whatever number it has there', () => {
    const returned = sceneOf([renumbered(creased, shuffled(8, 3 + point))])
    const { scene, taken } = reconcile(sceneOf([{ ...plain, creases: NO_CREASES }]), returned, {
      take: ['creases'],
    })
    expect(taken).toEqual({ creases: 1 })
    const { creases } = scene.meshes[0]!
    expect(pairsOf(creases!.edgePoints)).toEqual(pairsOf([point, neighbour]))
    expect([...creases!.edgeSharpness]).toEqual([3])
    expect([[...creases!.cornerPoints], [...creases!.cornerSharpness]]).toEqual([[point], [5]])
  })
  test('is shown on both sides of the ledger, each by its own numbers', () => {
    const order = shuffled(8, 11 + point)
    const returned = sceneOf([renumbered(creased, order)])
    const softer = { ...creased.creases, edgeSharpness: Float64Array.of(1) }
    const row = compareScenes(sceneOf([{ ...plain, creases: softer }]), returned).rows[0]!
    const { places } = row.cells.creases!
    const newOf = (old: number): number => order.indexOf(old)
    expect(places!.element).toBe('edges')
    expect(pairsOf(places!.master)).toEqual(pairsOf([point, neighbour]))
    expect(pairsOf(places!.returned)).toEqual(pairsOf([newOf(point), newOf(neighbour)]))
  })
})

function sharesEdge(mesh: Mesh, a: number, b: number): boolean {
  for (let face = 0; face + 1 < mesh.faceOffsets.length; face++) {
    const own = [...mesh.faceVertices.subarray(mesh.faceOffsets[face]!, mesh.faceOffsets[face + 1]!)]
    if (own.some((point, at) => point === a && own[(at + 1) % own.length] === b)) return true
    if (own.some((point, at) => point === b && own[(at + 1) % own.length] === a)) return true
  }
  return false
}

test.each([
  [0.5, 'turned a little'],
  [20, 'turned'],
  [90, 'square to what it was'],
  [150, 'nearly over'],
  [180, 'over'],
])('a normal that is turned by %d° is said to be, %s', (degrees) => {
  const mesh = gridOf(3, 3)
  const normals = computeNormals(mesh, null)
  const angle = (degrees * Math.PI) / 180
  const turned = normals.values.map((_value, at) =>
    at % 3 === 0
      ? Math.sin(angle) * normals.values[at + 1]!
      : at % 3 === 1
        ? Math.cos(angle) * normals.values[at]!
        : normals.values[at]!,
  )
  const cell = (values: Float64Array) =>
    compareScenes(sceneOf([{ ...mesh, normals }]), sceneOf([{ ...mesh, normals: { ...normals, values } }]))
      .rows[0]!.cells.normals!
  expect(cell(turned).state).toBe('changed')
  expect((cell(turned).deviation! * 180) / Math.PI).toBeCloseTo(degrees, 6)
  expect(cell(normals.values.slice()).state).toBe('same')
})
