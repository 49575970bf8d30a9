/** Where a scene's materials are used. */
import type { Scene } from './scene.ts'

/** Materials that some face has. */
export function usedMaterials(scene: Scene): Set<number> {
  const used = new Set<number>()
  for (const mesh of scene.meshes)
    for (const material of mesh.faceMaterials ?? []) if (material >= 0) used.add(material)
  return used
}

/** Nodes whose mesh has a face of the material. */
export const nodesWithMaterial = (scene: Scene, material: number): number[] =>
  scene.nodes.flatMap((node, index) =>
    node.mesh >= 0 && scene.meshes[node.mesh]!.faceMaterials?.includes(material) ? [index] : [],
  )
