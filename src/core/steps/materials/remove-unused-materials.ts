import { usedMaterials } from '../../scene/material-use.ts'
import { outcome, type StepDescriptor } from '../step.ts'

export const removeUnusedMaterials: StepDescriptor = {
  id: 'remove-unused-materials',
  area: 'materials',
  title: 'Remove unused materials',
  description: 'Takes away materials that are on no polygon, and images that no material names any more.',
  changes: ['surfaces'],
  parameters: [],
  run: ({ scene }) => {
    const used = usedMaterials(scene)
    const unused = scene.materials.length - used.size
    if (unused === 0) return outcome(scene, 0, 'materials')
    const newOf = new Int32Array(scene.materials.length).fill(-1)
    const materials = scene.materials.filter((_material, index) => {
      if (!used.has(index)) return false
      newOf[index] = [...used].filter((other) => other < index).length
      return true
    })
    const files = new Set(materials.flatMap((material) => material.maps.map((map) => map.file)))
    const before = new Set(scene.materials.flatMap((material) => material.maps.map((map) => map.file)))
    return outcome(
      {
        ...scene,
        materials,
        // an image that no material named before stays for what it is
        images: scene.images.filter((image) => files.has(image.file) || !before.has(image.file)),
        meshes: scene.meshes.map((mesh) =>
          mesh.faceMaterials &&
          mesh.faceMaterials.some((material) => material >= 0 && newOf[material] !== material)
            ? {
                ...mesh,
                faceMaterials: mesh.faceMaterials.map((material) => (material < 0 ? -1 : newOf[material]!)),
              }
            : mesh,
        ),
      },
      unused,
      'materials',
    )
  },
}
