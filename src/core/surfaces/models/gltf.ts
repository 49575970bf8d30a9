import { HUB_STANDARD, isSeeThrough } from '../hub.ts'
import type { SurfaceModel } from '../model.ts'
import { ofWidths, widthsOf } from '../optics.ts'
import { choice, color, flag, mapOnly, number, readerOf } from '../parameters.ts'
import { largest, mean, mixed, scaled, times, weighted, WHITE } from '../rgb.ts'

const parameters = [
  color('base_color', [1, 1, 1], {
    slot: 'baseColor',
    mapName: 'baseColorTexture',
    synonyms: ['baseColorFactor', 'baseColor'],
  }),
  number('metallic', 1, {
    slot: 'metalness',
    mapName: 'metallicRoughnessTexture',
    channel: 'b',
    synonyms: ['metallicFactor'],
  }),
  number('roughness', 1, {
    slot: 'roughness',
    mapName: 'metallicRoughnessTexture',
    channel: 'g',
    synonyms: ['roughnessFactor'],
  }),
  mapOnly('normal', 'normalTexture'),
  number('normal_scale', 1, { range: [0, null] }),
  number('occlusion', 1, {
    slot: 'occlusion',
    mapName: 'occlusionTexture',
    channel: 'r',
    synonyms: ['occlusionStrength'],
  }),
  number('alpha', 1, { slot: 'opacity', mapName: 'baseColorTexture', channel: 'a' }),
  choice('alpha_mode', 'OPAQUE', ['OPAQUE', 'MASK', 'BLEND']),
  number('alpha_cutoff', 0.5),
  color('emissive', [0, 0, 0], {
    slot: 'emissive',
    mapName: 'emissiveTexture',
    range: [0, null],
    synonyms: ['emissiveFactor'],
  }),
  number('emissive_strength', 1, { range: [0, null], synonyms: ['emissiveStrength'] }),
  number('specular', 1, {
    slot: 'specularWeight',
    mapName: 'specularTexture',
    channel: 'a',
    synonyms: ['specularFactor'],
  }),
  color('specular_color', [1, 1, 1], {
    slot: 'specular',
    mapName: 'specularColorTexture',
    synonyms: ['specularColorFactor'],
  }),
  number('ior', 1.5, { range: [1, 3] }),
  number('clearcoat', 0, {
    slot: 'clearcoat',
    mapName: 'clearcoatTexture',
    channel: 'r',
    synonyms: ['clearcoatFactor'],
  }),
  number('clearcoat_roughness', 0, {
    slot: 'clearcoatRoughness',
    mapName: 'clearcoatRoughnessTexture',
    channel: 'g',
    synonyms: ['clearcoatRoughnessFactor'],
  }),
  mapOnly('clearcoatNormal', 'clearcoatNormalTexture'),
  color('sheen_color', [0, 0, 0], {
    slot: 'sheenColor',
    mapName: 'sheenColorTexture',
    synonyms: ['sheenColorFactor'],
  }),
  number('sheen_roughness', 0, {
    slot: 'sheenRoughness',
    mapName: 'sheenRoughnessTexture',
    channel: 'a',
    synonyms: ['sheenRoughnessFactor'],
  }),
  number('transmission', 0, {
    slot: 'transmission',
    mapName: 'transmissionTexture',
    channel: 'r',
    synonyms: ['transmissionFactor'],
  }),
  number('thickness', 0, {
    slot: 'thickness',
    mapName: 'thicknessTexture',
    channel: 'g',
    range: [0, null],
    unit: 'scene units',
    synonyms: ['thicknessFactor'],
  }),
  number('attenuation_distance', null, {
    range: [0, null],
    unit: 'scene units',
    synonyms: ['attenuationDistance'],
  }),
  color('attenuation_color', [1, 1, 1], { synonyms: ['attenuationColor'] }),
  number('anisotropy_strength', 0, {
    slot: 'anisotropy',
    mapName: 'anisotropyTexture',
    channel: 'b',
    synonyms: ['anisotropyStrength'],
  }),
  number('anisotropy_rotation', 0, {
    range: [-6.284, 6.284],
    unit: 'radians',
    synonyms: ['anisotropyRotation'],
  }),
  number('iridescence', 0, {
    slot: 'iridescence',
    mapName: 'iridescenceTexture',
    channel: 'r',
    synonyms: ['iridescenceFactor'],
  }),
  number('iridescence_ior', 1.3, { range: [1, 3], synonyms: ['iridescenceIor'] }),
  number('iridescence_thickness', 100, {
    slot: 'iridescenceThickness',
    mapName: 'iridescenceThicknessTexture',
    channel: 'g',
    range: [0, 2000],
    unit: 'nm',
    synonyms: ['iridescenceThicknessMaximum'],
  }),
  number('iridescence_thickness_minimum', 100, {
    range: [0, 2000],
    unit: 'nm',
    synonyms: ['iridescenceThicknessMinimum'],
  }),
  number('dispersion', 0, { range: [0, null], unit: '20 / Abbe number' }),
  number('diffuse_transmission', 0, {
    slot: 'subsurface',
    mapName: 'diffuseTransmissionTexture',
    channel: 'a',
    synonyms: ['diffuseTransmissionFactor'],
  }),
  color('diffuse_transmission_color', [1, 1, 1], {
    slot: 'subsurfaceColor',
    mapName: 'diffuseTransmissionColorTexture',
    synonyms: ['diffuseTransmissionColorFactor'],
  }),
  flag('double_sided', false),
]

/** A full turn as the published graph has it. */
const TURN = 6.283

const read = readerOf(parameters)

/**
 * glTF 2.0 metallic-roughness with its ratified extensions, under the names that the MaterialX nodedef gives them (glTF
 * itself spreads them over nested objects; its own names are taken too). From the hub as the graph
 * NG_standard_surface_to_gltf_pbr of MaterialX 1.39.4 says; ior, specular, opacity, thin film, dispersion and light
 * through thin walls, which the graph leaves out, go beyond it. The way back is the graph's inverse.
 */
export const gltf: SurfaceModel = {
  id: 'gltf',
  title: 'glTF metallic-roughness',
  source:
    'glTF 2.0 (Khronos, section 3.9) and its ratified material extensions; nodedef ND_gltf_pbr_surfaceshader of MaterialX 1.39.4',
  materialModel: 'gltf_pbr',
  // glTF 2.0, 3.9.2 and the extensions: a factor is multiplied by its texture
  timesMap: 'all',
  parameters,
  shownBy: {
    iridescence_: 'iridescence',
    clearcoat_: 'clearcoat',
    sheen_roughness: 'sheen_color',
    attenuation_: 'thickness',
    thickness: 'transmission',
    anisotropy_rotation: 'anisotropy_strength',
    diffuse_transmission_color: 'diffuse_transmission',
    emissive_strength: 'emissive',
    specular_color: 'specular',
    dispersion: 'thickness',
  },
  materialX: {
    category: 'gltf_pbr',
    integers: ['alpha_mode'],
    without: [
      'normal_scale',
      'iridescence_thickness_minimum',
      'dispersion',
      'diffuse_transmission',
      'diffuse_transmission_color',
      'double_sided',
    ],
  },
  caveats: {
    anisotropy_strength: {
      text: 'the two models stretch a highlight differently',
      when: ({ anisotropy }) => anisotropy > 0,
    },
    alpha: { text: 'one number for all colours', when: isSeeThrough },
    alpha_mode: { text: 'opacity has no mode in other models', when: isSeeThrough },
    attenuation_distance: {
      text: 'thickness and distance are one depth in other models',
      when: ({ transmissionDepth }) => transmissionDepth > 0,
    },
    iridescence_thickness_minimum: {
      text: 'other models know one thickness',
      when: ({ thinFilmThickness }) => thinFilmThickness > 0,
    },
    double_sided: {
      text: 'other models draw both sides of thin walls alone',
      when: ({ thinWalled }) => thinWalled,
    },
  },
  toHub: (values) => {
    const { num, rgb, on, has, word } = read(values)
    const across = Math.max(num('roughness') ** 2, 1e-8)
    const along = Math.min(1, across + num('anisotropy_strength') ** 2 * (1 - across))
    const { roughness, anisotropy } = ofWidths(along, across)
    const transmission = num('transmission')
    const thickness = num('thickness')
    const distance = has('attenuation_distance') ? num('attenuation_distance') : null
    const isDeep = transmission > 0 && thickness > 0
    const sheenColor = rgb('sheen_color')
    const emission = weighted(scaled(rgb('emissive'), num('emissive_strength')))
    const film = num('iridescence')
    const mode = word('alpha_mode').toLowerCase()
    const dispersion = num('dispersion')
    const passing = num('diffuse_transmission')
    return {
      ...HUB_STANDARD,
      base: 1,
      baseColor: rgb('base_color'),
      metalness: num('metallic'),
      specular: num('specular'),
      specularColor: rgb('specular_color'),
      specularRoughness: num('anisotropy_strength') > 0 ? roughness : num('roughness'),
      ior: num('ior'),
      anisotropy: num('anisotropy_strength') > 0 ? anisotropy : 0,
      rotation: -num('anisotropy_rotation') / TURN,
      transmission,
      transmissionColor: isDeep ? rgb('attenuation_color') : transmission > 0 ? rgb('base_color') : WHITE,
      transmissionDepth: thickness,
      transmissionDispersion: dispersion > 1e-9 ? 20 / dispersion : 0,
      subsurface: passing,
      subsurfaceColor: rgb('diffuse_transmission_color'),
      sheen: largest(sheenColor) > 0 ? 1 : 0,
      sheenColor: largest(sheenColor) > 0 ? sheenColor : WHITE,
      sheenRoughness: num('sheen_roughness'),
      coat: num('clearcoat'),
      coatRoughness: num('clearcoat_roughness'),
      thinFilmThickness: film > 0 ? num('iridescence_thickness') : 0,
      thinFilmIor: num('iridescence_ior'),
      emission: emission.weight,
      emissionColor: emission.color,
      opacity: scaled(WHITE, mode === 'opaque' && has('alpha_mode') ? 1 : num('alpha')),
      thinWalled: !(thickness > 0) && (passing > 0 || transmission > 0 || on('double_sided')),
      coatAsIs: num('clearcoat'),
      specularAsIs: num('specular'),
      thinFilmWeight: film,
      thinFilmLeast: film > 0 ? num('iridescence_thickness_minimum') : null,
      dispersion,
      thickness,
      attenuationDistance: distance,
      alphaMode: has('alpha_mode') && ['opaque', 'mask', 'blend'].includes(mode) ? (mode as 'mask') : null,
      alphaCutoff: has('alpha_cutoff') ? num('alpha_cutoff') : null,
      occlusion: num('occlusion'),
      normalScale: num('normal_scale'),
      doubleSided: on('double_sided'),
    }
  },
  fromHub: (hub) => {
    const hasCoatColor = hub.coatColor[0] + hub.coatColor[1] + hub.coatColor[2] !== 0
    const plain = scaled(hub.baseColor, hub.base)
    const under = hasCoatColor ? times(plain, mixed(WHITE, hub.coatColor, hub.coat)) : plain
    const isDeep = hub.transmissionDepth > 0
    const { along, across } = widthsOf(hub.specularRoughness, hub.anisotropy)
    const rest = 1 - across
    const alpha = mean(hub.opacity)
    const film = hub.thinFilmWeight ?? (hub.thinFilmThickness > 0 ? 1 : 0)
    const mode = hub.alphaMode ?? (alpha < 1 ? 'blend' : 'opaque')
    const distance =
      hub.attenuationDistance ?? (isDeep && hub.transmission > 0 ? hub.transmissionDepth : null)
    return {
      base_color: hub.transmission > 0 ? (isDeep ? WHITE : hub.transmissionColor) : under,
      metallic: hub.metalness,
      roughness: Math.sqrt(across),
      normal_scale: hub.normalScale ?? 1,
      occlusion: hub.occlusion ?? 1,
      alpha,
      alpha_mode: mode.toUpperCase(),
      alpha_cutoff: hub.alphaCutoff ?? 0.5,
      emissive: scaled(hub.emissionColor, hub.emission),
      emissive_strength: 1,
      specular: hub.specular,
      specular_color: hub.specularColor,
      ior: hub.ior,
      clearcoat: hasCoatColor ? mean(scaled(hub.coatColor, hub.coat)) : hub.coat,
      clearcoat_roughness: hub.coatRoughness,
      sheen_color: scaled(hub.sheenColor, hub.sheen),
      sheen_roughness: hub.sheen > 0 ? hub.sheenRoughness : 0,
      transmission: hub.transmission,
      thickness: hub.thickness ?? hub.transmissionDepth,
      ...(distance === null ? {} : { attenuation_distance: distance }),
      attenuation_color: hub.transmission > 0 && isDeep ? hub.transmissionColor : WHITE,
      anisotropy_strength: rest > 0 ? Math.sqrt((along - across) / rest) : 0,
      anisotropy_rotation: hub.rotation === 0 ? 0 : hub.rotation * -TURN,
      iridescence: film,
      iridescence_ior: hub.thinFilmIor,
      iridescence_thickness: hub.thinFilmThickness,
      iridescence_thickness_minimum: hub.thinFilmLeast ?? hub.thinFilmThickness,
      dispersion: hub.dispersion ?? (hub.transmissionDispersion > 1e-9 ? 20 / hub.transmissionDispersion : 0),
      diffuse_transmission: hub.thinWalled ? hub.subsurface : 0,
      diffuse_transmission_color: hub.subsurfaceColor,
      double_sided: hub.doubleSided ?? hub.thinWalled,
    }
  },
}
