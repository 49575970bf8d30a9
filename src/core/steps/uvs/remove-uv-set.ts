import { saidNames, changeMeshes, type StepDescriptor } from '../step.ts'

export const removeUvSet: StepDescriptor = {
  id: 'remove-uv-set',
  area: 'uvs',
  title: 'Remove a UV set',
  description:
    'Takes one UV set away by its name; with no name all but the first. Maps that go by its name go by the first one then.',
  changes: ['uvs'],
  parameters: [{ id: 'set', title: 'UV set', kind: 'text', default: '', most: 200 }],
  run: (context) => {
    const name = context.text('set')
    const gone = new Set<string>()
    const done = changeMeshes(context, 'UV sets', (mesh) => {
      const rest = mesh.uvSets.filter((set, at) => (name === '' ? at === 0 : set.name !== name))
      if (rest.length === mesh.uvSets.length) return null
      for (const set of mesh.uvSets) if (!rest.includes(set)) gone.add(set.name)
      return { mesh: { ...mesh, uvSets: rest }, changedCount: mesh.uvSets.length - rest.length }
    })
    const users = context.scene.materials.filter(({ maps }) =>
      maps.some(({ placement }) => placement && gone.has(placement.uvSet)),
    )
    return users.length
      ? {
          ...done,
          warning: `Maps of ${saidNames(users.map((material) => material.name))} go by what was removed.`,
        }
      : done
  },
}
