/**
 * Polygons that were turned over and cut into triangles: their pieces say that they are wound the other way.
 * `SEEDS=500 npx vitest run --project core src/core/compare/match/turned-pieces.test.ts` goes through more of them.
 */
import { expect, test } from 'vitest'
import { howMany } from '../../../../tests/how-many.ts'
import { meshOf, sceneOf } from '../../../../tests/solids.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { buildMooringBollard } from '../../practice/demo/mooring-bollard.ts'
import { buildSignalKite } from '../../practice/demo/signal-kite.ts'
import { damage, FAULTS, type FaultName } from '../../practice/faults/mesh-faults.ts'
import { flatten } from '../../practice/faults/scene-faults.ts'
import { compareScenes } from '../compare-scenes.ts'
import { recogniseReturn } from '../recognise/recognise-return.ts'
import { tellStory } from '../story/tell-story.ts'
import { correspond } from './correspond.ts'

const PARTS = [buildMooringBollard(), buildSignalKite()].flatMap((scene) => flatten(scene).meshes)

test('in any mixes all of them are told as turned, and none that was not', () => {
  const told: string[] = []
  for (let seed = 0; seed < howMany(40, 500); seed++) {
    const chance = chanceOf(9000 + seed)
    const mesh = PARTS[Math.floor(chance() * PARTS.length)]!
    const some = (Object.keys(FAULTS) as FaultName[]).filter(() => chance() < 0.3)
    const faults = [...new Set<FaultName>([...some, 'triangulated'])]
    const { guess, matchedFaceCount, turnedFaceCount } = correspond(mesh, damage(mesh, faults, chance).mesh)
    if (guess) continue
    const expected = faults.includes('turnedOver') ? matchedFaceCount : 0
    if (turnedFaceCount !== expected) told.push(`${seed} ${mesh.name} ${faults.join('+')}: ${turnedFaceCount} of ${matchedFaceCount}`) // prettier-ignore
  }
  expect(told).toEqual([])
})

test('turned and in pieces each counts once, and each has its place', () => {
  const points = [[0, 0, 0], [2, 0, 0], [2, 1, 0], [0, 1, 0], [3, 0.4, 0]] as const // prettier-ignore
  const master = meshOf([...points], [[0, 1, 2, 3], [1, 4, 2]]) // prettier-ignore
  const cellOf = (faces: number[][]) => {
    const [own, other] = [sceneOf([master]), sceneOf([meshOf([...points], faces)])]
    const found = recogniseReturn(own, other)
    return compareScenes(own, found.returned, () => {}, found.matching).rows[0]!.cells.topology!
  }
  const cut = cellOf([[0, 1, 2], [0, 2, 3], [1, 4, 2]]) // prettier-ignore
  expect([cut.note, cut.changedCount]).toEqual(['polygons-cut', 1])
  const { note, changedCount, parameters, places } = cellOf([[2, 1, 0], [3, 2, 0], [1, 4, 2]]) // prettier-ignore
  expect([note, changedCount, parameters.turned, parameters.cut]).toEqual(['topology-changed', 1, '1 is turned', ', 1 is in pieces']) // prettier-ignore
  expect([...places!.master]).toEqual([0])
  const [own, other] = [sceneOf([master]), sceneOf([meshOf([...points], [[2, 1, 0], [3, 2, 0], [2, 4, 1]])])] // prettier-ignore
  const found = recogniseReturn(own, other)
  const story = tellStory(compareScenes(own, found.returned, () => {}, found.matching), { titleOf: (title) => title, isToolsOwn: () => false }) // prettier-ignore
  expect(story).toEqual(['Came back turned over and in smaller polygons; all 2 polygons were found again.'])
  // pieces that don't go one way are no pieces of it
  expect(cellOf([[0, 1, 2], [3, 2, 0], [1, 4, 2]]).parameters.gone).toBe('1 is gone') // prettier-ignore
})
