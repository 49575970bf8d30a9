/** Trips with one to six faults that follow from a seed, and whether each point was found again: the truth is known. */
import { chanceOf } from '../../base/math/chance.ts'
import { compareScenes } from '../../compare/compare-scenes.ts'
import { recogniseReturn } from '../../compare/recognise/recognise-return.ts'
import { tellStory } from '../../compare/story/tell-story.ts'
import { NOTES, TRAIT_DESCRIPTORS, type Trait } from '../../compare/traits/registry.ts'
import type { Scene } from '../../scene/scene.ts'
import { FAULT_WORDS } from './fault-words.ts'
import { FAULTS, type FaultName } from './mesh-faults.ts'
import { damageScene, flatten, SCENE_FAULTS, scoreScene, type SceneFault } from './scene-faults.ts'

export interface RandomTrip {
  readonly seed: number
  /** What was done, in words. */
  readonly done: readonly string[]
  /** What was found, in words. */
  readonly found: readonly string[]
  /** Points that were found, that were left open or are gone, and that were taken for others. */
  readonly right: number
  readonly undecided: number
  readonly wrong: number
}

export const MOST_FAULTS = 6

/** One to six of all faults. */
export function anyFaults(chance: () => number): { ofScene: SceneFault[]; ofMeshes: FaultName[] } {
  const all = [...SCENE_FAULTS, ...(Object.keys(FAULTS) as FaultName[])]
  const wanted = 1 + Math.floor(chance() * MOST_FAULTS)
  const chosen = new Set<string>()
  while (chosen.size < wanted) chosen.add(all[Math.floor(chance() * all.length)]!)
  return {
    ofScene: SCENE_FAULTS.filter((name) => chosen.has(name)),
    ofMeshes: (Object.keys(FAULTS) as FaultName[]).filter((name) => chosen.has(name)),
  }
}

/** @param master as a format without transforms has it; see `flatten`. */
export function runRandomTrip(master: Scene, seed: number): RandomTrip {
  const chance = chanceOf(seed)
  const { ofScene, ofMeshes } = anyFaults(chance)
  const made = damageScene(master, ofScene, ofMeshes, chance)
  const { returned, matching, undone } = recogniseReturn(master, made.returned, { undoWhole: true })
  const ledger = { ...compareScenes(master, returned, () => {}, matching), undone }
  const { right, undecided, wrong } = scoreScene(master, made, matching.matched)
  return {
    seed,
    done: made.faults.map((fault) => FAULT_WORDS[fault][1]),
    found: tellStory(ledger, {
      titleOf: (trait) => TRAIT_DESCRIPTORS[trait as Trait].title,
      isToolsOwn: (note) => NOTES[note]?.toolsOwn === true,
    }),
    right,
    undecided,
    wrong: wrong.length,
  }
}

/** So many trips of one model, one after the other. */
export function runRandomTrips(
  scene: Scene,
  { count, seed }: { readonly count: number; readonly seed: number },
  progress: (share: number) => void = () => {},
): RandomTrip[] {
  const master = flatten(scene)
  return Array.from({ length: count }, (_trip, at) => {
    progress(at / count)
    return runRandomTrip(master, seed + at)
  })
}
