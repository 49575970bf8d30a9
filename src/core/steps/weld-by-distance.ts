import { mergePoints } from '../edit/edit-faces.ts'
import { countWelds, findWelds, weldedPoints } from '../edit/find-welds.ts'
import type { MeshFacts } from '../scene/mesh-facts.ts'
import { WELD_SHARE } from '../checks/settings.ts'
import { changeMeshes, chosenPoints, type StepDescriptor } from './step.ts'

/** Faces and edges that a weld takes away: what the guard warns of. */
export function countCollapses(facts: MeshFacts, target: Uint32Array): { faces: number; edges: number } {
  const { mesh } = facts
  let faces = 0
  for (let face = 0; face < facts.faceCount; face++) {
    const seen = new Set<number>()
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
      seen.add(target[mesh.faceVertices[corner]!]!)
    if (seen.size < 3) faces++
  }
  const { edgeCount, edgePoints } = facts.edges()
  const points = facts.points()
  let edges = 0
  for (let edge = 0; edge < edgeCount; edge++) {
    const a = edgePoints[2 * edge]!
    const b = edgePoints[2 * edge + 1]!
    if (target[a] !== target[b]) continue
    // an edge without length is no feature
    if ([0, 1, 2].some((axis) => points[3 * a + axis] !== points[3 * b + axis])) edges++
  }
  return { faces, edges }
}

export const weldByDistance: StepDescriptor = {
  id: 'weld-by-distance',
  area: 'clean',
  title: 'Weld by distance',
  description: 'Points closer than the distance become one. The first of them stays where it is.',
  changes: ['topology', 'points'],
  parameters: [
    {
      name: 'distance',
      title: 'Distance',
      type: 'number',
      unit: 'file unit',
      default: null,
      min: 0,
      max: 1e12,
    },
  ],
  run: (context) =>
    changeMeshes(context, 'points', (mesh, facts, node) => {
      const distance = context.numberOrNull('distance') ?? facts.diagonal() * WELD_SHARE
      const target = findWelds(facts.points(), distance, chosenPoints(context, node, mesh))
      const changedCount = countWelds(target)
      if (changedCount === 0) return null
      const { faces, edges } = countCollapses(facts, target)
      return {
        mesh: mergePoints(mesh, target),
        changedCount,
        element: 'points',
        elements: weldedPoints(target),
        warning: edges
          ? `On “${mesh.name}” this distance closes ${edges} edges and takes ${faces} polygons away: features would collapse.`
          : null,
      }
    }),
}
