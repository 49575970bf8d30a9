/** Symmetrical shapes that lie where they lay, mirrored or turned: UVs say which point is which. */
import { describe, expect, test } from 'vitest'
import { cubeOf, gridOf, loose, uvsOf } from '../../../../tests/solids.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { subdivideMesh } from '../../mesh/subdividing/subdivide-mesh.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { damage, type FaultName } from '../../practice/faults/mesh-faults.ts'
import { cornerCountOf, type Mesh } from '../../scene/mesh.ts'
import { byUvs } from './evidence/by-uvs.ts'
import { correspond } from './correspond.ts'
import type { Correspondence } from './correspondence.ts'
import { matchConnectivity } from './match-connectivity.ts'

/** Mirrored across the middle of its box along X, so that a symmetrical one lies where it lay. */
function mirrored(mesh: Mesh): Mesh {
  let [low, high] = [Infinity, -Infinity]
  for (let at = 0; at < mesh.points.length; at += 3) {
    low = Math.min(low, mesh.points[at]!)
    high = Math.max(high, mesh.points[at]!)
  }
  return transformMesh(mesh, [-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, low + high, 0, 0, 1])
}

/** A mirrored one with faults, and the master's point of each of its points. */
function made(mesh: Mesh, faults: readonly FaultName[], seed: number): { returned: Mesh; from: number[] } {
  const { mesh: damaged, truth } = damage(mesh, faults, chanceOf(seed))
  return { returned: mirrored(damaged), from: truth.points.map(({ from }) => from) }
}

const rightOf = ({ pointToReturned }: Correspondence, from: readonly number[]): number =>
  [...pointToReturned].filter((other, point) => other >= 0 && from[other] === point).length

const sheet = gridOf(6, 4)
/** Each side fills the tile. */
const squares = cubeOf({
  uvSets: [uvsOf(Array.from({ length: 6 }, () => [[0, 0], [1, 0], [1, 1], [0, 1]] as [number, number][]).flat())],
}) // prettier-ignore

describe('polygons that were never joined', () => {
  const master = loose(sheet)
  test('are told by their UVs together, where each UV stands at several points', () => {
    for (let seed = 1; seed <= 10; seed++) {
      const { returned, from } = made(master, ['renumbered'], seed)
      const pairs = byUvs(master, returned)!
      expect([...pairs].filter((other, point) => from[other] !== point)).toEqual([])
      const found = correspond(master, returned)
      expect([found.kind, found.guess ?? false]).toEqual(['connectivity', false])
      expect(rightOf(found, from)).toBe(from.length)
    }
  })
  test('also moved', () => {
    const { returned, from } = made(master, ['sculpted', 'renumbered'], 3)
    expect(rightOf(correspond(master, returned), from)).toBe(from.length)
  })
  test('two that are alike in all their UVs go with neither', () => {
    const cube = loose(squares)
    expect([...byUvs(cube, made(cube, ['renumbered'], 1).returned)!].every((other) => other < 0)).toBe(true)
  })
})

describe('a layout that stands on several sides alike', () => {
  const master = subdivideMesh(squares, { levels: 2, uvMode: 'all', sharpCorners: false })
  const agreeing = (returned: Mesh, { cornerToReturned }: Correspondence): number => {
    const [own, other] = [master.uvSets[0]!, returned.uvSets[0]!]
    const textOf = ({ values, indices }: typeof own, corner: number): string =>
      [0, 1].map((axis) => values[2 * indices[corner]! + axis]!.toFixed(6)).join()
    return [...cornerToReturned].filter(
      (there, corner) => there >= 0 && textOf(own, corner) === textOf(other, there),
    ).length
  }
  test('of all ways that hang together alike the one is taken under which UVs are what they were', () => {
    for (let seed = 1; seed <= 6; seed++) {
      const { returned } = made(master, ['sculpted', 'renumbered'], seed)
      const found = matchConnectivity(master, returned)!
      expect(found.uvShare).toBe(1)
      expect(agreeing(returned, correspond(master, returned))).toBe(cornerCountOf(master))
    }
  })
  test('where it lies in place another way, it is a guess', () => {
    const { returned } = made(squares, ['renumbered'], 2)
    const found = correspond(squares, returned)
    expect(found.kind).toBe('connectivity')
    expect(found.guess).toBe(true)
    const turned = { ...returned, uvSets: squares.uvSets.map((set) => ({ ...set, values: set.values.map((value) => value / 3) })) } // prettier-ignore
    // a new layout says nothing: what lies in place is what it was
    expect(correspond(squares, turned).kind).toBe('position')
  })
  test('without UVs on one side, places say it', () => {
    const { returned } = made(squares, ['renumbered'], 2)
    expect(matchConnectivity({ ...squares, uvSets: [] }, returned)!.uvShare).toBeNull()
    expect(correspond({ ...squares, uvSets: [] }, returned).kind).toBe('position')
  })
})

test('a cube that was renumbered so that all its edges join the same numbers is told by its UVs', () => {
  const master = cubeOf()
  // 0 and 6 stay, the others go round: an edge of the cube is one afterwards
  const numbers = [0, 3, 7, 4, 1, 2, 6, 5]
  const returned: Mesh = {
    ...master,
    points: Float64Array.from({ length: 24 }, (_value, at) => master.points[3 * numbers.indexOf(Math.floor(at / 3)) + (at % 3)]!), // prettier-ignore
    faceVertices: master.faceVertices.map((point) => numbers[point]!),
    faceOffsets: master.faceOffsets,
  }
  const edges = (mesh: Mesh): string[] =>
    Array.from({ length: 24 }, (_corner, corner) => {
      const next = corner % 4 === 3 ? corner - 3 : corner + 1
      return [mesh.faceVertices[corner]!, mesh.faceVertices[next]!].sort((a, b) => a - b).join()
    }).sort()
  expect(edges(returned)).toEqual(edges(master))
  // polygons in another order, so that numbers and polygons together don't say it
  const order = [5, 3, 1, 0, 2, 4]
  const shuffled: Mesh = {
    ...returned,
    faceVertices: Uint32Array.from(order.flatMap((face) => [...returned.faceVertices.subarray(4 * face, 4 * face + 4)])), // prettier-ignore
    uvSets: returned.uvSets.map((set) => ({ ...set, indices: Int32Array.from(order.flatMap((face) => [...set.indices.subarray(4 * face, 4 * face + 4)])) })), // prettier-ignore
  }
  expect([...correspond(master, shuffled).pointToReturned]).toEqual(numbers)
})
