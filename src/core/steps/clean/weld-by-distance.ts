import { counted } from '../../base/messages/render.ts'
import { countCollapses } from '../../mesh/welds/count-collapses.ts'
import { mergePoints } from '../../mesh/rebuilding/edit-faces.ts'
import { countWelds, findWelds, weldedPoints } from '../../mesh/welds/find-welds.ts'
import { refineWelds } from '../../mesh/welds/refine-welds.ts'
import { WELD_SHARE } from '../../mesh/welds/find-welds.ts'
import { changeMeshes, chosenPoints, DISTANCE, type StepDescriptor } from '../step.ts'

export const weldByDistance: StepDescriptor = {
  id: 'weld-by-distance',
  area: 'clean',
  title: 'Weld by distance',
  description:
    'Points closer than the distance become one, the first of them stays where it is. Surfaces that would only touch stay apart.',
  changes: ['topology', 'points'],
  parameters: [DISTANCE],
  run: (context) =>
    changeMeshes(context, 'points', (mesh, facts, node) => {
      const distance = context.numberOrNull('distance') ?? facts.diagonal() * WELD_SHARE
      const target = refineWelds(
        facts,
        findWelds(facts.points(), distance, chosenPoints(context, node, mesh)),
      )
      const changedCount = countWelds(target)
      if (changedCount === 0) return null
      const { faces, edges } = countCollapses(facts, target)
      return {
        mesh: mergePoints(mesh, target),
        changedCount,
        element: 'points',
        elements: weldedPoints(target),
        warning: edges
          ? `On “${mesh.name}” this distance closes ${counted(edges, 'edge')} and takes ${counted(faces, 'polygon')} away: features would collapse.`
          : null,
      }
    }),
}
