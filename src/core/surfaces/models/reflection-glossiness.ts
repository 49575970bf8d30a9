import { HUB_STANDARD, type Hub, isSeeThrough } from '../hub.ts'
import type { SurfaceModel } from '../model.ts'
import { f0OfIor, iorOfF0, LARGEST_IOR } from '../optics.ts'
import { color, mapOnly, number, readerOf } from '../parameters.ts'
import { largest, mean, mixed, scaled, times, weighted, WHITE, type Rgb } from '../rgb.ts'
import { hubOfDiffuseAndF0 } from '../specular-workflow.ts'

const parameters = [
  color('diffuse', [0.8, 0.8, 0.8], { slot: 'baseColor', mapName: 'diffuse' }),
  color('reflection', [1, 1, 1], { slot: 'specular', mapName: 'reflection' }),
  number('glossiness', 0.8, { slot: 'roughness', mapName: 'glossiness', inverted: true }),
  number('ior', 1.5, { slot: 'ior', mapName: 'ior', range: [1, LARGEST_IOR] }),
  number('anisotropy', 0, { slot: 'anisotropy', mapName: 'anisotropy' }),
  number('rotation', 0, { slot: 'anisotropyRotation', mapName: 'rotation', unit: 'turns' }),
  color('refraction', [0, 0, 0], { slot: 'transmission', mapName: 'refraction' }),
  color('fog', [1, 1, 1]),
  number('fogDepth', 0, { range: [0, null], unit: 'scene units' }),
  color('translucency', [0, 0, 0], { slot: 'subsurfaceColor', mapName: 'translucency' }),
  color('emission', [0, 0, 0], { slot: 'emissive', mapName: 'emission', range: [0, null] }),
  number('opacity', 1, { slot: 'opacity', mapName: 'opacity' }),
  number('coat', 0, { slot: 'clearcoat', mapName: 'coat' }),
  color('coatColor', [1, 1, 1], { slot: 'clearcoatColor', mapName: 'coatColor' }),
  number('coatGlossiness', 1, { slot: 'clearcoatRoughness', mapName: 'coatGlossiness', inverted: true }),
  color('sheen', [0, 0, 0], { slot: 'sheenColor', mapName: 'sheen' }),
  number('sheenGlossiness', 0.7, { slot: 'sheenRoughness', mapName: 'sheenGlossiness', inverted: true }),
  number('bumpAmount', 1, { slot: 'bump', mapName: 'bump', range: [0, null] }),
  mapOnly('normal', 'normal'),
  mapOnly('displacement', 'displacement'),
]

/** Up to this reflectance a surface is taken for a dielectric: an index of about 1.9, above that of glass and gems. */
const DIELECTRIC_F0 = 0.1

const METAL_F0 = f0OfIor(LARGEST_IOR)

/** A metal, or a mixture with one, as `fromHub` writes it; null for what it never writes. */
function metalOf(diffuse: Rgb, reflection: Rgb, ior: number): Hub | null {
  const metalness = (f0OfIor(ior) - f0OfIor(HUB_STANDARD.ior)) / (METAL_F0 - f0OfIor(HUB_STANDARD.ior))
  if (metalness <= 0.02) return null
  const isWhole = metalness >= 1 - 1e-9
  if (isWhole && largest(diffuse) > 0) return null
  const baseColor = isWhole ? reflection : scaled(diffuse, 1 / (1 - metalness))
  const expected = mixed(WHITE, baseColor, Math.min(1, metalness))
  if (expected.some((value, at) => Math.abs(value - reflection[at]!) > 1e-6)) return null
  return { ...HUB_STANDARD, baseColor, metalness: Math.min(1, metalness) }
}

const read = readerOf(parameters)

/**
 * Diffuse, reflection, glossiness and index of refraction, as many renderers have it (common practice): the reflection
 * is tinted, its strength at an angle follows from the index by Fresnel. A metal is black with a tinted reflection and a
 * high index; its reflectance at normal incidence is then reflection times that of the index.
 */
export const reflectionGlossiness: SurfaceModel = {
  id: 'reflection-glossiness',
  title: 'Reflection, glossiness and IOR',
  source: 'common practice',
  materialModel: 'reflection_glossiness',
  parameters,
  // pixels end at 1, where an index begins
  timesMap: ['ior'],
  shownBy: {
    coatColor: 'coat',
    coatGlossiness: 'coat',
    sheenGlossiness: 'sheen',
    fog: 'refraction',
    rotation: 'anisotropy',
  },
  caveats: {
    diffuse: {
      text: 'a metal is black here, its colour stands in the reflection',
      when: ({ metalness }) => metalness > 0,
    },
    reflection: {
      text: 'a metal is black here, its colour stands in the reflection',
      when: ({ metalness }) => metalness > 0,
    },
    translucency: { text: 'strength and colour are one', when: ({ subsurface }) => subsurface > 0 },
    opacity: { text: 'one number for all colours', when: isSeeThrough },
  },
  toHub: (values) => {
    const { num, rgb, has } = read(values)
    const ior = Math.max(1, num('ior'))
    const reflection = rgb('reflection')
    const f0 = scaled(reflection, f0OfIor(ior))
    const shine = weighted(reflection)
    const surface =
      metalOf(rgb('diffuse'), reflection, ior) ??
      (largest(f0) <= DIELECTRIC_F0
        ? {
            ...HUB_STANDARD,
            baseColor: rgb('diffuse'),
            specular: shine.weight,
            specularColor: shine.color,
            ior,
          }
        : hubOfDiffuseAndF0(rgb('diffuse'), f0))
    const refraction = weighted(rgb('refraction'))
    const translucency = weighted(rgb('translucency'))
    const emission = weighted(rgb('emission'))
    const sheen = weighted(rgb('sheen'))
    return {
      ...surface,
      specularRoughness: 1 - num('glossiness'),
      anisotropy: num('anisotropy'),
      rotation: num('rotation'),
      transmission: refraction.weight,
      transmissionColor: num('fogDepth') > 0 ? rgb('fog') : refraction.color,
      transmissionDepth: num('fogDepth'),
      subsurface: translucency.weight,
      subsurfaceColor: translucency.color,
      emission: emission.weight,
      emissionColor: emission.color,
      opacity: scaled(WHITE, num('opacity')),
      coat: num('coat'),
      coatColor: rgb('coatColor'),
      coatRoughness: 1 - num('coatGlossiness'),
      sheen: sheen.weight,
      sheenColor: sheen.color,
      sheenRoughness: 1 - num('sheenGlossiness'),
      coatAsIs: num('coat'),
      bumpAmount: has('bumpAmount') ? num('bumpAmount') : null,
    }
  },
  fromHub: (hub) => {
    const f0 = f0OfIor(hub.ior)
    const plain = scaled(hub.baseColor, hub.base)
    // a metal reflects its colour, at the index that reflects nearly all
    const metal = Math.min(1, Math.max(0, hub.metalness))
    const apart = hub.diffuseAndF0
    const reflectance = f0 * (1 - metal) + METAL_F0 * metal
    const ior = apart
      ? largest(apart.f0) <= DIELECTRIC_F0
        ? hub.ior
        : iorOfF0(largest(apart.f0))
      : metal === 0
        ? hub.ior
        : iorOfF0(reflectance)
    const reflection = apart
      ? scaled(apart.f0, 1 / Math.max(f0OfIor(ior), 1e-6))
      : mixed(
          scaled(hub.specularColor, hub.specular),
          times(plain, metal === 1 ? hub.specularColor : WHITE),
          metal,
        )
    return {
      diffuse: apart ? apart.diffuse : scaled(plain, 1 - metal),
      reflection,
      glossiness: 1 - hub.specularRoughness,
      ior,
      anisotropy: hub.anisotropy,
      rotation: hub.rotation,
      refraction: scaled(hub.transmissionDepth > 0 ? WHITE : hub.transmissionColor, hub.transmission),
      fog: hub.transmissionDepth > 0 ? hub.transmissionColor : WHITE,
      fogDepth: hub.transmissionDepth,
      translucency: scaled(hub.subsurfaceColor, hub.subsurface),
      emission: scaled(hub.emissionColor, hub.emission),
      opacity: mean(hub.opacity),
      coat: hub.coat,
      coatColor: hub.coatColor,
      coatGlossiness: 1 - hub.coatRoughness,
      sheen: scaled(hub.sheenColor, hub.sheen),
      sheenGlossiness: 1 - hub.sheenRoughness,
      bumpAmount: hub.bumpAmount ?? 1,
    }
  },
}
