import type { Finding } from '../core/base/messages/catalogue.ts'
import { inspectScene, type SceneInspection } from '../core/inspect/inspect-scene.ts'
import { packScene, type PackedScene } from '../core/scene/pack-scene.ts'
import type { Scene } from '../core/scene/scene.ts'
import { listedFacts, type ListedFacts } from '../core/view/listed-facts.ts'
import type { Host } from './host.ts'

/** A scene on its way to the store, with what lists and pages show of it. */
export interface DescribedScene extends ListedFacts {
  readonly packed: PackedScene
  readonly inspection: SceneInspection
}

/**
 * @param isListed lists show it; what came back from a trip is in none and needs no picture.
 * @param facts works out what can be worked out beside the rest; null: all of it here.
 */
export function describeScene(
  scene: Scene,
  findings: readonly Finding[] = [],
  isListed = true,
  facts: Host['facts'] = null,
): DescribedScene {
  const packed = packScene(scene)
  const beside = facts?.(packed, isListed) ?? null
  const inspection = inspectScene(scene, findings)
  return { packed, inspection, ...(beside?.() ?? listedFacts(scene, isListed)) }
}
