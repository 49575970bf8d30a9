import { dissolveTwoEdgePoints } from '../../mesh/rebuilding/dissolve-points.ts'
import { changeMeshes, chosenPoints, type StepDescriptor } from '../step.ts'

export const dissolveTwoEdgePointsStep: StepDescriptor = {
  id: 'dissolve-two-edge-points',
  area: 'clean',
  title: 'Dissolve points with two edges',
  description: 'Takes such points out of the two polygons that share them; creases along them stay.',
  changes: ['topology', 'points'],
  parameters: [],
  run: (context) =>
    changeMeshes(context, 'points', (mesh, facts, node) => {
      const done = dissolveTwoEdgePoints(facts, chosenPoints(context, node, mesh))
      return (
        done && {
          mesh: done.mesh,
          changedCount: done.dissolved.length,
          element: 'points',
          elements: done.dissolved,
        }
      )
    }),
}
