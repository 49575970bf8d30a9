/**
 * Fingerprints: one hash a trait, equal where a file carries exactly the same.
 * What has no meaning is left out of them: the order and the doubles of UV and normal values (what counts is
 * which value a corner has and with which corners it shares it), the numbering of materials, and the order of
 * hard edges.
 */
import { createContentHash } from '../base/bytes/hash.ts'
import type { Matrix } from '../base/math/matrix.ts'
import type { Scene } from '../scene/scene.ts'
import { worldMatrices } from '../scene/world.ts'
import { TRAIT_DESCRIPTORS, TRAITS, type Trait } from './traits/registry.ts'

export type Fingerprints = Readonly<Record<Trait, string>>

/** The fingerprint of one trait of a node with a mesh. */
export function fingerprintTrait(
  trait: Trait,
  scene: Scene,
  node: number,
  worlds: readonly Matrix[] = worldMatrices(scene),
): string {
  const hash = createContentHash()
  const mesh = scene.meshes[scene.nodes[node]!.mesh]!
  TRAIT_DESCRIPTORS[trait].fingerprint({ scene, node, mesh, world: worlds[node]! }, hash)
  return hash.digest()
}

/** The fingerprint of each trait of one node with a mesh. 'scene' covers the whole scene's settings. */
export function fingerprintPart(
  scene: Scene,
  node: number,
  worlds: readonly Matrix[] = worldMatrices(scene),
): Fingerprints {
  const prints: Partial<Record<Trait, string>> = {}
  for (const trait of TRAITS) prints[trait] = fingerprintTrait(trait, scene, node, worlds)
  return prints as Fingerprints
}

/** One fingerprint a trait over all parts, in node order. */
export function fingerprintScene(scene: Scene): Fingerprints {
  const worlds = worldMatrices(scene)
  const parts = scene.nodes.flatMap((node, index) =>
    node.mesh < 0 ? [] : [fingerprintPart(scene, index, worlds)],
  )
  const prints: Partial<Record<Trait, string>> = {}
  for (const trait of TRAITS) {
    const descriptor = TRAIT_DESCRIPTORS[trait]
    const hash = createContentHash()
    for (const part of parts) hash.text(part[trait])
    if (descriptor.scope === 'scene') descriptor.fingerprintScene(scene, hash)
    prints[trait] = hash.digest()
  }
  return prints as Fingerprints
}
