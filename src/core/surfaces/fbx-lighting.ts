/** What FBX's two old shading models have in common. Names of the public FBX SDK documentation, from memory. */
import { HUB_STANDARD, type Hub } from './hub.ts'
import type { Caveat, SurfaceParameter, SurfaceValues } from './model.ts'
import { color, mapOnly, number, type ValueReader } from './parameters.ts'
import { mean, scaled, weighted, WHITE } from './rgb.ts'

export const LIGHTING: readonly SurfaceParameter[] = [
  color('DiffuseColor', [0.8, 0.8, 0.8], { slot: 'baseColor', mapName: 'DiffuseColor' }),
  color('AmbientColor', [0, 0, 0], { slot: 'ambient', mapName: 'AmbientColor' }),
  color('EmissiveColor', [0, 0, 0], { slot: 'emissive', mapName: 'EmissiveColor' }),
  number('Opacity', 1, { slot: 'opacity', mapName: 'TransparentColor' }),
  mapOnly('bump', 'Bump'),
  mapOnly('normal', 'NormalMap'),
  mapOnly('displacement', 'DisplacementColor'),
]

export const LIGHTING_FACTORS: readonly SurfaceParameter[] = [
  number('DiffuseFactor', 1),
  number('AmbientFactor', 1),
  number('EmissiveFactor', 1, { range: [0, null] }),
  color('TransparentColor', [0, 0, 0]),
  number('TransparencyFactor', 1),
  number('BumpFactor', 1, { range: [0, null] }),
  number('DisplacementFactor', 1, { range: [0, null] }),
]

/** What both read of a material; without a highlight. */
export function hubOfLighting({ num, rgb, has }: ValueReader): Hub {
  const emission = weighted(rgb('EmissiveColor'))
  // the opacity is what is left of the other two; files often have all three
  const opacity = has('Opacity')
    ? num('Opacity')
    : has('TransparentColor')
      ? 1 - mean(rgb('TransparentColor')) * num('TransparencyFactor')
      : 1
  return {
    ...HUB_STANDARD,
    base: num('DiffuseFactor'),
    baseColor: rgb('DiffuseColor'),
    specular: 0,
    emission: emission.weight * num('EmissiveFactor'),
    emissionColor: emission.color,
    opacity: scaled(WHITE, opacity),
    ambient: has('AmbientColor') ? scaled(rgb('AmbientColor'), num('AmbientFactor')) : null,
    bumpAmount: has('BumpFactor') ? num('BumpFactor') : null,
    displacement: has('DisplacementFactor') ? num('DisplacementFactor') : null,
  }
}

/** What both write. */
export function lightingOf(hub: Hub): SurfaceValues {
  const opacity = mean(hub.opacity) * (1 - hub.transmission)
  return {
    DiffuseColor: hub.baseColor,
    DiffuseFactor: hub.base * (1 - hub.metalness),
    AmbientColor: hub.ambient ?? [0, 0, 0],
    AmbientFactor: 1,
    EmissiveColor: hub.emissionColor,
    EmissiveFactor: hub.emission,
    Opacity: opacity,
    TransparentColor: WHITE,
    TransparencyFactor: 1 - opacity,
    BumpFactor: hub.bumpAmount ?? 1,
    DisplacementFactor: hub.displacement ?? 1,
  }
}

const isThrough = ({ transmission }: Hub): boolean => transmission > 0

export const LIGHTING_CAVEATS: Readonly<Record<string, Caveat>> = {
  DiffuseFactor: { text: 'a metal loses its diffuse part', when: ({ metalness }) => metalness > 0 },
  Opacity: { text: 'what passes and what is not there are one', when: isThrough },
  TransparencyFactor: { text: 'what passes and what is not there are one', when: isThrough },
}

export const LIGHTING_YIELDS: Readonly<Record<string, readonly string[]>> = {
  TransparentColor: ['Opacity'],
  TransparencyFactor: ['Opacity'],
}
