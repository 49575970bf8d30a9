/** What models that are described by a diffuse and a specular colour have in common. */
import { HUB_STANDARD, type Hub } from './hub.ts'
import { toBaseAndMetalness, toDiffuseAndF0 } from './optics.ts'
import { scaled, type Rgb } from './rgb.ts'

/** @param f0 reflectance at normal incidence, linear. */
export function hubOfDiffuseAndF0(diffuse: Rgb, f0: Rgb): Hub {
  const { baseColor, metalness } = toBaseAndMetalness(diffuse, f0)
  return { ...HUB_STANDARD, base: 1, baseColor, metalness, diffuseAndF0: { diffuse, f0 } }
}

export const diffuseAndF0Of = (hub: Hub): { diffuse: Rgb; f0: Rgb } =>
  hub.diffuseAndF0 ?? toDiffuseAndF0(scaled(hub.baseColor, hub.base), hub.metalness)
