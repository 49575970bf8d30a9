/**
 * Made returns of whole models with the truth known: parts merged, cut up, renamed, swapped, added and left out, all of
 * it sized, turned, mirrored or moved, beside what happens to polygons.
 * `SEEDS=1000 npx vitest run --project core src/core/compare/recognise/scene-returns.test.ts` goes through more of them.
 */
import { describe, expect, test } from 'vitest'
import { recogniseReturn } from './recognise-return.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { buildStormLantern } from '../../practice/demo/storm-lantern.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { chanceOf } from '../../base/math/chance.ts'
import type { FaultName } from '../../practice/faults/mesh-faults.ts'
import {
  anySceneReturn,
  damageScene,
  flatten,
  scoreScene,
  type SceneFault,
} from '../../practice/faults/scene-faults.ts'
import { IN_THE_LONG_RUN, howMany, someOf } from '../../../../tests/how-many.ts'
import { loose } from '../../../../tests/solids.ts'
import { expectAsBefore, tellRecognised } from '../../../../tests/core/approved/tell-returns.ts'

const MASTERS: readonly [string, Scene][] = [
  ['heron', flatten(buildCourierHeron())],
  ['lantern', flatten(buildStormLantern())],
]

const CASES: readonly [SceneFault[], FaultName[]][] = [
  [['merged'], []],
  [['merged'], ['sculpted', 'renumbered']],
  [['merged'], ['triangulated', 'unwelded', 'renumbered']],
  [
    ['merged', 'sized'],
    ['bumped', 'triangulated'],
  ],
  [['cutUp'], []],
  [['cutUp'], ['sculpted', 'triangulated']],
  [['cutUp', 'merged', 'renamed'], ['renumbered']],
  [['swapped'], ['sculpted']],
  [['renamed', 'reordered', 'turned'], ['renumbered']],
  [['renamed', 'added', 'dropped'], ['bumped']],
  [['mirrored', 'renamed'], ['renumbered']],
]

/** Each mix on one of the models. */
const OF_MASTER = [
  [1, 2, 4, 6, 8, 9],
  [0, 3, 5, 7, 10],
]
describe.each(MASTERS.map((own, at) => [...own, OF_MASTER[at]!] as const))('%s', (_name, master, places) => {
  test.each(someOf(CASES, ...places))('%j %j', (sceneFaults, meshFaults) => {
    for (const seed of IN_THE_LONG_RUN ? [1, 2, 3] : [1]) {
      const made = damageScene(master, sceneFaults, meshFaults, chanceOf(seed))
      const recognised = recogniseReturn(master, made.returned, { undoWhole: true })
      const { matching, findings } = recognised
      expectAsBefore(tellRecognised(master, recognised))
      const said = findings.map(({ code }) => code)
      if (sceneFaults.length === 1 && sceneFaults[0] === 'merged')
        expect(said).toEqual(['return.parts-merged'])
      if (sceneFaults.length === 1 && sceneFaults[0] === 'cutUp') expect(said).toEqual(['return.part-cut'])
      const { right, undecided, wrong } = scoreScene(master, made, matching.matched)
      expect([seed, wrong.slice(0, 3)]).toEqual([seed, []])
      expect(undecided).toBeLessThanOrEqual((right + undecided) * 0.02)
    }
  })
})

test(
  'in mixes nothing is paired with what it did not become',
  () => {
    const seeds = howMany(3, 300)
    let right = 0
    let undecided = 0
    const faults: string[] = []
    for (let seed = 0; seed < seeds; seed++) {
      const chance = chanceOf(9000 + seed)
      const [name, master] = MASTERS[seed % MASTERS.length]!
      const made = anySceneReturn(master, chance)
      const recognised = recogniseReturn(master, made.returned, { undoWhole: true })
      const { matching } = recognised
      expectAsBefore(tellRecognised(master, recognised))
      const found = scoreScene(master, made, matching.matched)
      right += found.right
      undecided += found.undecided
      const told = `${seed} ${name} ${made.faults.join('+')}`
      if (found.wrong.length)
        faults.push(`${told}: ${found.wrong.length} wrong, ${found.wrong.slice(0, 3).join(', ')}`)
      if (process.env.SEEDS && found.undecided > (found.right + found.undecided) * 0.05)
        console.log(`${told}: ${found.undecided} undecided`)
    }
    if (process.env.SEEDS)
      console.log(`${right} right, ${undecided} undecided, ${faults.length} of ${seeds} with wrong ones`)
    expect(faults).toEqual([])
    expect(undecided).toBeLessThan((right + undecided) * 0.02)
  },
  600000 + 2000 * howMany(0, 300),
)

/** Without all that tells polygons apart but where they lie. */
const bare = (mesh: Mesh): Mesh => ({
  ...loose(mesh),
  uvSets: [],
  smoothing: null,
  layers: [],
  colorSets: [],
})

test(
  'parts whose polygons were never joined are known by what lies side by side',
  () => {
    const [, heron] = MASTERS[0]!
    const master: Scene = { ...heron, meshes: heron.meshes.map(bare) }
    const seeds = howMany(2, 100)
    let right = 0
    const faults: string[] = []
    for (let seed = 0; seed < seeds; seed++) {
      const made = anySceneReturn(master, chanceOf(500 + 2 * seed))
      const { matching } = recogniseReturn(master, made.returned, { undoWhole: true })
      const sure = matching.matched.filter(({ correspondence }) => !correspondence.guess)
      const found = scoreScene(master, made, sure)
      right += found.right
      if (found.wrong.length)
        faults.push(`${seed} ${made.faults.join('+')}: ${found.wrong.length} wrong, ${found.wrong.slice(0, 3).join(', ')}`) // prettier-ignore
    }
    if (process.env.SEEDS) console.log(`${right} right, ${faults.length} of ${seeds} with wrong ones`)
    // without UVs mirrored twins change places where a new part far off hides how all of it stands, joined ones as well
    expect(faults.slice(Math.floor(0.15 * seeds))).toEqual([])
    expect(right).toBeGreaterThan(10_000 * seeds)
  },
  120_000 + 20_000 * howMany(0, 100),
)
