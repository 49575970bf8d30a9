import { findZeroSize } from '../../mesh/faults/find-zero-size.ts'
import { mergePoints, removeFaces } from '../../mesh/rebuilding/edit-faces.ts'
import { createUnion } from '../../mesh/relations/adjacency.ts'
import { createMeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { changeMeshes, type StepDescriptor } from '../step.ts'

export const removeZeroSize: StepDescriptor = {
  id: 'remove-zero-size',
  area: 'clean',
  title: 'Remove polygons without area and edges without length',
  description: 'Edges without length are closed to a point; polygons that have no area are taken away.',
  changes: ['topology', 'points'],
  parameters: [],
  run: (context) =>
    changeMeshes(context, 'polygons and edges', (mesh, facts) => {
      const { edges, faces } = findZeroSize(facts)
      if (edges.length + faces.length === 0) return null
      const union = createUnion(facts.pointCount)
      for (let at = 0; at < edges.length; at += 2) union.join(edges[at]!, edges[at + 1]!)
      const target = Uint32Array.from({ length: facts.pointCount }, (_value, point) => union.rootOf(point))
      const closed = edges.length ? mergePoints(mesh, target) : mesh
      const left = findZeroSize(createMeshFacts(closed)).faces
      const gone = new Uint8Array(closed.faceOffsets.length - 1)
      for (const face of left) gone[face] = 1
      return {
        mesh: left.length ? removeFaces(closed, gone) : closed,
        changedCount: edges.length / 2 + faces.length,
        element: faces.length ? 'faces' : 'edges',
        elements: faces.length ? faces : edges,
      }
    }),
}
