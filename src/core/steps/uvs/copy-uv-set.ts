import { changeMeshes, StepRefusal, type StepDescriptor } from '../step.ts'
import { setNamed } from '../shared/place-on-tiles.ts'

export const copyUvSet: StepDescriptor = {
  id: 'copy-uv-set',
  area: 'uvs',
  title: 'Copy a UV set',
  description: 'A second set with the same UVs, so that one can be changed and the other stays.',
  changes: ['uvs'],
  parameters: [
    { id: 'from', title: 'From', kind: 'text', default: '', most: 200 },
    { id: 'to', title: 'Name', kind: 'text', default: 'copy', most: 200 },
  ],
  run: (context) => {
    const to = context.text('to')
    if (to === '') throw new StepRefusal('The copy needs a name.')
    return changeMeshes(context, 'UV sets', (mesh) => {
      const set = setNamed(mesh, context.text('from'))
      if (!set) return null
      if (set.name === to)
        return { mesh, changedCount: 0, notes: [`“${mesh.name}” has that set under this name.`] }
      const isThere = mesh.uvSets.some(({ name }) => name === to)
      return {
        mesh: {
          ...mesh,
          uvSets: isThere
            ? mesh.uvSets.map((own) => (own.name === to ? { ...set, name: to } : own))
            : [...mesh.uvSets, { ...set, name: to }],
        },
        changedCount: 1,
        notes: isThere ? [`“${mesh.name}” had a set “${to}”; it was replaced.`] : [],
      }
    })
  },
}
