import { partFans, partSides, overfull } from '../../mesh/welds/part-surfaces.ts'
import { findPinchedPoints } from '../../mesh/faults/find-pinched-points.ts'
import { createMeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { changeMeshes, type StepDescriptor } from '../step.ts'

export const splitNonManifold: StepDescriptor = {
  id: 'split-non-manifold',
  area: 'clean',
  title: 'Part surfaces that touch',
  description:
    'Where more than two polygons meet in an edge, or surfaces in a point, each surface gets points of its own. Nothing moves.',
  changes: ['topology', 'points'],
  parameters: [],
  run: (context) =>
    changeMeshes(context, 'edges and points', (_mesh, facts) => {
      const pinched = findPinchedPoints(facts)
      const edges = overfull(facts)
      if (edges + pinched.length === 0) return null
      let parted = partFans(facts)
      if (overfull(createMeshFacts(parted)) > 0)
        parted = partFans(createMeshFacts(partSides(createMeshFacts(parted))))
      const { edgeCount, edgeSides, edgePoints } = facts.edges()
      const shown: number[] = []
      for (let edge = 0; edge < edgeCount; edge++)
        if (edgeSides[edge]! > 2) shown.push(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!)
      return {
        mesh: parted,
        changedCount: edges + pinched.length,
        element: shown.length ? 'edges' : 'points',
        elements: shown.length ? shown : pinched,
      }
    }),
}
