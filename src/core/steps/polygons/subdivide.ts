import { subdivideMesh, subdividedFaceCount } from '../../mesh/subdividing/subdivide-mesh.ts'
import { UV_MODES, type UvMode } from '../../mesh/subdividing/subdivide-catmull-clark.ts'
import { changeMeshes, StepRefusal, wordChoices, type StepDescriptor } from '../step.ts'

/** Faces of one part after subdividing; more than a file of today's tools takes. */
const MOST_FACES = 20000000

export const subdivide: StepDescriptor = {
  id: 'subdivide',
  area: 'polygons',
  title: 'Subdivide',
  description: 'Catmull-Clark subdivision; creases hold, and keep what sharpness is left.',
  changes: ['topology', 'points', 'uvs', 'normals', 'creases', 'smoothing', 'colours', 'shapes'],
  parameters: [
    { id: 'levels', title: 'Levels', kind: 'number', default: 1, min: 1, max: 5, whole: true },
    { id: 'uvs', title: 'UVs', kind: 'choice', default: 'corners-1', choices: wordChoices(...UV_MODES) },
    { id: 'sharpCorners', title: 'Corners of borders stay', kind: 'boolean', default: true },
  ],
  run: (context) =>
    changeMeshes(context, 'polygons', (mesh, facts) => {
      const levels = context.number('levels')
      if (facts.faceCount === 0) return null
      const faces = subdividedFaceCount(mesh, levels)
      if (faces > MOST_FACES)
        throw new StepRefusal(
          `“${mesh.name}” would have ${faces.toLocaleString('en-US')} polygons; ${MOST_FACES.toLocaleString('en-US')} is the limit.`,
        )
      return {
        mesh: subdivideMesh(mesh, {
          levels,
          uvMode: context.text('uvs') as UvMode,
          sharpCorners: context.flag('sharpCorners'),
        }),
        changedCount: facts.faceCount,
        notes: mesh.skin ? [`Skin weights of “${mesh.name}” were dropped; bind it again.`] : [],
      }
    }),
}
