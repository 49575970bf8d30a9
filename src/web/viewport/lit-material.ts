/** A glTF material as three draws it, physically based. */
import * as THREE from 'three'
import type { SurfaceValue, SurfaceValues } from '../../core/surfaces/model.ts'

const num = (value: SurfaceValue | undefined, otherwise = 0): number =>
  typeof value === 'number' ? value : otherwise
const colorOf = (value: SurfaceValue | undefined, otherwise = 0): THREE.Color => {
  const [r = otherwise, g = otherwise, b = otherwise] = Array.isArray(value) ? (value as number[]) : []
  return new THREE.Color(r, g, b)
}
const isAbove = (value: SurfaceValue | undefined, standard: number): boolean =>
  num(value, standard) > standard
const isBright = (value: SurfaceValue | undefined): boolean =>
  Array.isArray(value) && (value as number[]).some((one) => one > 0)

/** What is there and isn't drawn as it is meant: by three's material, or by how it is used here. In words for the artist. */
export function notDrawnOf(values: SurfaceValues): string[] {
  const told: string[] = []
  if (isAbove(values['transmission'], 0))
    told.push('light that passes through: drawn as see-through, without bending')
  if (isAbove(values['dispersion'], 0)) told.push('light split into its colours')
  if (isAbove(values['diffuse_transmission'], 0)) told.push('light that a thin wall lets through scattered')
  if (isAbove(values['ior'], 2.333)) told.push('an index of refraction above 2.333')
  return told
}

/** @param values of the glTF model; what is left out has its standard. */
export function litMaterial(values: SurfaceValues): THREE.MeshPhysicalMaterial {
  const material = new THREE.MeshPhysicalMaterial({
    color: colorOf(values['base_color'], 1),
    metalness: num(values['metallic'], 1),
    roughness: num(values['roughness'], 1),
    ior: Math.min(2.333, Math.max(1, num(values['ior'], 1.5))),
    specularIntensity: num(values['specular'], 1),
    specularColor: colorOf(values['specular_color'], 1),
    clearcoat: num(values['clearcoat']),
    clearcoatRoughness: num(values['clearcoat_roughness']),
    sheen: isBright(values['sheen_color']) ? 1 : 0,
    sheenColor: colorOf(values['sheen_color']),
    sheenRoughness: num(values['sheen_roughness']),
    anisotropy: num(values['anisotropy_strength']),
    anisotropyRotation: num(values['anisotropy_rotation']),
    iridescence: num(values['iridescence']),
    iridescenceIOR: num(values['iridescence_ior'], 1.3),
    iridescenceThicknessMinimum: num(values['iridescence_thickness_minimum'], 100),
    iridescenceThicknessMaximum: num(values['iridescence_thickness'], 100),
    emissive: colorOf(values['emissive']),
    emissiveIntensity: num(values['emissive_strength'], 1),
  })
  // light that passes is drawn as what lies behind showing through: nothing bends it here
  const mode = String(values['alpha_mode'] ?? 'BLEND').toUpperCase()
  const alpha = mode === 'OPAQUE' ? 1 : Math.min(1, num(values['alpha'], 1))
  const through = alpha * (1 - 0.7 * num(values['transmission']))
  if (mode === 'MASK') material.alphaTest = num(values['alpha_cutoff'], 0.5)
  if (through < 1 && mode !== 'MASK') material.transparent = true
  material.opacity = through
  return material
}
