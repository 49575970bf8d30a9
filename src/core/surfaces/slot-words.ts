import type { Slot } from '../scene/material.ts'

/** What a map is for, as people read it. */
export const SLOT_WORDS: Readonly<Record<Slot, string>> = {
  ambient: 'ambient colour',
  baseColor: 'base colour',
  specular: 'specular',
  emissive: 'emission',
  shininess: 'shininess',
  opacity: 'opacity',
  bump: 'bump',
  normal: 'normals',
  displacement: 'displacement',
  decal: 'decal',
  occlusion: 'occlusion',
  other: 'another use',
  reflection: 'reflection',
  roughness: 'roughness',
  metalness: 'metalness',
  sheen: 'sheen',
  clearcoat: 'clear coat',
  clearcoatRoughness: 'roughness of the clear coat',
  anisotropy: 'anisotropy',
  anisotropyRotation: 'direction of the anisotropy',
}
