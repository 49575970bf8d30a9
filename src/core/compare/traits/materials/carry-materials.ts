import { type Mesh } from '../../../scene/mesh.ts'
import type { CarryMap } from '../trait.ts'

/** @param materialOf source material index to the index in the target's scene. */
export function carryMaterials(
  target: Mesh,
  source: Mesh,
  map: CarryMap,
  materialOf: (material: number) => number,
): Mesh {
  const from = source.faceMaterials
  const own = target.faceMaterials
  const faceMaterials = Int32Array.from(map.faces, (face, index) => {
    if (face < 0) return own ? own[index]! : -1
    const material = from ? from[face]! : -1
    return material < 0 ? -1 : materialOf(material)
  })
  return { ...target, faceMaterials: faceMaterials.some((material) => material >= 0) ? faceMaterials : null }
}
