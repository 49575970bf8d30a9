import { addSupportLoops } from '../../mesh/cutting/support-loops.ts'
import { changeMeshes, refuseBeyond, type StepDescriptor } from '../step.ts'

export const supportLoops: StepDescriptor = {
  id: 'support-loops',
  area: 'polygons',
  title: 'Creases to support loops',
  description: 'Edges close to creased ones hold the shape where creases can’t travel; the creases go.',
  changes: ['topology', 'points', 'creases', 'normals'],
  parameters: [
    {
      id: 'sharpness',
      title: 'Creases from',
      kind: 'number',
      unit: 'sharpness',
      default: 0.5,
      min: 0,
      max: 100,
    },
    {
      id: 'share',
      title: 'Distance of the loop',
      kind: 'number',
      unit: 'share of the side',
      default: null,
      min: 0.001,
      max: 0.49,
    },
  ],
  run: (context) =>
    changeMeshes(context, 'creased edges', (mesh, facts) => {
      // at most a ring of polygons round each one, a corner of it each
      if (mesh.creases) refuseBeyond(mesh.name, facts.faceCount + 2 * mesh.faceVertices.length)
      const made = addSupportLoops(facts, {
        leastSharpness: context.number('sharpness'),
        share: context.numberOrNull('share'),
      })
      return made
        ? {
            mesh: made.mesh,
            changedCount: made.edgesHeld,
            element: 'edges',
            elements: mesh.creases!.edgePoints,
          }
        : null
    }),
}
