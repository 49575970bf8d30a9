import { isSeeThrough } from '../hub.ts'
import type { SurfaceModel } from '../model.ts'
import { choice, color, mapOnly, number, readerOf } from '../parameters.ts'
import { mean, scaled, weighted, WHITE } from '../rgb.ts'
import { diffuseAndF0Of, hubOfDiffuseAndF0 } from '../specular-workflow.ts'

const parameters = [
  color('diffuseFactor', [1, 1, 1], { slot: 'baseColor', mapName: 'diffuseTexture' }),
  color('specularFactor', [1, 1, 1], { slot: 'specular', mapName: 'specularGlossinessTexture' }),
  number('glossinessFactor', 1, {
    slot: 'roughness',
    mapName: 'specularGlossinessTexture',
    channel: 'a',
    inverted: true,
  }),
  number('alpha', 1, { slot: 'opacity', mapName: 'diffuseTexture', channel: 'a' }),
  choice('alphaMode', 'OPAQUE', ['OPAQUE', 'MASK', 'BLEND']),
  number('alphaCutoff', 0.5),
  color('emissiveFactor', [0, 0, 0], { slot: 'emissive', mapName: 'emissiveTexture', range: [0, null] }),
  mapOnly('normal', 'normalTexture'),
  number('occlusionStrength', 1, { slot: 'occlusion', mapName: 'occlusionTexture', channel: 'r' }),
]

const read = readerOf(parameters)

/** Diffuse, specular and glossiness: the archived extension of glTF, still written by many tools. */
export const gltfSpecularGlossiness: SurfaceModel = {
  id: 'gltf-specular-glossiness',
  title: 'glTF specular-glossiness',
  source: 'KHR_materials_pbrSpecularGlossiness; converted as the Khronos example does (from memory)',
  materialModel: 'gltf_specular_glossiness',
  timesMap: 'all',
  parameters,
  caveats: {
    diffuseFactor: { text: 'base colour and metalness become a diffuse and a specular colour' },
    specularFactor: { text: 'base colour and metalness become a diffuse and a specular colour' },
    alpha: { text: 'one number for all colours', when: isSeeThrough },
  },
  toHub: (values) => {
    const { num, rgb, has, word } = read(values)
    const emission = weighted(rgb('emissiveFactor'))
    const mode = word('alphaMode').toLowerCase()
    return {
      ...hubOfDiffuseAndF0(rgb('diffuseFactor'), rgb('specularFactor')),
      specularRoughness: 1 - num('glossinessFactor'),
      emission: emission.weight,
      emissionColor: emission.color,
      opacity: scaled(WHITE, mode === 'opaque' && has('alphaMode') ? 1 : num('alpha')),
      alphaMode: has('alphaMode') && ['opaque', 'mask', 'blend'].includes(mode) ? (mode as 'mask') : null,
      alphaCutoff: has('alphaCutoff') ? num('alphaCutoff') : null,
      occlusion: num('occlusionStrength'),
    }
  },
  fromHub: (hub) => {
    const { diffuse, f0 } = diffuseAndF0Of(hub)
    const alpha = mean(hub.opacity)
    return {
      diffuseFactor: diffuse,
      specularFactor: f0,
      glossinessFactor: 1 - hub.specularRoughness,
      alpha,
      alphaMode: (hub.alphaMode ?? (alpha < 1 ? 'blend' : 'opaque')).toUpperCase(),
      alphaCutoff: hub.alphaCutoff ?? 0.5,
      emissiveFactor: scaled(hub.emissionColor, hub.emission),
      occlusionStrength: hub.occlusion ?? 1,
    }
  },
}
