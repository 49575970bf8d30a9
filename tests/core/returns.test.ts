/** Made returns with the truth known: which point is which, or a word that it can't be known; never a wrong one. */
import { describe, expect, test } from 'vitest'
import { correspond } from '../../src/core/compare/match/correspond.ts'
import { buildCourierHeron } from '../../src/core/practice/demo/courier-heron.ts'
import { buildStormLantern } from '../../src/core/practice/demo/storm-lantern.ts'
import type { Mesh } from '../../src/core/scene/mesh.ts'
import { chanceOf } from '../chance.ts'
import { damage, type FaultName } from '../returns.ts'
import { cubeOf, gridOf } from '../solids.ts'

const heron = new Map(buildCourierHeron().meshes.map((mesh) => [mesh.name, mesh]))
const lantern = new Map(buildStormLantern().meshes.map((mesh) => [mesh.name, mesh]))
const SHAPES: Readonly<Record<string, Mesh>> = {
  body: heron.get('body')!,
  leg: heron.get('leg_left')!,
  beak: heron.get('beak')!,
  satchel: heron.get('satchel')!,
  tank: lantern.get('tank')!,
  handle: lantern.get('handle')!,
  cloth: gridOf(14, 9, {}, (x, z) => Math.sin(x * 0.7) * 0.4 + Math.cos(z * 0.9) * 0.3),
  cube: cubeOf({ uvSets: gridOf(1, 1).uvSets.slice(0, 0) }),
}

interface Score {
  wrong: number
  right: number
  undecided: number
}
/** Every master point against what it became. */
export function score(master: Mesh, names: readonly FaultName[], seed: number): Score {
  const { mesh, truth } = damage(master, names, chanceOf(seed))
  const { pointToReturned } = correspond(master, mesh)
  const became = new Map<number, number[]>()
  truth.points.forEach((point, at) => became.set(point.from, [...(became.get(point.from) ?? []), at]))
  const result = { wrong: 0, right: 0, undecided: 0 }
  pointToReturned.forEach((other, point) => {
    const true_ = became.get(point) ?? []
    if (other < 0) result.undecided += true_.length ? 1 : 0
    else if (true_.includes(other)) result.right++
    else result.wrong++
  })
  return result
}

if (process.env.SCORES)
  test('scores', () => {
    const all: FaultName[][] = [
      ['sculpted', 'triangulated'],
      ['sculpted', 'deleted'],
      ['sculpted', 'extruded'],
      ['sculpted', 'looped'],
      ['sculpted', 'deleted', 'withoutUvs'],
      ['bumped', 'looped', 'triangulated'],
      ['rounded', 'triangulated'],
      ['rounded', 'deleted', 'renumbered'],
      ['sculpted', 'triangulated', 'renumbered'],
      ['sculpted', 'deleted', 'renumbered'],
      ['sculpted', 'looped', 'renumbered', 'triangulated'],
      ['sculpted', 'triangulated', 'unwelded', 'renumbered'],
      ['sculpted', 'turnedOver', 'renumbered'],
      ['sculpted', 'turnedOver', 'triangulated'],
      ['sculpted', 'turnedOver', 'renumbered', 'withoutUvs'],
      ['sculpted', 'deleted', 'renumbered', 'withoutUvs'],
      ['sculpted', 'triangulated', 'renumbered', 'withoutUvs'],
      ['sculpted', 'extruded', 'looped', 'deleted', 'unwelded', 'renumbered', 'triangulated'],
    ]
    for (const names of all) {
      const parts = Object.entries(SHAPES).map(([shape, mesh]) => {
        const { wrong, right, undecided } = score(mesh, names, 5)
        return `${shape} ${wrong ? `WRONG ${wrong}` : ''} ${Math.round((100 * right) / (right + undecided + wrong))}%`
      })
      console.log(names.join('+'), '|', parts.join(' | '))
    }
  })
describe.skip('later', () => test('x', () => expect(1).toBe(1)))
