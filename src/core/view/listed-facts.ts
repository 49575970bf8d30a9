import { fingerprintScene, type Fingerprints } from '../compare/fingerprint.ts'
import type { Scene } from '../scene/scene.ts'
import { drawPicture } from './draw-picture.ts'

/** What lists and comparisons know of a scene without opening it. */
export interface ListedFacts {
  readonly fingerprints: Fingerprints
  /** A small PNG; null where there is nothing to be seen, or none was wanted. */
  readonly picture: Uint8Array | null
}

export const listedFacts = (scene: Scene, isPictured: boolean): ListedFacts => ({
  fingerprints: fingerprintScene(scene),
  picture: isPictured ? drawPicture(scene) : null,
})
