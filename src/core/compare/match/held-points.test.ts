import { readFileSync } from 'node:fs'
import { describe, expect, test } from 'vitest'
import { gridOf, meshOf } from '../../../../tests/solids.ts'
import { readPackage } from '../../formats/package/read-package.ts'
import { runRandomTrip } from '../../practice/faults/random-trips.ts'
import { flatten } from '../../practice/faults/scene-faults.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { correspond } from './correspond.ts'
import { withoutUnheld } from './held-points.ts'

describe('of an open model, moved, cut up and with polygons gone, no point is taken for another', () => {
  const file = (name: string) => ({
    name,
    bytes: new Uint8Array(readFileSync(`/usr/share/assimp/models/OBJ/${name}`)),
  })
  const master = flatten(readPackage([file('spider.obj'), file('spider.mtl')]).scene)
  test.each([17, 48])('seed %i', (seed) => {
    const { right, wrong } = runRandomTrip(master, seed)
    expect(right).toBeGreaterThan(400)
    expect(wrong).toBe(0)
  })
})

describe('a moved point of which no polygon was found again', () => {
  const sheet: Mesh = { ...gridOf(2, 2), uvSets: [] }
  const moved: Mesh = { ...sheet, points: sheet.points.map((value) => value + 0.1) }
  const same = Int32Array.from({ length: 9 }, (_value, point) => point)
  const none = new Int32Array(9).fill(-1)
  const first = { faceToReturned: Int32Array.of(0, -1, -1, -1), matchedFaceCount: 1 }
  const [a, b] = [...sheet.faceVertices.subarray(0, 4)] as [number, number]
  const corner = [...same].find((point) => [...sheet.faceVertices].filter((at) => at === point).length === 1 && ![...sheet.faceVertices.subarray(0, 4)].includes(point))! // prettier-ignore

  test('stays where most of its edges are there', () => {
    expect(withoutUnheld(sheet, moved, same, first, none)).toEqual(same)
  })
  test('is left open where they are not, unless it has not moved', () => {
    const few = same.map((point) => ([...sheet.faceVertices.subarray(0, 4), corner].includes(point) ? point : -1))
    const held = withoutUnheld(sheet, moved, few, first, none)
    expect([held[a], held[b], held[corner]]).toEqual([a, b, -1])
    expect(withoutUnheld(sheet, sheet, few, first, same)).toEqual(few)
  }) // prettier-ignore
  test('stays where its UV is the same', () => {
    const uv = gridOf(2, 2).uvSets
    const few = same.map((point) => ([...sheet.faceVertices.subarray(0, 4), corner].includes(point) ? point : -1))
    const laid = [sheet, moved].map((mesh) => ({ ...mesh, uvSets: uv })) as [Mesh, Mesh]
    expect(withoutUnheld(...laid, few, first, none)[corner]).toBe(corner)
  }) // prettier-ignore
})

test('a single polygon that begins at another corner is where it was, not where its order says', () => {
  const quad = (order: readonly number[], lift: number): Mesh =>
    meshOf(
      [[-4, 0, -2], [4, lift, -2], [4, 0, 2], [-4, lift, 2]],
      [order],
    ) // prettier-ignore
  for (const order of [
    [1, 2, 3, 0],
    [2, 3, 0, 1],
    [3, 0, 1, 2],
  ]) {
    const found = correspond(quad([0, 1, 2, 3], 0), quad(order, 0.3))
    expect([...found.pointToReturned]).toEqual([0, 1, 2, 3])
  }
})
