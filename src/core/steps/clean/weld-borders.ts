import { weldBorders as weldBordersOf } from '../../mesh/welds/weld-borders.ts'
import { changeMeshes, chosenPoints, type StepDescriptor } from '../step.ts'

/** Share of the diagonal within which borders are taken to belong together where no distance is given. */
const BORDER_SHARE = 1e-3

export const weldBorders: StepDescriptor = {
  id: 'weld-borders',
  area: 'clean',
  title: 'Weld open borders',
  description:
    'Closes gaps between open borders: points of one border go to the nearest point of another within the distance, never two of the same border together.',
  changes: ['topology', 'points'],
  parameters: [
    {
      id: 'distance',
      title: 'Distance',
      kind: 'number',
      unit: 'file unit',
      default: null,
      min: 0,
      max: 1e12,
    },
  ],
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
