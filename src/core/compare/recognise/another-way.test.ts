/** Models that are symmetrical and came back by a way that another would have done as well. */
import { describe, expect, test } from 'vitest'
import { renumbered } from '../../../../tests/arranged.ts'
import { cubeOf, sceneOf, turnedAbout, type Point } from '../../../../tests/solids.ts'
import type { Matrix } from '../../base/math/matrix.ts'
import { transformPoints } from '../../base/math/matrix.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { IDENTITY_MATRIX } from '../../scene/scene.ts'
import { correspond } from '../match/correspond.ts'
import type { MatchedPart } from '../traits/trait.ts'
import { cameAnotherWay } from './another-way.ts'

/** Of three unlike sides, without UVs: its own mirror image across each of its middles. */
const brick = (at: Point, size = 1): Mesh => {
  const cube = cubeOf({ uvSets: [] })
  return {
    ...cube,
    points: cube.points.map((value, entry) => (value - 0.5) * size * [2, 1, 3][entry % 3]! + at[entry % 3]!),
  }
}
const MIRRORED: Matrix = [-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]

/** The very pairs, of parts that were numbered anew and then moved all together. */
function came(meshes: readonly Mesh[], way: Matrix, isRenumbered = true): boolean {
  const returned: Mesh[] = []
  const matched = meshes.map((mesh, at): MatchedPart => {
    const other = isRenumbered ? renumbered(mesh, 3 + at) : mesh
    const moved = { ...other, points: transformPoints(other.points, way) }
    returned.push(moved)
    return {
      match: { masterNode: at, returnedNode: at, by: 'name' },
      master: mesh,
      returned: moved,
      correspondence: { ...correspond(mesh, other), guess: false },
      countedFrom: [0, 0, 0],
      returnedLocal: IDENTITY_MATRIX,
      placedOtherwise: false,
    }
  })
  return cameAnotherWay(sceneOf(meshes), sceneOf(returned), { matched, unmatched: [] })
}

describe('a symmetrical part', () => {
  test('that was mirrored may have been left as it was, or turned', () => {
    expect(came([brick([0, 0, 0])], MIRRORED)).toBe(true)
    expect(came([brick([5, 1, 2])], MIRRORED)).toBe(true)
    expect(came([brick([0, 0, 0])], turnedAbout([0, 1, 0], 180))).toBe(true)
  })
  test('that neither was turned nor mirrored came as it came', () => {
    expect(came([brick([0, 0, 0])], IDENTITY_MATRIX)).toBe(false)
  })
  test('in the order that it had is known by it', () => {
    expect(came([brick([0, 0, 0])], MIRRORED, false)).toBe(false)
  })
})

describe('several', () => {
  test('about one middle are alike from the same sides', () => {
    expect(came([brick([0, 0, 0]), brick([0, 0, 0], 2)], MIRRORED)).toBe(true)
    expect(came([brick([0, 0, 0]), brick([0, 0, 0], 2), brick([0, 0, 0], 5)], MIRRORED)).toBe(true)
  })
  test('side by side keep the mirrors along which they stand: a half turn does what a mirror does', () => {
    expect(came([brick([0, 0, 0]), brick([9, 0, 0], 2)], MIRRORED)).toBe(true)
  })
  test('that stand anywhere have none in common, whatever each of them has', () => {
    expect(came([brick([0, 0, 0]), brick([9, 5, 7], 2)], MIRRORED)).toBe(false)
    expect(came([brick([0, 0, 0]), brick([0, 0, 0], 2), brick([9, 5, 7])], MIRRORED)).toBe(false)
    expect(came([brick([9, 5, 7]), brick([0, 0, 0], 2), brick([0, 0, 0])], MIRRORED)).toBe(false)
  })
  test('that stand off by less than numbers lose on their way, as a share of their size, stand about one middle', () => {
    for (const size of [0.01, 1, 1000])
      for (const [off, isOne] of [[5e-5, true], [2e-3, false]] as const) // prettier-ignore
        expect([size, off, came([brick([0, 0, 0], size), brick([off * size, off * size, off * size], size)], MIRRORED)]).toEqual([size, off, isOne]) // prettier-ignore
  })
})
