import { cornerCountOf, faceCountOf } from '../../scene/mesh.ts'
import type { CheckDescriptor } from '../check.ts'

export const polygonCount: CheckDescriptor = {
  id: 'polygon-count',
  area: 'mesh',
  scope: 'scene',
  title: 'Polygons against the budget',
  why: 'A real-time scene shares its frame among everything in it; a prop over its budget takes from the others.',
  reads: ['meshes', 'nodes'],
  problems: {
    over: {
      severity: 'warning',
      text: '{count} [triangle|triangles], {over} more than the budget of {budget}.',
    },
  },
  run({ scene, settings }, report) {
    if (settings.triangleBudget === null) return
    let triangles = 0
    for (const node of scene.nodes)
      if (node.mesh >= 0) {
        const mesh = scene.meshes[node.mesh]!
        triangles += cornerCountOf(mesh) - 2 * faceCountOf(mesh)
      }
    if (triangles > settings.triangleBudget)
      report({
        problem: 'over',
        count: triangles,
        parameters: { over: triangles - settings.triangleBudget, budget: settings.triangleBudget },
      })
  },
}
