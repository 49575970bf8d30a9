import type { Mesh } from '../scene/mesh.ts'
import type { Material } from '../scene/material.ts'
import type { Scene } from '../scene/scene.ts'

/** Words for how much light is held back: below 1 one sees through. The last part of a name, in small letters. */
const OPACITY = new Set(['d', 'opacity'])
/** Words for how much passes: above 0 one sees through. */
const TRANSPARENCY = new Set([
  'tr',
  'transparency',
  'transparencyfactor',
  'transmission',
  'transmissionfactor',
  'transmission_weight',
])

/**
 * Whether one may see through a material, by its opacity or by a map of it. Where words are at odds it is taken for
 * see-through: what is behind it then counts as seen.
 */
export function isSeeThrough({ properties, maps }: Material): boolean {
  if (maps.some(({ slot }) => slot === 'opacity')) return true
  return properties.some(({ name, values }) => {
    const word = (name.split('|').pop() ?? name).toLowerCase()
    const [value] = values
    if (value === undefined) return false
    return (OPACITY.has(word) && value < 1) || (TRANSPARENCY.has(word) && values.some((one) => one > 0))
  })
}

/** faceCount flags of faces that one sees through; null where there are none. */
export function seeThroughFaces(scene: Scene, mesh: Mesh): Uint8Array | null {
  if (!mesh.faceMaterials) return null
  const open = scene.materials.map(isSeeThrough)
  const flags = Uint8Array.from(mesh.faceMaterials, (material) => (open[material] ? 1 : 0))
  return flags.includes(1) ? flags : null
}
