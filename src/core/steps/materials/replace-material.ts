import { bareMaterial } from '../../scene/bare-material.ts'
import { changeMeshes, chosenFaces, StepRefusal, type StepDescriptor } from '../step.ts'

export const replaceMaterial: StepDescriptor = {
  id: 'replace-material',
  area: 'materials',
  title: 'Replace a material',
  description:
    'Gives the polygons of one material another one. It is made, with nothing but its name, where there is none of that name.',
  changes: ['materials', 'surfaces'],
  parameters: [
    { id: 'from', title: 'In place of', kind: 'text', default: null, most: 200 },
    { id: 'to', title: 'Material', kind: 'text', default: null, most: 200 },
  ],
  run: (context) => {
    const { scene } = context
    const [from, to] = [context.text('from'), context.text('to').trim()]
    if (!from || !to) throw new StepRefusal('Say both materials.')
    const old = scene.materials.findIndex(({ name }) => name === from)
    if (old < 0) throw new StepRefusal(`There is no material “${from}” in this model.`)
    const known = scene.materials.findIndex(({ name }) => name === to)
    const place = known < 0 ? scene.materials.length : known
    const materials =
      known < 0 ? [...scene.materials, bareMaterial(to, scene.materials[old]!.model)] : scene.materials
    const done = changeMeshes(context, 'polygons', (mesh, _facts, node) => {
      if (!mesh.faceMaterials || place === old) return null
      const chosen = chosenFaces(context, node, mesh)
      const faces: number[] = []
      const faceMaterials = mesh.faceMaterials.map((material, face) => {
        if (material !== old || (chosen && !chosen[face])) return material
        faces.push(face)
        return place
      })
      return faces.length
        ? { mesh: { ...mesh, faceMaterials }, changedCount: faces.length, element: 'faces', elements: faces }
        : null
    })
    return done.changedCount > 0
      ? {
          ...done,
          scene: { ...done.scene, materials },
          notes: known < 0 ? [...done.notes, `“${to}” is new; it has only its name so far.`] : done.notes,
        }
      : done
  },
}
