import { turnFlaggedFaces } from '../../mesh/rebuilding/turn-flagged-faces.ts'
import { orientOverWelds } from '../../mesh/welds/orient-over-welds.ts'
import { changeMeshes, chosenFaces, type StepDescriptor, wordChoices } from '../step.ts'

export const turnFacesStep: StepDescriptor = {
  id: 'turn-faces',
  area: 'polygons',
  title: 'Turn polygons',
  description:
    'Outward: every shell agrees with itself and faces out. All: the polygons, or those chosen, are turned over.',
  changes: ['topology', 'normals'],
  parameters: [
    {
      id: 'mode',
      title: 'Which way',
      kind: 'choice',
      default: 'outward',
      choices: wordChoices('outward', 'agree', 'all'),
    },
  ],
  run: (context) =>
    changeMeshes(context, 'polygons', (mesh, facts, node) => {
      const mode = context.text('mode')
      const chosen = chosenFaces(context, node, mesh)
      const flags = new Uint8Array(facts.faceCount)
      if (mode === 'all') flags.fill(1)
      else {
        const { against, faceShells, inward } = orientOverWelds(facts)
        for (let face = 0; face < flags.length; face++)
          flags[face] = against[face]! ^ (mode === 'outward' ? inward[faceShells[face]!]! : 0)
      }
      const turned: number[] = []
      for (let face = 0; face < flags.length; face++) {
        if (chosen && !chosen[face]) flags[face] = 0
        if (flags[face]) turned.push(face)
      }
      return turned.length === 0
        ? null
        : {
            mesh: turnFlaggedFaces(mesh, flags),
            changedCount: turned.length,
            element: 'faces',
            elements: turned,
          }
    }),
}
