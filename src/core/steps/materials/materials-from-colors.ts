import type { Material } from '../../scene/material.ts'
import type { ColorSet, Mesh } from '../../scene/mesh.ts'
import { createIdMaterials } from '../../surfaces/id-colors.ts'
import { changeMeshes, chosenFaces, type StepDescriptor } from '../step.ts'

export const materialsFromColors: StepDescriptor = {
  id: 'materials-from-colors',
  area: 'materials',
  title: 'Materials from colours',
  description:
    'Gives polygons the material whose colour they have: one of those that “Colours for materials” writes, or a material of its own for each other colour, named after it. A polygon of several colours takes the one that most of its corners have; black means none.',
  changes: ['materials', 'surfaces'],
  parameters: [{ id: 'set', title: 'Colour set', kind: 'text', default: '', most: 200 }],
  run: (context) => {
    const wish = context.text('set').trim()
    const materials: Material[] = [...context.scene.materials]
    const placeOf = createIdMaterials(materials)
    const done = changeMeshes(context, 'polygons', (mesh, facts, node) => {
      const set = wish ? mesh.colorSets.find(({ name }) => name === wish) : mesh.colorSets[0]
      if (!set)
        return wish && mesh.colorSets.length
          ? { mesh, changedCount: 0, notes: [`“${mesh.name}” has no colour set “${wish}”.`] }
          : null
      const chosen = chosenFaces(context, node, mesh)
      const faceMaterials = mesh.faceMaterials?.slice() ?? new Int32Array(facts.faceCount).fill(-1)
      const faces: number[] = []
      for (let face = 0; face < facts.faceCount; face++) {
        if (chosen && !chosen[face]) continue
        const color = colorOfFace(mesh, set, face)
        const place = color ? placeOf(color) : -1
        if (place < 0 || place === faceMaterials[face]) continue
        faceMaterials[face] = place
        faces.push(face)
      }
      return faces.length
        ? { mesh: { ...mesh, faceMaterials }, changedCount: faces.length, element: 'faces', elements: faces }
        : null
    })
    return done.changedCount ? { ...done, scene: { ...done.scene, materials } } : done
  },
}

/** The colour that most corners of a polygon have, in whole steps of 255; the first of those that are as many. */
function colorOfFace(mesh: Mesh, set: ColorSet, face: number): number[] | null {
  const counts = new Map<number, number>()
  for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
    const index = set.per === 'points' ? mesh.faceVertices[corner]! : set.indices[corner]!
    if (index >= 0) counts.set(index, (counts.get(index) ?? 0) + 1)
  }
  const byColor = new Map<string, { color: number[]; count: number }>()
  for (const [index, count] of counts) {
    const color = [0, 1, 2].map((at) => Math.round((set.values[index * set.components + at] ?? 0) * 255))
    const key = color.join(' ')
    byColor.set(key, { color, count: (byColor.get(key)?.count ?? 0) + count })
  }
  let best: { color: number[]; count: number } | null = null
  for (const one of byColor.values()) if (!best || one.count > best.count) best = one
  return best?.color ?? null
}
