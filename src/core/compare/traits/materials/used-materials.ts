import type { Mesh } from '../../../scene/mesh.ts'

/** Indices of the materials that a mesh's faces use, by first use. */
export function usedMaterials(mesh: Mesh): number[] {
  const used: number[] = []
  if (!mesh.faceMaterials) return used
  const seen = new Set<number>()
  for (const material of mesh.faceMaterials)
    if (material >= 0 && !seen.has(material)) {
      seen.add(material)
      used.push(material)
    }
  return used
}
