import type { Material } from '../../scene/material.ts'
import type { Scene } from '../../scene/scene.ts'

/**
 * Every combination of groups as a material of that name in place of the materials, for formats and tools that
 * know sets of faces by their material alone. Faces in no group keep the material they have.
 */
export function groupsToMaterials(scene: Scene): Scene {
  const materials: Material[] = [...scene.materials]
  const known = new Map<string, number>()
  const materialOf = (name: string): number => {
    let material = known.get(name)
    if (material === undefined) {
      material = materials.push({ id: '', name, model: 'phong', properties: [], maps: [], kept: [] }) - 1
      known.set(name, material)
    }
    return material
  }
  const meshes = scene.meshes.map((mesh) => {
    const { groups } = mesh
    if (!groups) return mesh
    const ofSet = groups.sets.map((set) => set.map((name) => groups.names[name]!).join(' + '))
    return {
      ...mesh,
      groups: null,
      faceMaterials: Int32Array.from(groups.faceSets, (set, face) =>
        set < 0 || !ofSet[set] ? (mesh.faceMaterials?.[face] ?? -1) : materialOf(ofSet[set]),
      ),
    }
  })
  return { ...scene, meshes, materials }
}
