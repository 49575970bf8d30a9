import { HUB_STANDARD, isSeeThrough } from '../hub.ts'
import type { SurfaceModel } from '../model.ts'
import { f0OfIor } from '../optics.ts'
import { color, flag, mapOnly, number, readerOf } from '../parameters.ts'
import { mixed, scaled, times, WHITE, type Rgb } from '../rgb.ts'

const parameters = [
  number('base_weight', 1),
  color('base_color', [0.8, 0.8, 0.8], { slot: 'baseColor', mapName: 'base_color' }),
  number('base_diffuse_roughness', 0),
  number('base_metalness', 0, { slot: 'metalness', mapName: 'base_metalness' }),
  number('specular_weight', 1, { slot: 'specularWeight', mapName: 'specular_weight' }),
  color('specular_color', [1, 1, 1], { slot: 'specular', mapName: 'specular_color' }),
  number('specular_roughness', 0.3, { slot: 'roughness', mapName: 'specular_roughness' }),
  number('specular_ior', 1.5, { slot: 'ior', mapName: 'specular_ior', range: [1, 3] }),
  number('specular_roughness_anisotropy', 0, {
    slot: 'anisotropy',
    mapName: 'specular_roughness_anisotropy',
  }),
  number('transmission_weight', 0, { slot: 'transmission', mapName: 'transmission_weight' }),
  color('transmission_color', [1, 1, 1]),
  number('transmission_depth', 0, { range: [0, null], unit: 'scene units' }),
  color('transmission_scatter', [0, 0, 0]),
  number('transmission_scatter_anisotropy', 0, { range: [-1, 1] }),
  number('transmission_dispersion_scale', 0),
  number('transmission_dispersion_abbe_number', 20, { range: [9, 91] }),
  number('subsurface_weight', 0, { slot: 'subsurface', mapName: 'subsurface_weight' }),
  color('subsurface_color', [0.8, 0.8, 0.8], { slot: 'subsurfaceColor', mapName: 'subsurface_color' }),
  number('subsurface_radius', 1, { range: [0, null], unit: 'scene units' }),
  color('subsurface_radius_scale', [1, 0.5, 0.25], { mapIsColor: false }),
  number('subsurface_scatter_anisotropy', 0, { range: [-1, 1] }),
  number('fuzz_weight', 0, { slot: 'sheen', mapName: 'fuzz_weight' }),
  color('fuzz_color', [1, 1, 1], { slot: 'sheenColor', mapName: 'fuzz_color' }),
  number('fuzz_roughness', 0.5, { slot: 'sheenRoughness', mapName: 'fuzz_roughness' }),
  number('coat_weight', 0, { slot: 'clearcoat', mapName: 'coat_weight' }),
  color('coat_color', [1, 1, 1], { slot: 'clearcoatColor', mapName: 'coat_color' }),
  number('coat_roughness', 0, { slot: 'clearcoatRoughness', mapName: 'coat_roughness' }),
  number('coat_roughness_anisotropy', 0),
  number('coat_ior', 1.6, { range: [1, 3] }),
  number('coat_darkening', 1),
  number('thin_film_weight', 0, { slot: 'iridescence', mapName: 'thin_film_weight' }),
  number('thin_film_thickness', 0.5, {
    slot: 'iridescenceThickness',
    mapName: 'thin_film_thickness',
    unit: 'µm',
  }),
  number('thin_film_ior', 1.4, { range: [1, 3] }),
  number('emission_luminance', 0, { range: [0, null], unit: 'nit' }),
  color('emission_color', [1, 1, 1], { slot: 'emissive', mapName: 'emission_color' }),
  number('geometry_opacity', 1, { slot: 'opacity', mapName: 'geometry_opacity' }),
  flag('geometry_thin_walled', false),
  mapOnly('normal', 'geometry_normal'),
  mapOnly('clearcoatNormal', 'geometry_coat_normal'),
  mapOnly('displacement', 'displacement'),
]

/**
 * How much a coat darkens what lies under it by reflections within it: (1 - K) / (1 - E K), with K the part that the
 * coat sends back and E an estimate of the base's albedo.
 */
function coatDarkening(base: Rgb, coatIor: number): Rgb {
  const back = 1 - (1 - f0OfIor(coatIor)) / (coatIor * coatIor)
  const one = (albedo: number): number => (1 - back) / (1 - albedo * back)
  return [one(base[0]), one(base[1]), one(base[2])]
}

const read = readerOf(parameters)

/** Both ways follow the translation graphs that MaterialX 1.39.4 publishes, where they say something. */
export const openPbr: SurfaceModel = {
  id: 'openpbr',
  title: 'OpenPBR Surface 1.1',
  source: 'nodedef ND_open_pbr_surface_surfaceshader and its two translation graphs of MaterialX 1.39.4',
  materialModel: 'open_pbr_surface',
  parameters,
  shownBy: {
    transmission_: 'transmission_weight',
    subsurface_: 'subsurface_weight',
    fuzz_: 'fuzz_weight',
    coat_: 'coat_weight',
    thin_film_: 'thin_film_weight',
    emission_color: 'emission_luminance',
    specular_color: 'specular_weight',
  },
  materialX: { category: 'open_pbr_surface' },
  caveats: {
    specular_roughness_anisotropy: {
      text: 'the two models stretch a highlight differently; the number is copied',
      when: ({ anisotropy }) => anisotropy > 0,
    },
    fuzz_roughness: {
      text: 'fitted by eye in the published graph: power 2.5 one way, 0.4 the other',
      when: ({ sheen }) => sheen > 0,
    },
    emission_luminance: {
      text: 'the number is copied, without the unit nit',
      when: ({ emission }) => emission > 0,
    },
    coat_darkening: { text: 'is worked into the base colour', when: ({ coat }) => coat > 0 },
    thin_film_weight: {
      text: 'a film is there or not: only its thickness tells',
      when: ({ thinFilmThickness }) => thinFilmThickness > 0,
    },
    specular_weight: { text: 'counts as 1 on any metal', when: ({ metalness }) => metalness > 0 },
    coat_weight: {
      text: 'the published graph takes the coat off any metal',
      when: ({ metalness, coat }) => metalness > 0 && coat > 0,
    },
    geometry_opacity: { text: 'one number for all colours', when: isSeeThrough },
  },
  toHub: (values) => {
    const { num, rgb, on } = read(values)
    const coat = num('coat_weight')
    const metalness = num('base_metalness')
    const baseColor = rgb('base_color')
    const subsurfaceColor = rgb('subsurface_color')
    const albedo = mixed(
      mixed(baseColor, subsurfaceColor, num('subsurface_weight')),
      scaled(baseColor, num('specular_weight')),
      metalness,
    )
    const darkening = mixed(WHITE, coatDarkening(albedo, num('coat_ior')), coat * num('coat_darkening'))
    const film = num('thin_film_weight')
    const dispersionScale = num('transmission_dispersion_scale')
    return {
      ...HUB_STANDARD,
      base: num('base_weight'),
      baseColor: times(baseColor, darkening),
      diffuseRoughness: num('base_diffuse_roughness'),
      metalness,
      specular: num('specular_weight'),
      specularColor: rgb('specular_color'),
      specularRoughness: num('specular_roughness') * (1 - coat) + num('coat_roughness') * coat,
      ior: num('specular_ior'),
      anisotropy: num('specular_roughness_anisotropy'),
      transmission: num('transmission_weight'),
      transmissionColor: rgb('transmission_color'),
      transmissionDepth: num('transmission_depth'),
      transmissionScatter: rgb('transmission_scatter'),
      transmissionScatterAnisotropy: num('transmission_scatter_anisotropy'),
      transmissionDispersion: dispersionScale,
      subsurface: num('subsurface_weight'),
      subsurfaceColor: times(subsurfaceColor, darkening),
      subsurfaceRadius: rgb('subsurface_radius_scale'),
      subsurfaceScale: num('subsurface_radius'),
      subsurfaceAnisotropy: num('subsurface_scatter_anisotropy'),
      sheen: num('fuzz_weight'),
      sheenColor: rgb('fuzz_color'),
      sheenRoughness: Math.max(0, num('fuzz_roughness')) ** 2.5,
      coat,
      coatColor: rgb('coat_color'),
      coatRoughness: num('coat_roughness'),
      coatAnisotropy: num('coat_roughness_anisotropy'),
      coatIor: num('coat_ior'),
      coatAffectRoughness: 1,
      thinFilmThickness: film > 0 ? num('thin_film_thickness') * 1000 : 0,
      thinFilmIor: num('thin_film_ior'),
      emission: num('emission_luminance'),
      emissionColor: rgb('emission_color'),
      opacity: scaled(WHITE, num('geometry_opacity')),
      thinWalled: on('geometry_thin_walled'),
      thinFilmWeight: film,
      dispersion: (20 * dispersionScale) / Math.max(num('transmission_dispersion_abbe_number'), 1e-6),
    }
  },
  fromHub: (hub) => {
    const thickness = hub.thinFilmThickness * 0.001
    const isBlack = hub.specularColor[0] + hub.specularColor[1] + hub.specularColor[2] === 0
    const dispersion = hub.dispersion ?? 0
    const base = hub.baseTowardsOpenPbr ?? { weight: hub.base, color: hub.baseColor }
    return {
      base_weight: base.weight,
      base_color: times(base.color, mixed(WHITE, hub.coatColor, hub.coat)),
      base_diffuse_roughness: hub.diffuseRoughness,
      base_metalness: hub.metalness,
      specular_weight: hub.specularAsIs ?? (hub.metalness > 0 ? 1 : hub.specular),
      specular_color: isBlack ? WHITE : hub.specularColor,
      specular_roughness: hub.specularRoughness,
      specular_ior: hub.ior,
      specular_roughness_anisotropy: hub.anisotropy,
      transmission_weight: hub.transmission,
      transmission_color: hub.transmissionColor,
      transmission_depth: hub.transmissionDepth,
      transmission_scatter: hub.transmissionScatter,
      transmission_scatter_anisotropy: hub.transmissionScatterAnisotropy,
      transmission_dispersion_scale:
        hub.dispersion === null ? hub.transmissionDispersion : dispersion > 1e-9 ? 1 : 0,
      transmission_dispersion_abbe_number: dispersion > 1e-9 ? 20 / dispersion : 20,
      subsurface_weight: hub.subsurface,
      subsurface_color: hub.subsurfaceColor,
      subsurface_radius: hub.subsurfaceScale,
      subsurface_radius_scale: hub.subsurfaceRadius,
      subsurface_scatter_anisotropy: hub.subsurfaceAnisotropy,
      fuzz_weight: hub.sheen,
      fuzz_color: hub.sheenColor,
      fuzz_roughness: Math.max(0, hub.sheenRoughness) ** 0.4,
      coat_weight: hub.coatAsIs ?? (hub.coat * hub.metalness > 0 ? 0 : hub.coat),
      coat_color: hub.coatColor,
      coat_roughness: hub.coatRoughness,
      coat_roughness_anisotropy: hub.coatAnisotropy,
      coat_ior: hub.coatIor,
      coat_darkening: hub.coatAffectRoughness,
      thin_film_weight: hub.thinFilmWeight ?? (thickness > 0 ? 1 : 0),
      thin_film_thickness: thickness,
      thin_film_ior: hub.thinFilmIor,
      emission_luminance: hub.emission,
      emission_color: hub.emissionColor,
      geometry_opacity: hub.opacity[0],
      geometry_thin_walled: hub.thinWalled,
    }
  },
}
