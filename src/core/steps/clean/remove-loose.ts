import { removeFaces } from '../../mesh/rebuilding/edit-faces.ts'
import { changeMeshes, type StepDescriptor } from '../step.ts'

export const removeLoose: StepDescriptor = {
  id: 'remove-loose',
  area: 'clean',
  title: 'Remove loose points and edges',
  description: 'Takes away points and edges that belong to no polygon.',
  changes: ['topology', 'points'],
  parameters: [],
  run: (context) =>
    changeMeshes(context, 'points and edges', (mesh, facts) => {
      // a cloud of points or lines without polygons is meant as such
      if (facts.faceCount === 0) return null
      const bare = { ...mesh, lines: null, pointElements: null }
      const used = new Uint8Array(facts.pointCount)
      for (const point of mesh.faceVertices) used[point] = 1
      const loose: number[] = []
      for (let point = 0; point < used.length; point++) if (!used[point]) loose.push(point)
      const edges = mesh.lines ? mesh.lines.points.length - mesh.lines.offsets.length + 1 : 0
      if (loose.length + edges === 0) return null
      return {
        mesh: removeFaces(bare, new Uint8Array(facts.faceCount), { dropLoose: true }),
        changedCount: loose.length + edges,
        element: 'points',
        elements: loose,
      }
    }),
}
