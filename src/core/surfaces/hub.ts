/**
 * What all surface models are converted through: the parameters of Standard Surface 1.0, since the translation graphs
 * that are published (MaterialX 1.39) start or end there, and beside them what other models tell apart and it doesn't.
 * A field of the second kind is null where the source said nothing of it: who needs it then derives it as the published
 * graph does.
 */
import type { Rgb } from './rgb.ts'

export interface Hub {
  readonly base: number
  readonly baseColor: Rgb
  readonly diffuseRoughness: number
  readonly metalness: number
  readonly specular: number
  readonly specularColor: Rgb
  readonly specularRoughness: number
  readonly ior: number
  readonly anisotropy: number
  /** Turns, 0 to 1. */
  readonly rotation: number
  readonly transmission: number
  readonly transmissionColor: Rgb
  /** Scene units; 0: no absorption within. */
  readonly transmissionDepth: number
  readonly transmissionScatter: Rgb
  readonly transmissionScatterAnisotropy: number
  readonly transmissionDispersion: number
  readonly transmissionExtraRoughness: number
  readonly subsurface: number
  readonly subsurfaceColor: Rgb
  readonly subsurfaceRadius: Rgb
  readonly subsurfaceScale: number
  readonly subsurfaceAnisotropy: number
  readonly sheen: number
  readonly sheenColor: Rgb
  readonly sheenRoughness: number
  readonly coat: number
  readonly coatColor: Rgb
  readonly coatRoughness: number
  readonly coatAnisotropy: number
  readonly coatRotation: number
  readonly coatIor: number
  readonly coatAffectColor: number
  readonly coatAffectRoughness: number
  /** Nanometres; 0: none. */
  readonly thinFilmThickness: number
  readonly thinFilmIor: number
  readonly emission: number
  readonly emissionColor: Rgb
  readonly opacity: Rgb
  readonly thinWalled: boolean

  /** Diffuse colour and reflectance at normal incidence, where the source is described by these two. */
  readonly diffuseAndF0: { readonly diffuse: Rgb; readonly f0: Rgb } | null
  /**
   * Base as the graph to OpenPBR takes it: what is left out is 0.8 of white there, where the model itself and the other
   * graphs have 1 of 0.8. The two look alike unless one of them was said.
   */
  readonly baseTowardsOpenPbr: { readonly weight: number; readonly color: Rgb } | null
  /** The weights as they were, where the source's coat and highlight don't depend on its being a metal. */
  readonly coatAsIs: number | null
  readonly specularAsIs: number | null
  readonly thinFilmWeight: number | null
  /** Nanometres, where a map blends from it. */
  readonly thinFilmLeast: number | null
  /** 20 / Abbe number, as the glTF extension has it. */
  readonly dispersion: number | null
  /** Scene units. */
  readonly thickness: number | null
  readonly attenuationDistance: number | null
  readonly alphaMode: 'opaque' | 'mask' | 'blend' | null
  readonly alphaCutoff: number | null
  readonly ambient: Rgb | null
  readonly occlusion: number | null
  readonly normalScale: number | null
  readonly bumpAmount: number | null
  readonly displacement: number | null
  readonly doubleSided: boolean | null
}

export const HUB_STANDARD: Hub = {
  base: 1,
  baseColor: [0.8, 0.8, 0.8],
  diffuseRoughness: 0,
  metalness: 0,
  specular: 1,
  specularColor: [1, 1, 1],
  specularRoughness: 0.2,
  ior: 1.5,
  anisotropy: 0,
  rotation: 0,
  transmission: 0,
  transmissionColor: [1, 1, 1],
  transmissionDepth: 0,
  transmissionScatter: [0, 0, 0],
  transmissionScatterAnisotropy: 0,
  transmissionDispersion: 0,
  transmissionExtraRoughness: 0,
  subsurface: 0,
  subsurfaceColor: [1, 1, 1],
  subsurfaceRadius: [1, 1, 1],
  subsurfaceScale: 1,
  subsurfaceAnisotropy: 0,
  sheen: 0,
  sheenColor: [1, 1, 1],
  sheenRoughness: 0.3,
  coat: 0,
  coatColor: [1, 1, 1],
  coatRoughness: 0.1,
  coatAnisotropy: 0,
  coatRotation: 0,
  coatIor: 1.5,
  coatAffectColor: 0,
  coatAffectRoughness: 0,
  thinFilmThickness: 0,
  thinFilmIor: 1.5,
  emission: 0,
  emissionColor: [1, 1, 1],
  opacity: [1, 1, 1],
  thinWalled: false,
  diffuseAndF0: null,
  baseTowardsOpenPbr: null,
  coatAsIs: null,
  specularAsIs: null,
  thinFilmWeight: null,
  thinFilmLeast: null,
  dispersion: null,
  thickness: null,
  attenuationDistance: null,
  alphaMode: null,
  alphaCutoff: null,
  ambient: null,
  occlusion: null,
  normalScale: null,
  bumpAmount: null,
  displacement: null,
  doubleSided: null,
}

/** Whether something shows through that is not the colour of all light alike, or isn't wholly there. */
export const isSeeThrough = ({ opacity }: Hub): boolean => opacity.some((one) => one !== 1)
