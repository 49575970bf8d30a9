import { restorePolygons } from '../../mesh/cutting/restore-polygons.ts'
import { changeMeshes, type StepDescriptor } from '../step.ts'

export const restorePolygonsStep: StepDescriptor = {
  id: 'restore-polygons',
  area: 'polygons',
  title: 'Put cut polygons together',
  description: 'Undoes cutting into triangles where that was done here: the polygons are as they were.',
  changes: ['topology'],
  parameters: [],
  run: (context) =>
    changeMeshes(context, 'polygons', (mesh) => {
      const { mesh: whole, restored } = restorePolygons(mesh)
      return restored ? { mesh: whole, changedCount: restored } : null
    }),
}
