/** Relations between the measures that surface models use for one thing. */
import { BLACK, largest, mixed, scaled, type Rgb } from './rgb.ts'

/** Reflectance at normal incidence of a dielectric in air. Source: Fresnel's equations. */
export const f0OfIor = (ior: number): number => ((ior - 1) / (ior + 1)) ** 2

/** The inverse, of an index of at least 1; a reflectance of 1 has no such index, and gives what 0.9608 has: 100. */
export function iorOfF0(f0: number): number {
  const root = Math.sqrt(Math.min(Math.max(f0, 0), 1))
  return root >= 1 ? LARGEST_IOR : Math.min(LARGEST_IOR, (1 + root) / (1 - root))
}
export const LARGEST_IOR = 100

/**
 * Roughness of a Blinn-Phong exponent: alpha = sqrt(2 / (n + 2)) (Walter et al. 2007), alpha = roughness² (Karis 2013);
 * both from memory. Other relations are in use.
 */
export const roughnessOfExponent = (exponent: number): number =>
  Math.sqrt(Math.sqrt(2 / (Math.max(exponent, 0) + 2)))

export const exponentOfRoughness = (roughness: number): number =>
  roughness > 0 ? Math.max(0, 2 / roughness ** 4 - 2) : Infinity

const DIELECTRIC = 0.04
const EPSILON = 1e-6
const clamp = (value: number): number => Math.min(1, Math.max(0, value))
const brightness = ([r, g, b]: Rgb): number => Math.sqrt(0.299 * r * r + 0.587 * g * g + 0.114 * b * b)

/**
 * Diffuse and specular colour as base colour and metalness. Source: the Khronos example of converting between
 * workflows, for KHR_materials_pbrSpecularGlossiness; from memory. All colours are linear.
 */
export function toBaseAndMetalness(diffuse: Rgb, f0: Rgb): { baseColor: Rgb; metalness: number } {
  const strength = 1 - largest(f0)
  const shine = brightness(f0)
  let metalness = 0
  if (shine >= DIELECTRIC) {
    const b = (brightness(diffuse) * strength) / (1 - DIELECTRIC) + shine - 2 * DIELECTRIC
    const c = DIELECTRIC - shine
    metalness = clamp((-b + Math.sqrt(Math.max(0, b * b - 4 * DIELECTRIC * c))) / (2 * DIELECTRIC))
  }
  const fromDiffuse = scaled(diffuse, strength / (1 - DIELECTRIC) / Math.max(1 - metalness, EPSILON))
  const fromSpecular = f0.map(
    (value) => (value - DIELECTRIC * (1 - metalness)) / Math.max(metalness, EPSILON),
  ) as unknown as Rgb
  const [r, g, b] = mixed(fromDiffuse, fromSpecular, metalness * metalness)
  return { baseColor: [clamp(r), clamp(g), clamp(b)], metalness }
}

/** The other way, from the same example. */
export function toDiffuseAndF0(baseColor: Rgb, metalness: number): { diffuse: Rgb; f0: Rgb } {
  const f0 = mixed([DIELECTRIC, DIELECTRIC, DIELECTRIC], baseColor, metalness)
  const strength = 1 - largest(f0)
  const diffuse =
    strength < EPSILON ? BLACK : scaled(baseColor, ((1 - DIELECTRIC) * (1 - metalness)) / strength)
  return { diffuse, f0 }
}

/** Least square of a roughness that the published graph works with. */
const LEAST_ALPHA = 1e-8

/**
 * The two widths of an anisotropic highlight. Source: MaterialX 1.39, node `roughness_anisotropy`: the square of the
 * roughness, divided by and times an aspect of sqrt(1 - anisotropy), the anisotropy at most 0.98.
 */
export function widthsOf(roughness: number, anisotropy: number): { along: number; across: number } {
  const alpha = Math.min(1, Math.max(LEAST_ALPHA, roughness * roughness))
  if (!(anisotropy > 0)) return { along: alpha, across: alpha }
  const aspect = Math.sqrt(1 - Math.min(anisotropy, 0.98))
  return { along: Math.min(alpha / aspect, 1), across: alpha * aspect }
}

/** The inverse, for widths of which neither was cut off at 1. */
export function ofWidths(along: number, across: number): { roughness: number; anisotropy: number } {
  return {
    roughness: Math.sqrt(Math.sqrt(along * across)),
    anisotropy: along > 0 ? 1 - across / along : 0,
  }
}
