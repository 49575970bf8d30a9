import type { Finding } from '../core/base/messages/catalogue.ts'
import { fingerprintScene, type Fingerprints } from '../core/compare/fingerprint.ts'
import { inspectScene, type SceneInspection } from '../core/inspect/inspect-scene.ts'
import { drawPicture } from '../core/view/draw-picture.ts'
import { packScene, type PackedScene } from '../core/scene/pack-scene.ts'
import type { Scene } from '../core/scene/scene.ts'

/** A scene on its way to the store, with what lists and pages show of it. */
export interface DescribedScene {
  readonly packed: PackedScene
  readonly inspection: SceneInspection
  readonly fingerprints: Fingerprints
  /** A small PNG for lists; null where there is nothing to be seen. */
  readonly picture: Uint8Array | null
}

/** @param isListed lists show it; what came back from a trip is in none and needs no picture. */
export const describeScene = (
  scene: Scene,
  findings: readonly Finding[] = [],
  isListed = true,
): DescribedScene => ({
  packed: packScene(scene),
  inspection: inspectScene(scene, findings),
  fingerprints: fingerprintScene(scene),
  picture: isListed ? drawPicture(scene) : null,
})
