import { parseMapName } from '../../image/map-sets/parse-map-name.ts'
import type { Material } from '../../scene/material.ts'
import type { Scene, SceneImage } from '../../scene/scene.ts'
import { createIdMaterials } from '../../surfaces/id-colors.ts'
import { readIdMap } from '../../surfaces/id-map.ts'
import { changeMeshes, chosenFaces, outcome, StepRefusal, type StepDescriptor } from '../step.ts'

/** The image that is meant: by its path, by the slot that a material has it on, or by its name. */
function imageOf(scene: Scene, wish: string): SceneImage | undefined {
  if (wish) return scene.images.find(({ file }) => file === wish)
  const named = scene.materials.flatMap(({ maps }) => maps).find(({ slot }) => slot === 'id')?.file
  return (
    scene.images.find(({ file }) => file === named) ??
    scene.images.find(({ file }) => parseMapName(file).meaning?.slot === 'id')
  )
}

export const materialsFromIdMap: StepDescriptor = {
  id: 'materials-from-id-map',
  area: 'materials',
  title: 'Materials from an ID map',
  description:
    'Gives polygons the material whose colour most of their pixels in an image have: one of those that “An ID map” draws, or a material of its own for each other colour, named after it. Black means none.',
  changes: ['materials', 'surfaces'],
  parameters: [
    { id: 'file', title: 'Image', kind: 'text', default: '', most: 500 },
    { id: 'set', title: 'UV set', kind: 'text', default: '', most: 200 },
  ],
  run: (context) => {
    const { scene } = context
    const wish = context.text('file').trim()
    const image = imageOf(scene, wish)
    if (!image?.bytes) {
      if (wish) throw new StepRefusal(`There is no image “${wish}” in this model.`)
      return outcome(scene, 0, 'polygons', { notes: ['This model has no ID map.'] })
    }
    const colors = readIdMap(scene, image, context.text('set').trim() || null)
    if (!colors)
      throw new StepRefusal(`“${image.file}” is no PNG that can be read, or nothing lies in this UV set.`)
    const materials: Material[] = [...scene.materials]
    const placeOf = createIdMaterials(materials)
    const done = changeMeshes(context, 'polygons', (mesh, facts, node) => {
      const own = colors[scene.nodes[node]!.mesh]!
      const chosen = chosenFaces(context, node, mesh)
      const faceMaterials = mesh.faceMaterials?.slice() ?? new Int32Array(facts.faceCount).fill(-1)
      const faces: number[] = []
      for (let face = 0; face < facts.faceCount; face++) {
        const color = own[face]
        if (!color || (chosen && !chosen[face])) continue
        const place = placeOf(color)
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
