/**
 * Materials as the blocks `materials`, `textures`, `images` and `extensionsUsed` of a glTF document. Source: glTF 2.0
 * (section 3.9) and the ratified material extensions KHR_materials_clearcoat, _sheen, _transmission, _volume, _ior,
 * _specular, _emissive_strength, _anisotropy, _iridescence, _dispersion, _diffuse_transmission;
 * KHR_materials_pbrSpecularGlossiness (archived).
 */
import type { SurfaceValue } from '../model.ts'
import { PLAIN_PLACEMENT, type MapUse } from '../remap/map-use.ts'
import type { RemappedMaterial } from '../remap/remapped-material.ts'

type Json = Record<string, unknown>

export interface GltfMaterials {
  readonly materials: readonly Json[]
  readonly textures: readonly { readonly source: number; readonly sampler?: number }[]
  /** Only where a map doesn't go on beyond its border. */
  readonly samplers?: readonly { readonly wrapS: number; readonly wrapT: number }[]
  readonly images: readonly { readonly uri: string }[]
  readonly extensionsUsed: readonly string[]
}

/** Words of glTF 2.0, 5.26. */
const WRAPS = { repeat: 10497, clamp: 33071 } as const

/** Least difference that is worth a property. */
const isSame = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b)

const percent = (path: string): string =>
  path
    .replace(/\\/g, '/')
    .split('/')
    .map((part) => encodeURIComponent(part))
    .join('/')

/** @param materials remapped to one of the two models of glTF. */
export function writeGltfMaterials(materials: readonly RemappedMaterial[]): GltfMaterials {
  const images: { uri: string }[] = []
  const textures: { source: number; sampler?: number }[] = []
  const samplers: { wrapS: number; wrapT: number }[] = []
  const used = new Set<string>()
  const placeOf = <One>(list: One[], one: One): number => {
    const known = list.findIndex((other) => isSame(other, one))
    return known >= 0 ? known : list.push(one) - 1
  }
  const textureOf = ({ file, placement }: MapUse): number => {
    const source = placeOf(images, { uri: percent(file) })
    const { wrapU, wrapV } = placement ?? PLAIN_PLACEMENT
    if (wrapU === 'repeat' && wrapV === 'repeat') return placeOf(textures, { source })
    const wraps = { wrapS: WRAPS[wrapU], wrapT: WRAPS[wrapV] }
    return placeOf(textures, { source, sampler: placeOf(samplers, wraps) })
  }
  /** KHR_texture_transform; V runs down there, so that the offset counts from the other side. */
  const transformOf = ({ placement }: MapUse): Json => {
    const { scale, offset } = placement ?? PLAIN_PLACEMENT
    if (scale.every((one) => one === 1) && offset.every((one) => one === 0)) return {}
    used.add('KHR_texture_transform')
    return {
      extensions: {
        KHR_texture_transform: { offset: [offset[0], 1 - scale[1] - offset[1]], scale: [...scale] },
      },
    }
  }
  const list = materials.map((material) => {
    const row = (name: string) => material.parameters.find(({ parameter }) => parameter === name)
    const value = (name: string): SurfaceValue | null => row(name)?.value ?? null
    const num = (name: string): number => Number(value(name) ?? 0)
    const rgb = (name: string): number[] => [...((value(name) as number[] | null) ?? [0, 0, 0])]
    const texture = (name: string, more: Json = {}): Json | undefined => {
      const map = row(name)?.map
      return map ? { index: textureOf(map), ...more, ...transformOf(map) } : undefined
    }
    const part = (entries: readonly (readonly [string, unknown, unknown?])[]): Json =>
      Object.fromEntries(
        entries
          .filter(([, own, standard]) => own !== undefined && !isSame(own, standard))
          .map(([key, own]) => [key, own]),
      )
    const extensions: Record<string, Json> = {}
    const extend = (name: string, content: Json, isThere = Object.keys(content).length > 0): void => {
      if (!isThere) return
      extensions[name] = content
      used.add(name)
    }
    const isGlossy = material.target.id !== 'gltf'
    const common = (
      emissive: number[],
      strength: number,
      occlusion: string,
      alpha: string,
      cutoff: string,
    ): Json => {
      // a factor is at most 1: what is brighter is a strength
      const brightest = Math.max(...emissive) * strength
      const factor =
        brightest > 1
          ? emissive.map((one) => (one * strength) / brightest)
          : emissive.map((one) => one * strength)
      if (brightest > 1) extend('KHR_materials_emissive_strength', { emissiveStrength: brightest })
      const mode = String(value(alpha) ?? 'OPAQUE')
      return part([
        [
          'normalTexture',
          texture(
            'normalTexture',
            isGlossy || num('normal_scale') === 1 ? {} : { scale: num('normal_scale') },
          ),
        ],
        ['occlusionTexture', texture(occlusion, num(occlusion) === 1 ? {} : { strength: num(occlusion) })],
        ['emissiveTexture', texture(isGlossy ? 'emissiveFactor' : 'emissive')],
        ['emissiveFactor', factor, [0, 0, 0]],
        ['alphaMode', mode, 'OPAQUE'],
        ['alphaCutoff', mode === 'MASK' ? num(cutoff) : undefined, 0.5],
      ])
    }
    if (isGlossy) {
      extend(
        'KHR_materials_pbrSpecularGlossiness',
        part([
          ['diffuseFactor', [...rgb('diffuseFactor'), num('alpha')], [1, 1, 1, 1]],
          ['diffuseTexture', texture('diffuseFactor')],
          ['specularFactor', rgb('specularFactor'), [1, 1, 1]],
          ['glossinessFactor', num('glossinessFactor'), 1],
          ['specularGlossinessTexture', texture('specularFactor') ?? texture('glossinessFactor')],
        ]),
        true,
      )
      const rest = common(rgb('emissiveFactor'), 1, 'occlusionStrength', 'alphaMode', 'alphaCutoff')
      return { name: material.name, ...rest, extensions }
    }
    extend(
      'KHR_materials_clearcoat',
      part([
        ['clearcoatFactor', num('clearcoat'), 0],
        ['clearcoatTexture', texture('clearcoat')],
        ['clearcoatRoughnessFactor', num('clearcoat_roughness'), 0],
        ['clearcoatRoughnessTexture', texture('clearcoat_roughness')],
        ['clearcoatNormalTexture', texture('clearcoatNormalTexture')],
      ]),
      num('clearcoat') > 0,
    )
    extend(
      'KHR_materials_sheen',
      part([
        ['sheenColorFactor', rgb('sheen_color'), [0, 0, 0]],
        ['sheenColorTexture', texture('sheen_color')],
        ['sheenRoughnessFactor', num('sheen_roughness'), 0],
        ['sheenRoughnessTexture', texture('sheen_roughness')],
      ]),
      Math.max(...rgb('sheen_color')) > 0,
    )
    extend(
      'KHR_materials_transmission',
      part([
        ['transmissionFactor', num('transmission'), 0],
        ['transmissionTexture', texture('transmission')],
      ]),
    )
    const distance = value('attenuation_distance')
    extend(
      'KHR_materials_volume',
      part([
        ['thicknessFactor', num('thickness'), 0],
        ['thicknessTexture', texture('thickness')],
        ['attenuationDistance', typeof distance === 'number' && distance > 0 ? distance : undefined],
        ['attenuationColor', rgb('attenuation_color'), [1, 1, 1]],
      ]),
      num('thickness') > 0,
    )
    extend('KHR_materials_ior', part([['ior', num('ior'), 1.5]]))
    extend(
      'KHR_materials_specular',
      part([
        ['specularFactor', num('specular'), 1],
        ['specularTexture', texture('specular')],
        ['specularColorFactor', rgb('specular_color'), [1, 1, 1]],
        ['specularColorTexture', texture('specular_color')],
      ]),
    )
    extend(
      'KHR_materials_anisotropy',
      part([
        ['anisotropyStrength', num('anisotropy_strength'), 0],
        ['anisotropyRotation', num('anisotropy_rotation'), 0],
        ['anisotropyTexture', texture('anisotropy_strength')],
      ]),
      num('anisotropy_strength') > 0,
    )
    extend(
      'KHR_materials_iridescence',
      part([
        ['iridescenceFactor', num('iridescence'), 0],
        ['iridescenceTexture', texture('iridescence')],
        ['iridescenceIor', num('iridescence_ior'), 1.3],
        ['iridescenceThicknessMinimum', num('iridescence_thickness_minimum'), 100],
        ['iridescenceThicknessMaximum', num('iridescence_thickness'), 400],
        ['iridescenceThicknessTexture', texture('iridescence_thickness')],
      ]),
      num('iridescence') > 0,
    )
    // a dispersion without a volume is not allowed
    extend(
      'KHR_materials_dispersion',
      part([['dispersion', num('dispersion'), 0]]),
      num('dispersion') > 0 && num('thickness') > 0,
    )
    extend(
      'KHR_materials_diffuse_transmission',
      part([
        ['diffuseTransmissionFactor', num('diffuse_transmission'), 0],
        ['diffuseTransmissionTexture', texture('diffuse_transmission')],
        ['diffuseTransmissionColorFactor', rgb('diffuse_transmission_color'), [1, 1, 1]],
        ['diffuseTransmissionColorTexture', texture('diffuse_transmission_color')],
      ]),
      num('diffuse_transmission') > 0,
    )
    const core = part([
      ['baseColorFactor', [...rgb('base_color'), num('alpha')], [1, 1, 1, 1]],
      ['baseColorTexture', texture('base_color') ?? texture('alpha')],
      ['metallicFactor', num('metallic'), 1],
      ['roughnessFactor', num('roughness'), 1],
      ['metallicRoughnessTexture', texture('roughness') ?? texture('metallic')],
    ])
    const rest = common(rgb('emissive'), num('emissive_strength'), 'occlusion', 'alpha_mode', 'alpha_cutoff')
    return {
      name: material.name,
      ...(Object.keys(core).length ? { pbrMetallicRoughness: core } : {}),
      ...rest,
      ...(value('double_sided') === true ? { doubleSided: true } : {}),
      ...(Object.keys(extensions).length ? { extensions } : {}),
    }
  })
  return {
    materials: list,
    textures,
    images,
    ...(samplers.length ? { samplers } : {}),
    extensionsUsed: [...used].sort(),
  }
}
