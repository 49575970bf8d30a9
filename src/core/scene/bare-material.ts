import type { Material } from './material.ts'

/** A material that has nothing but its name, as a file of this model would have it. */
export const bareMaterial = (name: string, model = 'mtl'): Material => ({
  id: '',
  name,
  model,
  properties: [],
  maps: [],
  kept: [],
})

/** The place of a material by its name in a list that is being made; one that isn't there yet is put behind. */
export function placeOfMaterial(materials: Material[], name: string): number {
  const known = materials.findIndex((material) => material.name === name)
  return known >= 0 ? known : materials.push(bareMaterial(name, materials[0]?.model)) - 1
}
