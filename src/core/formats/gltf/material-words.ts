/**
 * Where a glTF material says the parameters of its surface models. Source: glTF 2.0, section 3.9, and the ratified
 * material extensions; KHR_materials_pbrSpecularGlossiness (archived).
 */

/** A value: its object's path (joined by dots, `X` for an extension `KHR_materials_X`), its key, the model's name for it. */
export interface ValueWord {
  readonly at: string
  readonly key: string
  readonly name: string
  /** Numbers; 0 for a switch. */
  readonly width: 0 | 1 | 3 | 4
}

/** A texture, and the model's words for the maps that it is. */
export interface MapWord {
  readonly at: string
  readonly key: string
  readonly word: string
}

const value = (at: string, key: string, name: string, width: ValueWord['width'] = 1): ValueWord => ({
  at,
  key,
  name,
  width,
})
const map = (at: string, key: string, word = key): MapWord => ({ at, key, word })

const CORE = 'pbrMetallicRoughness'
const GLOSSY = 'extensions.KHR_materials_pbrSpecularGlossiness'
const ext = (name: string): string => `extensions.KHR_materials_${name}`

/** Extensions whose words are below, and so are written anew. */
export const MATERIAL_EXTENSIONS = [
  'anisotropy',
  'clearcoat',
  'diffuse_transmission',
  'dispersion',
  'emissive_strength',
  'ior',
  'iridescence',
  'sheen',
  'specular',
  'transmission',
  'volume',
].map((name) => `KHR_materials_${name}`)
export const GLOSSY_EXTENSION = 'KHR_materials_pbrSpecularGlossiness'

export const VALUES: readonly ValueWord[] = [
  value(CORE, 'baseColorFactor', 'base_color', 4),
  value(CORE, 'metallicFactor', 'metallic'),
  value(CORE, 'roughnessFactor', 'roughness'),
  value('', 'emissiveFactor', 'emissive', 3),
  value('', 'alphaCutoff', 'alpha_cutoff'),
  value('', 'doubleSided', 'double_sided', 0),
  value('normalTexture', 'scale', 'normal_scale'),
  value('occlusionTexture', 'strength', 'occlusion'),
  value(ext('emissive_strength'), 'emissiveStrength', 'emissive_strength'),
  value(ext('specular'), 'specularFactor', 'specular'),
  value(ext('specular'), 'specularColorFactor', 'specular_color', 3),
  value(ext('ior'), 'ior', 'ior'),
  value(ext('clearcoat'), 'clearcoatFactor', 'clearcoat'),
  value(ext('clearcoat'), 'clearcoatRoughnessFactor', 'clearcoat_roughness'),
  value(ext('sheen'), 'sheenColorFactor', 'sheen_color', 3),
  value(ext('sheen'), 'sheenRoughnessFactor', 'sheen_roughness'),
  value(ext('transmission'), 'transmissionFactor', 'transmission'),
  value(ext('volume'), 'thicknessFactor', 'thickness'),
  value(ext('volume'), 'attenuationDistance', 'attenuation_distance'),
  value(ext('volume'), 'attenuationColor', 'attenuation_color', 3),
  value(ext('anisotropy'), 'anisotropyStrength', 'anisotropy_strength'),
  value(ext('anisotropy'), 'anisotropyRotation', 'anisotropy_rotation'),
  value(ext('iridescence'), 'iridescenceFactor', 'iridescence'),
  value(ext('iridescence'), 'iridescenceIor', 'iridescence_ior'),
  value(ext('iridescence'), 'iridescenceThicknessMaximum', 'iridescence_thickness'),
  value(ext('iridescence'), 'iridescenceThicknessMinimum', 'iridescence_thickness_minimum'),
  value(ext('dispersion'), 'dispersion', 'dispersion'),
  value(ext('diffuse_transmission'), 'diffuseTransmissionFactor', 'diffuse_transmission'),
  value(ext('diffuse_transmission'), 'diffuseTransmissionColorFactor', 'diffuse_transmission_color', 3),
]

export const MAPS: readonly MapWord[] = [
  map(CORE, 'baseColorTexture'),
  map(CORE, 'metallicRoughnessTexture'),
  map('', 'normalTexture'),
  map('', 'occlusionTexture'),
  map('', 'emissiveTexture'),
  map(ext('specular'), 'specularTexture'),
  map(ext('specular'), 'specularColorTexture'),
  map(ext('clearcoat'), 'clearcoatTexture'),
  map(ext('clearcoat'), 'clearcoatRoughnessTexture'),
  map(ext('clearcoat'), 'clearcoatNormalTexture'),
  map(ext('sheen'), 'sheenColorTexture'),
  map(ext('sheen'), 'sheenRoughnessTexture'),
  map(ext('transmission'), 'transmissionTexture'),
  map(ext('volume'), 'thicknessTexture'),
  map(ext('anisotropy'), 'anisotropyTexture'),
  map(ext('iridescence'), 'iridescenceTexture'),
  map(ext('iridescence'), 'iridescenceThicknessTexture'),
  map(ext('diffuse_transmission'), 'diffuseTransmissionTexture'),
  map(ext('diffuse_transmission'), 'diffuseTransmissionColorTexture'),
]

export const GLOSSY_VALUES: readonly ValueWord[] = [
  value(GLOSSY, 'diffuseFactor', 'diffuseFactor', 4),
  value(GLOSSY, 'specularFactor', 'specularFactor', 3),
  value(GLOSSY, 'glossinessFactor', 'glossinessFactor'),
  value('', 'emissiveFactor', 'emissiveFactor', 3),
  value('', 'alphaCutoff', 'alphaCutoff'),
  value('occlusionTexture', 'strength', 'occlusionStrength'),
]
export const GLOSSY_MAPS: readonly MapWord[] = [
  map(GLOSSY, 'diffuseTexture'),
  map(GLOSSY, 'specularGlossinessTexture'),
  map('', 'normalTexture'),
  map('', 'occlusionTexture'),
  map('', 'emissiveTexture'),
]
