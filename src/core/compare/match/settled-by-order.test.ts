/** Symmetrical shapes that were turned or mirrored with their order kept: places alone would say that nothing moved. */
import { describe, expect, test } from 'vitest'
import { ballOf, cubeOf, gridOf, meshOf, tubeOf } from '../../../../tests/solids.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { damage, type FaultName } from '../../practice/faults/mesh-faults.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { correspond } from './correspond.ts'

const bare = (mesh: Mesh): Mesh => ({ ...mesh, uvSets: [] })
const centred = (mesh: Mesh): Mesh => {
  const count = mesh.points.length / 3
  const middle = [0, 1, 2].map((axis) => mesh.points.reduce((sum, value, at) => sum + (at % 3 === axis ? value : 0), 0) / count) // prettier-ignore
  return { ...mesh, points: mesh.points.map((value, at) => value - middle[at % 3]!) }
}
/** A wheel of 24 teeth. */
const gear = (() => {
  const tube = tubeOf(2, 48, 1, 0.4)
  return {
    ...tube,
    points: tube.points.map((value, at) => (at % 3 === 1 || Math.floor(at / 3) % 2 ? value : value * 1.2)),
  }
})()
const SHAPES: readonly (readonly [string, Mesh])[] = [
  ['a ball', ballOf(12, 8, 1)],
  ['a tube', centred(bare(tubeOf(6, 10, 0.5, 3)))],
  ['a sheet', centred(bare(gridOf(8, 6)))],
  ['a gear', centred(gear)],
]
const WAYS: readonly (readonly [string, (place: readonly number[]) => number[]])[] = [
  ['mirrored', ([x, y, z]) => [-x!, y!, z!]],
  ['turned over', ([x, y, z]) => [-x!, y!, -z!]],
]
const EDITS: readonly FaultName[][] = [
  ['deleted'],
  ['looped'],
  ['extruded', 'rounded'],
  ['deleted', 'unwelded'],
  ['sculpted', 'looped'],
  ['bumped', 'unwelded', 'turnedOver'],
  ['deleted', 'extruded', 'turnedOver'],
]

/** What was paired with a point that it did not become; points of one place count as one. */
function wrongOf(
  master: Mesh,
  edits: readonly FaultName[],
  seed: number,
  way: (place: readonly number[]) => number[],
): { wrong: number; guess: boolean } {
  const { mesh, truth } = damage(master, edits, chanceOf(seed))
  const points = Float64Array.from(truth.points.flatMap(({ at }) => way(at)))
  const became = new Map<number, Set<string>>()
  truth.points.forEach(({ from, at }) => became.set(from, (became.get(from) ?? new Set()).add(at.join())))
  const { pointToReturned, guess } = correspond(master, { ...mesh, points })
  let wrong = 0
  pointToReturned.forEach((other, point) => {
    if (other >= 0 && !became.get(point)?.has(truth.points[other]!.at.join())) wrong++
  })
  return { wrong, guess: guess ?? false }
}

describe.each(SHAPES)('%s', (_name, master) => {
  describe.each(WAYS)('%s', (_way, way) => {
    test.each(EDITS.map((edits) => [edits.join(' and '), edits] as const))('%s', (_edits, edits) => {
      for (let seed = 0; seed < 6; seed++)
        expect([seed, wrongOf(master, edits, seed, way)]).toEqual([seed, { wrong: 0, guess: false }])
    })
  })
})

test('numbered anew, what lies where it lay is what it was', () => {
  for (const [name, master] of SHAPES)
    for (let seed = 0; seed < 6; seed++)
      expect([name, wrongOf(master, ['deleted', 'renumbered'], seed, (place) => [...place]).wrong]).toEqual([
        name,
        0,
      ])
})

test('of eight points the order says too little: where it and their places differ, that is a guess', () => {
  const cube = bare(cubeOf())
  const edits: readonly FaultName[][] = [['looped'], ['deleted', 'extruded']]
  for (const names of edits)
    for (const [, way] of WAYS)
      for (let seed = 0; seed < 8; seed++) {
        const { wrong, guess } = wrongOf(centred(cube), names, seed, way)
        if (wrong) expect([names, seed, guess]).toEqual([names, seed, true])
      }
})

test('points that are few and stand in order by chance', () => {
  const bent = meshOf([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]], [[0, 1, 2, 3]]) // prettier-ignore
  expect(wrongOf(bent, ['renumbered'], 1, (place) => [...place]).wrong).toBe(0)
})

test('points in any order, polygons in theirs: all of it moved, and is told by how it hangs together', () => {
  for (const [name, master] of SHAPES)
    for (const [, way] of WAYS)
      for (let seed = 0; seed < 4; seed++) {
        const chance = chanceOf(seed)
        const count = master.points.length / 3
        const newOf = Uint32Array.from({ length: count }, (_point, at) => at)
        for (let at = count - 1; at > 0; at--) {
          const other = Math.floor(chance() * (at + 1))
          ;[newOf[at], newOf[other]] = [newOf[other]!, newOf[at]!]
        }
        const points = new Float64Array(master.points.length)
        newOf.forEach((to, at) => points.set(way([...master.points.subarray(3 * at, 3 * at + 3)]), 3 * to))
        const found = correspond(master, { ...master, points, faceVertices: master.faceVertices.map((point) => newOf[point]!) }) // prettier-ignore
        expect([name, found.kind, [...found.pointToReturned]]).toEqual([name, 'connectivity', [...newOf]])
        expect(found.faceToReturned.every((other, face) => other === face)).toBe(true)
      }
})
