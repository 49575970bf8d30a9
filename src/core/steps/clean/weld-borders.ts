import { BORDER_SHARE, weldBorders as weldBordersOf } from '../../mesh/welds/weld-borders.ts'
import { changeMeshes, chosenPoints, DISTANCE, type StepDescriptor } from '../step.ts'

export const weldBorders: StepDescriptor = {
  id: 'weld-borders',
  area: 'clean',
  title: 'Weld open borders',
  description:
    'Closes gaps between open borders: points of one border go to the nearest point of another within the distance, never two of the same border together.',
  changes: ['topology', 'points'],
  parameters: [DISTANCE],
  run: (context) =>
    changeMeshes(context, 'points', (mesh, facts, node) => {
      const distance = context.numberOrNull('distance') ?? facts.diagonal() * BORDER_SHARE
      const welded = weldBordersOf(facts, distance, chosenPoints(context, node, mesh))
      return (
        welded && {
          mesh: welded.mesh,
          changedCount: welded.count,
          element: 'points',
          elements: welded.points,
        }
      )
    }),
}
