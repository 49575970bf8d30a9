import { changeMeshes, type StepDescriptor } from '../step.ts'

export const renameUvSet: StepDescriptor = {
  id: 'rename-uv-set',
  area: 'uvs',
  title: 'Name the UV set',
  description: 'Gives the first UV set a name, and takes further ones away if wanted.',
  changes: ['uvs'],
  parameters: [
    { id: 'name', title: 'Name', kind: 'text', default: 'uv', most: 200 },
    { id: 'onlyFirst', title: 'Take further sets away', kind: 'boolean', default: false },
  ],
  run: (context) =>
    changeMeshes(context, 'UV sets', (mesh) => {
      const [first, ...rest] = mesh.uvSets
      if (!first) return null
      const name = context.text('name') || first.name
      const dropped = context.flag('onlyFirst') ? rest.length : 0
      if (first.name === name && dropped === 0) return null
      return {
        mesh: { ...mesh, uvSets: [{ ...first, name }, ...(dropped ? [] : rest)] },
        changedCount: dropped + (first.name === name ? 0 : 1),
      }
    }),
}
