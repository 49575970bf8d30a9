import { findDuplicateFaces } from '../../mesh/faults/find-duplicate-faces.ts'
import { removeFaces } from '../../mesh/rebuilding/edit-faces.ts'
import { changeMeshes, type StepDescriptor } from '../step.ts'

export const removeDoubles: StepDescriptor = {
  id: 'remove-doubles',
  area: 'clean',
  title: 'Remove doubled polygons',
  description: 'Of polygons over the same points only the first stays.',
  changes: ['topology'],
  parameters: [],
  run: (context) =>
    changeMeshes(context, 'polygons', (mesh, facts) => {
      const doubled = findDuplicateFaces(facts)
      if (doubled.length === 0) return null
      const gone = new Uint8Array(facts.faceCount)
      for (const face of doubled) gone[face] = 1
      return {
        mesh: removeFaces(mesh, gone),
        changedCount: doubled.length,
        element: 'faces',
        elements: doubled,
      }
    }),
}
