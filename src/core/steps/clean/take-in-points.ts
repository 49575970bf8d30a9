import { findTJunctions } from '../../mesh/faults/find-t-junctions.ts'
import { takeablePoints, takeInPoints } from '../../mesh/rebuilding/take-in-points.ts'
import { WELD_SHARE } from '../../mesh/welds/find-welds.ts'
import { changeMeshes, chosenPoints, DISTANCE, type StepDescriptor } from '../step.ts'

export const takeInPointsStep: StepDescriptor = {
  id: 'take-in-points',
  area: 'clean',
  title: 'Take in points on edges',
  description:
    'Polygons whose edge another polygon’s point lies on take that point in, so that the crack is closed. No point moves.',
  changes: ['topology'],
  parameters: [DISTANCE],
  run: (context) =>
    changeMeshes(context, 'points', (mesh, facts, node) => {
      const distance = context.numberOrNull('distance') ?? facts.diagonal() * WELD_SHARE
      const chosen = chosenPoints(context, node, mesh)
      const found = new Map(
        [...findTJunctions(facts, distance)].map(([edge, spots]) => [
          edge,
          spots.filter(({ point }) => !chosen || chosen[point]),
        ]),
      )
      const takeable = takeablePoints(facts, found)
      const points = [...new Set([...takeable.values()].flat().map(({ point }) => point))].sort(
        (a, b) => a - b,
      )
      const all = new Set([...found.values()].flat().map(({ point }) => point)).size
      const left = all - points.length
      const notes = left
        ? [
            `${left === 1 ? 'One point' : `${left} points`} of “${mesh.name}” ${left === 1 ? 'stays' : 'stay'} beside the edge: no open edge leads there; welding first may help.`,
          ]
        : []
      if (points.length === 0) return { mesh, changedCount: 0, notes }
      return {
        mesh: takeInPoints(facts, takeable),
        changedCount: points.length,
        element: 'points',
        elements: points,
        notes,
      }
    }),
}
