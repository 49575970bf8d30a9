/** Pieces made alike that came back in another order: the numbers of the file are the same then. */
import { describe, expect, test } from 'vitest'
import { gridOf } from '../../../../tests/solids.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { appendMeshes } from '../../mesh/rebuilding/append-meshes.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { damage, type FaultName } from '../../practice/faults/mesh-faults.ts'
import { EMPTY_MESH, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { correspond } from './correspond.ts'

const bare = (mesh: Mesh): Mesh => ({ ...mesh, uvSets: [] })

/** Cards of so many squares, standing about, each with a place of its own in the layout. */
function cards(count: number, columns: number, rows: number, hasUvs: boolean): Mesh[] {
  const chance = chanceOf(count)
  return Array.from({ length: count }, (_card, at) => {
    const card = transformMesh(
      gridOf(columns, rows, {}, (x, z) => 0.1 * x * z),
      [
        0.5,
        0,
        0,
        0,
        0,
        0.5,
        0,
        0,
        0,
        0,
        0.5,
        0,
        4 * (at % 9) + chance(),
        chance(),
        4 * Math.floor(at / 9),
        1,
      ],
    )
    if (!hasUvs) return bare(card)
    return {
      ...card,
      uvSets: card.uvSets.map((set) => ({
        ...set,
        values: set.values.map((value, axis) => (value + (axis % 2 ? Math.floor(at / 9) : at % 9)) / 9),
      })),
    }
  })
}

function shuffled(count: number, seed: number): number[] {
  const chance = chanceOf(seed)
  const order = Array.from({ length: count }, (_card, at) => at)
  for (let at = count - 1; at > 0; at--) {
    const other = Math.floor(chance() * (at + 1))
    ;[order[at], order[other]] = [order[other]!, order[at]!]
  }
  return order
}

/** The parts in an order, as one, and the point of the first one that each point came from. */
const joined = (parts: readonly Mesh[], order: readonly number[]): { mesh: Mesh; from: number[] } => ({
  mesh: appendMeshes(
    'cards',
    order.map((at) => parts[at]!),
  ),
  from: order.flatMap((at) =>
    Array.from({ length: pointCountOf(parts[at]!) }, (_point, k) => at * pointCountOf(parts[0]!) + k),
  ),
})

const rightOf = (pairs: Int32Array, from: readonly number[]): number =>
  [...pairs].filter((other, point) => other >= 0 && from[other] === point).length

describe.each([
  [1, 1, true],
  [1, 1, false],
  [2, 3, true],
  [2, 3, false],
])('cards of %i x %i squares, with UVs: %s', (columns, rows, hasUvs) => {
  const parts = cards(40, columns, rows, hasUvs)
  const inOrder = parts.map((_card, at) => at)
  const master = joined(parts, inOrder).mesh

  test.each([[[]], [['rounded']], [['sculpted']]] as [FaultName[]][])('%j, in another order', (faults) => {
    for (let seed = 1; seed <= 5; seed++) {
      const moved = parts.map((part) => damage(part, faults, chanceOf(seed)).mesh)
      const { mesh, from } = joined(moved, shuffled(40, seed))
      const found = correspond(master, mesh)
      expect(rightOf(found.pointToReturned, from)).toBe(from.length)
      expect(found.kind).toBe(faults.includes('sculpted') ? 'connectivity' : 'position')
      const small = transformMesh(mesh, [0.01, 0, 0, 0, 0, 0.01, 0, 0, 0, 0, 0.01, 0, 7, 0, 0, 1])
      expect(rightOf(correspond(master, small).pointToReturned, from)).toBe(from.length)
    }
  })

  test('turned over or cut into triangles, in another order', () => {
    for (const faults of [['turnedOver'], ['triangulated'], ['sculpted', 'triangulated']] as FaultName[][])
      for (let seed = 1; seed <= 3; seed++) {
        const changed = parts.map((part) => damage(part, faults, chanceOf(seed)).mesh)
        const { mesh, from } = joined(changed, shuffled(40, seed))
        const found = correspond(master, mesh)
        expect([faults, seed, rightOf(found.pointToReturned, from)]).toEqual([faults, seed, from.length])
      }
  })

  test('in the same order they are what their numbers say, however they moved', () => {
    for (let seed = 1; seed <= 5; seed++) {
      const { mesh } = damage(master, ['sculpted'], chanceOf(seed))
      expect(correspond(master, mesh).kind).toBe('index')
      for (const matrix of [
        [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 4, 0, 0, 1],
        [0, 0, -1, 0, 0, 1, 0, 0, 1, 0, 0, 0, 0, 0, 36, 1],
        [100, 0, 0, 0, 0, 100, 0, 0, 0, 0, 100, 0, 0, 0, 0, 1],
      ])
        expect(correspond(master, transformMesh(mesh, matrix)).kind).toBe('index')
    }
  })
})

test('UVs that are where the numbers say stand before places', () => {
  const parts = cards(12, 1, 1, true)
  const [a, b] = [4, 7]
  const order = parts.map((_card, at) => (at === a ? b : at === b ? a : at))
  const master = joined(parts, parts.map((_card, at) => at)).mesh // prettier-ignore
  const { mesh } = joined(parts, order)
  // two cards changed places, and each has kept its part of the layout
  const changed = { ...mesh, uvSets: master.uvSets }
  expect(correspond(master, changed).kind).toBe('index')
  expect(correspond(master, mesh).kind).toBe('position')
  expect(correspond(bare(master), bare(mesh)).kind).toBe('position')
})

test('points without polygons go by their places, where all of them lie', () => {
  const chance = chanceOf(3)
  const cloud: Mesh = { ...EMPTY_MESH, points: Float64Array.from({ length: 300 }, () => chance()) }
  const order = shuffled(100, 4)
  const mixed = { ...cloud, points: Float64Array.from(order.flatMap((at) => [...cloud.points.subarray(3 * at, 3 * at + 3)])) } // prettier-ignore
  const found = correspond(cloud, mixed)
  expect(found.kind).toBe('position')
  expect([...found.pointToReturned]).toEqual(order.map((_point, at) => order.indexOf(at)))
  const moved = correspond(cloud, { ...mixed, points: mixed.points.map((value) => value + 0.3) })
  expect([moved.kind, moved.guess]).toEqual(['connectivity', true])
  // in their order and all alike: nothing speaks against their numbers
  expect(correspond(cloud, { ...cloud, points: cloud.points.map((value) => value + 0.3) }).kind).toBe('index')
})

test('numbers that are none leave it to the order', () => {
  const parts = cards(12, 1, 1, false)
  const master = joined(parts, parts.map((_card, at) => at)).mesh // prettier-ignore
  const { mesh } = joined(parts, shuffled(12, 2))
  expect(correspond(master, { ...mesh, points: mesh.points.map((value, at) => (at === 40 ? NaN : value)) }).kind).toBe('index') // prettier-ignore
})
