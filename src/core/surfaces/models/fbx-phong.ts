import {
  hubOfLighting,
  LIGHTING,
  LIGHTING_CAVEATS,
  LIGHTING_FACTORS,
  LIGHTING_YIELDS,
  lightingOf,
} from '../fbx-lighting.ts'
import type { SurfaceModel } from '../model.ts'
import { exponentOfRoughness, roughnessOfExponent } from '../optics.ts'
import { color, mapOnly, number, readerOf } from '../parameters.ts'
import { mixed, scaled, weighted } from '../rgb.ts'

const LARGEST_EXPONENT = 1e4

const parameters = [
  ...LIGHTING,
  color('SpecularColor', [0.2, 0.2, 0.2], { slot: 'specular', mapName: 'SpecularColor' }),
  number('ShininessExponent', 20, {
    slot: 'shininess',
    mapName: 'ShininessExponent',
    range: [0, LARGEST_EXPONENT],
    synonyms: ['Shininess'],
  }),
  mapOnly('reflection', 'ReflectionColor', true),
  mapOnly('roughness', 'Roughness'),
  mapOnly('metalness', 'Metalness'),
  ...LIGHTING_FACTORS,
  number('SpecularFactor', 1),
  color('ReflectionColor', [0, 0, 0]),
  number('ReflectionFactor', 1),
]

const read = readerOf(parameters)

/** Materials of the old shading models in FBX; two of its words for one thing differ by an ending. */
export const fbxPhong: SurfaceModel = {
  id: 'fbx-phong',
  title: 'FBX Phong',
  source: 'names of the public FBX SDK documentation, from memory',
  materialModel: 'phong',
  parameters,
  yieldsTo: LIGHTING_YIELDS,
  caveats: {
    ...LIGHTING_CAVEATS,
    SpecularColor: {
      text: 'a Phong highlight is as strong from the front as from the side',
      when: ({ specular }) => specular > 0,
    },
    ShininessExponent: {
      text: 'roughness and exponent are related by a published formula, one of several in use',
    },
  },
  toHub: (values) => {
    const given = read(values)
    const { num, rgb, has } = given
    const shine = weighted(rgb('SpecularColor'))
    const exponent = has('ShininessExponent')
      ? num('ShininessExponent')
      : has('Shininess')
        ? Number(values['Shininess'])
        : num('ShininessExponent')
    return {
      ...hubOfLighting(given),
      specular: shine.weight * num('SpecularFactor'),
      specularColor: shine.color,
      specularRoughness: roughnessOfExponent(exponent),
    }
  },
  fromHub: (hub) => {
    const plain = scaled(hub.baseColor, hub.base)
    const highlight = mixed(scaled(hub.specularColor, hub.specular), plain, hub.metalness)
    const shine = weighted(highlight)
    return {
      ...lightingOf(hub),
      SpecularColor: shine.color,
      SpecularFactor: shine.weight,
      ShininessExponent: Math.min(LARGEST_EXPONENT, exponentOfRoughness(hub.specularRoughness)),
      ReflectionColor: shine.color,
      ReflectionFactor: 0,
    }
  },
}
