import { placeOfMaterial } from '../../scene/bare-material.ts'
import type { Material } from '../../scene/material.ts'
import { changeMeshes, chosenFaces, type StepDescriptor } from '../step.ts'

export const materialsFromGroups: StepDescriptor = {
  id: 'materials-from-groups',
  area: 'materials',
  title: 'A material for each face group',
  description:
    'Gives the polygons of each face group the material of its name. It is made, with nothing but its name, where there is none. A polygon of several groups takes the first; those of none keep theirs.',
  changes: ['materials', 'surfaces'],
  parameters: [],
  run: (context) => {
    const materials: Material[] = [...context.scene.materials]
    const done = changeMeshes(context, 'polygons', (mesh, facts, node) => {
      if (!mesh.groups) return null
      const chosen = chosenFaces(context, node, mesh)
      const faceMaterials = mesh.faceMaterials?.slice() ?? new Int32Array(facts.faceCount).fill(-1)
      const faces: number[] = []
      for (let face = 0; face < facts.faceCount; face++) {
        const set = mesh.groups.faceSets[face]!
        const group = set < 0 ? undefined : mesh.groups.sets[set]![0]
        if (group === undefined || (chosen && !chosen[face])) continue
        const material = placeOfMaterial(materials, mesh.groups.names[group]!)
        if (faceMaterials[face] === material) continue
        faceMaterials[face] = material
        faces.push(face)
      }
      return faces.length
        ? { mesh: { ...mesh, faceMaterials }, changedCount: faces.length, element: 'faces', elements: faces }
        : null
    })
    return done.changedCount ? { ...done, scene: { ...done.scene, materials } } : done
  },
}
