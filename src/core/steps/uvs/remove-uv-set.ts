import { saidNames, changeMeshes, StepRefusal, type StepDescriptor } from '../step.ts'

export const removeUvSet: StepDescriptor = {
  id: 'remove-uv-set',
  area: 'uvs',
  title: 'Remove a UV set',
  description: 'Takes one UV set away. Maps that go by its name go by the first one then.',
  changes: ['uvs'],
  parameters: [{ id: 'set', title: 'UV set', kind: 'text', default: '', most: 200 }],
  run: (context) => {
    const name = context.text('set')
    if (name === '') throw new StepRefusal('Say which set is to go.')
    const users = context.scene.materials.filter(({ maps }) => maps.some(({ placement }) => placement?.uvSet === name))
    const done = changeMeshes(context, 'UV sets', (mesh) => {
      const rest = mesh.uvSets.filter((set) => set.name !== name)
      return rest.length === mesh.uvSets.length
        ? null
        : { mesh: { ...mesh, uvSets: rest }, changedCount: mesh.uvSets.length - rest.length }
    })
    return done.changedCount && users.length
      ? {
          ...done,
          warning: `Maps of ${saidNames(users.map((material) => material.name))} go by this set.`,
        }
      : done
  },
}
