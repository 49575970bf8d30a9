import { findBorderWelds } from '../../mesh/welds/find-border-welds.ts'
import { mergePoints } from '../../mesh/rebuilding/edit-faces.ts'
import { countWelds, weldedPoints } from '../../mesh/welds/find-welds.ts'
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
      const target = findBorderWelds(facts, distance, chosenPoints(context, node, mesh))
      const changedCount = countWelds(target)
      return changedCount === 0
        ? null
        : { mesh: mergePoints(mesh, target), changedCount, element: 'points', elements: weldedPoints(target) }
    }),
}
