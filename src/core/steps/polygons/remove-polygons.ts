import { removeFaces } from '../../mesh/rebuilding/edit-faces.ts'
import { changeMeshes, chosenFaces, StepRefusal, type StepDescriptor } from '../step.ts'

export const removePolygons: StepDescriptor = {
  id: 'remove-polygons',
  area: 'polygons',
  title: 'Remove polygons',
  description: 'Takes the chosen polygons away, and the points that belong to no other.',
  changes: ['topology', 'points'],
  parameters: [],
  run: (context) => {
    if (!context.only) throw new StepRefusal('Choose the polygons that are to go.')
    return changeMeshes(context, 'polygons', (mesh, facts, node) => {
      const gone = chosenFaces(context, node, mesh)
      if (!gone) return null
      const faces: number[] = []
      for (let face = 0; face < facts.faceCount; face++) if (gone[face]) faces.push(face)
      if (faces.length === 0) return null
      if (faces.length === facts.faceCount)
        return {
          mesh,
          changedCount: 0,
          notes: [`“${mesh.name}” would have none left and stays: remove the part.`],
        }
      return { mesh: removeFaces(mesh, gone), changedCount: faces.length, element: 'faces', elements: faces }
    })
  },
}
