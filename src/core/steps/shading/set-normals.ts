import { computeNormals } from '../../mesh/normals/compute-normals.ts'
import { changeMeshes, type StepDescriptor, wordChoices } from '../step.ts'

export const setNormals: StepDescriptor = {
  id: 'set-normals',
  area: 'shading',
  title: 'Normals from the smoothing',
  description: 'Makes corner normals anew from the smoothing, or takes authored ones away.',
  changes: ['normals'],
  parameters: [
    {
      id: 'mode',
      title: 'Normals',
      kind: 'choice',
      default: 'smoothing',
      choices: wordChoices('smoothing', 'none'),
    },
  ],
  run: (context) =>
    changeMeshes(context, 'corners', (mesh, facts) => {
      if (context.text('mode') === 'none')
        return mesh.normals
          ? { mesh: { ...mesh, normals: null }, changedCount: mesh.faceVertices.length }
          : null
      if (facts.faceCount === 0) return null
      return {
        mesh: { ...mesh, normals: computeNormals(mesh, null) },
        changedCount: mesh.faceVertices.length,
      }
    }),
}
