import { HUB_STANDARD, isSeeThrough } from '../hub.ts'
import type { SurfaceModel } from '../model.ts'
import { exponentOfRoughness, roughnessOfExponent } from '../optics.ts'
import { color, mapOnly, number, readerOf } from '../parameters.ts'
import { mean, mixed, scaled, weighted, WHITE } from '../rgb.ts'

/** Largest exponent that MTL names. */
const LARGEST_EXPONENT = 1000

const parameters = [
  color('Kd', [0.8, 0.8, 0.8], { slot: 'baseColor', mapName: 'map_Kd' }),
  color('Ka', [0, 0, 0], { slot: 'ambient', mapName: 'map_Ka' }),
  color('Ks', [0, 0, 0], { slot: 'specular', mapName: 'map_Ks' }),
  color('Ke', [0, 0, 0], { slot: 'emissive', mapName: 'map_Ke', range: [0, null] }),
  number('Ns', 0, { slot: 'shininess', mapName: 'map_Ns', range: [0, LARGEST_EXPONENT] }),
  number('d', 1, { slot: 'opacity', mapName: 'map_d' }),
  mapOnly('bump', 'map_bump'),
  mapOnly('normal', 'norm'),
  mapOnly('displacement', 'disp'),
  mapOnly('reflection', 'refl', true),
  number('Pr', 0.5, { slot: 'roughness', mapName: 'map_Pr' }),
  number('Pm', 0, { slot: 'metalness', mapName: 'map_Pm' }),
  number('Ps', 0, { slot: 'sheen', mapName: 'map_Ps' }),
  number('Pc', 0, { slot: 'clearcoat', mapName: null }),
  number('Pcr', 0, { slot: 'clearcoatRoughness', mapName: null }),
  number('aniso', 0, { slot: 'anisotropy', mapName: null }),
  number('anisor', 0, { slot: 'anisotropyRotation', mapName: null, unit: 'turns' }),
]
/** Values that no file of another kind has a word for. */
const own = [
  number('Ni', 1.5, { range: [0.001, 10] }),
  color('Tf', [1, 1, 1]),
  number('illum', 2, { range: [0, 10] }),
  number('Tr', 0),
]
const reads = [...parameters, ...own]

/** Kinds of lighting that let light through (6 and 7 bend it). */
const REFRACTS = new Set([4, 6, 7, 9])

const read = readerOf(reads)

/**
 * MTL, with the statements of its extension for physically based rendering. A file that has those is read by them; one
 * that has not is a Phong surface: its exponent becomes a roughness, its highlight's colour a weight and a tint.
 */
export const mtl: SurfaceModel = {
  id: 'mtl',
  title: 'MTL',
  source: 'Wavefront MTL, version 4.2 (appendix B1 of its manual); extension for physically based rendering',
  materialModel: 'mtl',
  parameters: [...parameters, ...own],
  // the specification's own words for these; the physically based extension says nothing of it
  timesMap: ['Ka', 'Kd', 'Ks', 'Ns', 'd'],
  ownWords: ['illum', 'Ni', 'Tf', 'Tr', 'sharpness'],
  yieldsTo: { Ns: ['Pr'], Tr: ['d'] },
  caveats: {
    Ks: {
      text: 'a Phong highlight is as strong from the front as from the side',
      when: ({ specular }) => specular > 0,
    },
    Ns: { text: 'roughness and exponent are related by a published formula, one of several in use' },
    Tf: {
      text: 'light that passes is filtered, not absorbed over a depth',
      when: ({ transmission }) => transmission > 0,
    },
    d: { text: 'one number for all colours', when: isSeeThrough },
  },
  toHub: (values) => {
    const { num, rgb, has } = read(values)
    const shine = weighted(rgb('Ks'))
    const emission = weighted(rgb('Ke'))
    const filter = weighted(rgb('Tf'))
    const passes = has('Tf') && REFRACTS.has(num('illum'))
    const isMetal = num('Pm') > 0
    const saysShine = has('Ks') && !isMetal
    const opacity = has('d') ? num('d') : has('Tr') ? 1 - num('Tr') : 1
    return {
      ...HUB_STANDARD,
      base: 1,
      baseColor: rgb('Kd'),
      metalness: num('Pm'),
      specular: saysShine ? shine.weight : has('Pr') || has('Pm') ? 1 : 0,
      specularColor: saysShine ? shine.color : WHITE,
      specularRoughness: has('Pr') ? num('Pr') : has('Ns') ? roughnessOfExponent(num('Ns')) : num('Pr'),
      ior: has('Ni') ? Math.max(1, num('Ni')) : HUB_STANDARD.ior,
      anisotropy: num('aniso'),
      rotation: num('anisor'),
      transmission: passes ? filter.weight : 0,
      transmissionColor: passes ? filter.color : WHITE,
      sheen: num('Ps'),
      coat: num('Pc'),
      coatRoughness: num('Pcr'),
      emission: emission.weight,
      emissionColor: emission.color,
      opacity: scaled(WHITE, opacity),
      coatAsIs: num('Pc'),
      ambient: has('Ka') ? rgb('Ka') : null,
    }
  },
  fromHub: (hub) => {
    const plain = scaled(hub.baseColor, hub.base)
    const passes = hub.transmission > 0
    return {
      Kd: plain,
      Ka: hub.ambient ?? [0, 0, 0],
      Ks: mixed(scaled(hub.specularColor, hub.specular), plain, hub.metalness),
      Ke: scaled(hub.emissionColor, hub.emission),
      Ns: Math.min(LARGEST_EXPONENT, exponentOfRoughness(hub.specularRoughness)),
      d: mean(hub.opacity),
      Pr: hub.specularRoughness,
      Pm: hub.metalness,
      Ps: hub.sheen,
      Pc: hub.coat,
      Pcr: hub.coatRoughness,
      aniso: hub.anisotropy,
      anisor: hub.rotation,
      Ni: hub.ior,
      Tf: passes ? scaled(hub.transmissionColor, hub.transmission) : WHITE,
      illum: passes ? 7 : 2,
    }
  },
}
