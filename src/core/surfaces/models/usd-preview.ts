import { HUB_STANDARD, isSeeThrough } from '../hub.ts'
import type { SurfaceModel } from '../model.ts'
import { toBaseAndMetalness } from '../optics.ts'
import { color, mapOnly, number, readerOf } from '../parameters.ts'
import { mean, mixed, scaled, times, weighted, WHITE } from '../rgb.ts'

const parameters = [
  color('diffuseColor', [0.18, 0.18, 0.18], { slot: 'baseColor', mapName: 'diffuseColor' }),
  color('emissiveColor', [0, 0, 0], { slot: 'emissive', mapName: 'emissiveColor', range: [0, null] }),
  number('useSpecularWorkflow', 0),
  color('specularColor', [0, 0, 0], { slot: 'specular', mapName: 'specularColor' }),
  number('metallic', 0, { slot: 'metalness', mapName: 'metallic' }),
  number('roughness', 0.5, { slot: 'roughness', mapName: 'roughness' }),
  number('clearcoat', 0, { slot: 'clearcoat', mapName: 'clearcoat' }),
  number('clearcoatRoughness', 0.01, { slot: 'clearcoatRoughness', mapName: 'clearcoatRoughness' }),
  number('opacity', 1, { slot: 'opacity', mapName: 'opacity' }),
  number('opacityMode', 0),
  number('opacityThreshold', 0),
  number('ior', 1.5, { slot: 'ior', mapName: 'ior', range: [1, 3] }),
  number('displacement', 0, {
    slot: 'displacement',
    mapName: 'displacement',
    range: null,
    unit: 'scene units',
  }),
  number('occlusion', 1, { slot: 'occlusion', mapName: 'occlusion' }),
  mapOnly('normal', 'normal'),
]

const read = readerOf(parameters)

/**
 * USD Preview Surface. From the hub as the graph NG_standard_surface_to_UsdPreviewSurface of MaterialX 1.39.4 says; the
 * way back is its inverse, and a surface in the specular workflow is taken apart as the Khronos example does.
 */
export const usdPreview: SurfaceModel = {
  id: 'usd-preview',
  title: 'USD Preview Surface',
  source: 'USD Preview Surface 2.6 (nodedef ND_UsdPreviewSurface_surfaceshader of MaterialX 1.39.4)',
  materialModel: 'UsdPreviewSurface',
  parameters,
  shownBy: { clearcoatRoughness: 'clearcoat', specularColor: 'useSpecularWorkflow' },
  materialX: {
    category: 'UsdPreviewSurface',
    integers: ['useSpecularWorkflow', 'opacityMode'],
    normalIsVector: true,
  },
  caveats: {
    clearcoat: {
      text: 'has no colour: a tint is worked into the colours below it',
      when: ({ coat, coatColor }) => coat > 0 && coatColor.some((one) => one !== 1),
    },
    opacity: { text: 'one number for all colours', when: isSeeThrough },
    opacityMode: { text: 'says what opacity means; other models have no word for it', when: isSeeThrough },
    useSpecularWorkflow: { text: 'other models have metalness instead' },
    specularColor: { text: 'is told apart into base colour and metalness' },
  },
  toHub: (values) => {
    const { num, rgb, on, has } = read(values)
    const inSpecular = on('useSpecularWorkflow')
    const diffuse = rgb('diffuseColor')
    const f0 = rgb('specularColor')
    const apart = inSpecular
      ? toBaseAndMetalness(diffuse, f0)
      : { baseColor: diffuse, metalness: num('metallic') }
    const emission = weighted(rgb('emissiveColor'))
    return {
      ...HUB_STANDARD,
      base: 1,
      baseColor: apart.baseColor,
      metalness: apart.metalness,
      specularRoughness: num('roughness'),
      ior: num('ior'),
      coat: num('clearcoat'),
      coatRoughness: num('clearcoatRoughness'),
      emission: emission.weight,
      emissionColor: emission.color,
      opacity: scaled(WHITE, num('opacity')),
      diffuseAndF0: inSpecular ? { diffuse, f0 } : null,
      coatAsIs: num('clearcoat'),
      alphaMode: num('opacityThreshold') > 0 ? 'mask' : null,
      alphaCutoff: num('opacityThreshold') > 0 ? num('opacityThreshold') : null,
      displacement: has('displacement') ? num('displacement') : null,
      occlusion: num('occlusion'),
    }
  },
  fromHub: (hub) => {
    const attenuation = mixed(WHITE, hub.coatColor, hub.coat)
    const below = mixed(scaled(hub.baseColor, hub.base), hub.subsurfaceColor, hub.subsurface)
    return {
      diffuseColor: times(below, attenuation),
      emissiveColor: times(scaled(hub.emissionColor, hub.emission), attenuation),
      useSpecularWorkflow: 0,
      specularColor: [0, 0, 0],
      metallic: hub.metalness,
      roughness: hub.specularRoughness,
      clearcoat: mean(scaled(hub.coatColor, hub.coat)),
      clearcoatRoughness: hub.coatRoughness,
      opacity: mean(hub.opacity),
      opacityMode: 0,
      opacityThreshold: hub.alphaMode === 'mask' ? (hub.alphaCutoff ?? 0.5) : 0,
      ior: hub.ior,
      normal: [0, 0, 1],
      displacement: hub.displacement ?? 0,
      occlusion: hub.occlusion ?? 1,
    }
  },
}
