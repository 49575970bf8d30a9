import { changeMeshes, chosenFaces, StepRefusal, type StepDescriptor } from '../step.ts'

export const assignMaterial: StepDescriptor = {
  id: 'assign-material',
  area: 'materials',
  title: 'Give polygons a material',
  description:
    'Puts a material on polygons that have none, or on all: the one named, or the one most used on the part. Of chosen polygons, islands, groups or parts on these alone.',
  changes: ['materials', 'surfaces'],
  parameters: [
    { id: 'name', title: 'Material', kind: 'text', default: null, most: 200 },
    { id: 'replaces', title: 'Also in place of another', kind: 'boolean', default: false },
  ],
  run: (context) => {
    const replaces = context.flag('replaces')
    const name = context.text('name')
    const named = name ? context.scene.materials.findIndex((material) => material.name === name) : -1
    if (name && named < 0) throw new StepRefusal(`There is no material “${name}” in this model.`)
    return changeMeshes(context, 'polygons', (mesh, facts, node) => {
      const chosen = chosenFaces(context, node, mesh)
      const own = mesh.faceMaterials ?? new Int32Array(facts.faceCount).fill(-1)
      const counts = new Map<number, number>()
      for (const material of own) if (material >= 0) counts.set(material, (counts.get(material) ?? 0) + 1)
      const wanted =
        named >= 0 ? named : ([...counts].sort((a, b) => b[1] - a[1] || a[0] - b[0])[0]?.[0] ?? -1)
      if (wanted < 0) return null
      const bare: number[] = []
      for (let face = 0; face < own.length; face++)
        if ((own[face]! < 0 || (replaces && own[face] !== wanted)) && (!chosen || chosen[face]))
          bare.push(face)
      if (bare.length === 0) return null
      const faceMaterials = own.slice()
      for (const face of bare) faceMaterials[face] = wanted
      return { mesh: { ...mesh, faceMaterials }, changedCount: bare.length, element: 'faces', elements: bare }
    })
  },
}
