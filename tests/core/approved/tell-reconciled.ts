/** What is taken of a return by a chance, and what came of it, in lines: see tell.ts. */
import type { SceneMatching } from '../../../src/core/compare/match-scenes.ts'
import { TRAITS, type Trait } from '../../../src/core/compare/traits/registry.ts'
import { reconcile } from '../../../src/core/reconcile/reconcile.ts'
import type { Scene } from '../../../src/core/scene/scene.ts'
import { said, tellScene } from './tell.ts'

/** What is taken of what came back, by a chance: traits for all, and others for one part. */
export function anyTaking(master: Scene, chance: () => number) {
  const some = (): Trait[] => TRAITS.filter(() => chance() < 0.4)
  const part = master.nodes.find(({ mesh }) => mesh >= 0)
  return { take: some(), ...(part && chance() < 0.3 ? { takeByPart: { [part.id]: some() } } : {}) }
}

export function tellReconciled(
  master: Scene,
  returned: Scene,
  matching: SceneMatching | undefined,
  chance: () => number,
): string[] {
  const options = anyTaking(master, chance)
  const { scene, findings, taken } = reconcile(master, returned, options, () => {}, matching)
  return [`  took ${JSON.stringify(taken)}`, ...said(findings), ...tellScene(scene)]
}
