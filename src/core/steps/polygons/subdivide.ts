import { subdivideMesh, subdividedFaceCount } from '../../mesh/subdividing/subdivide-mesh.ts'
import { UV_MODES, type UvMode } from '../../mesh/subdividing/subdivide-catmull-clark.ts'
import { changeMeshes, refuseBeyond, type StepDescriptor } from '../step.ts'

/** The rules by which UVs follow, as an artist reads them. */
const UV_WORDS: Readonly<Record<UvMode, string>> = {
  none: 'all smoothed',
  corners: 'corners stay',
  'corners-1': 'corners, crossings stay',
  'corners-2': 'and ends of seams stay',
  boundaries: 'borders stay',
  all: 'not smoothed',
}

export const subdivide: StepDescriptor = {
  id: 'subdivide',
  area: 'polygons',
  title: 'Subdivide',
  description: 'Catmull-Clark subdivision; creases hold, and keep what sharpness is left.',
  changes: ['topology', 'points', 'uvs', 'normals', 'creases', 'smoothing', 'colours', 'shapes'],
  parameters: [
    { id: 'levels', title: 'Levels', kind: 'number', default: 1, min: 1, max: 5, whole: true },
    {
      id: 'uvs',
      title: 'UVs',
      kind: 'choice',
      default: 'corners-1',
      choices: UV_MODES.map((value) => ({ value, title: UV_WORDS[value] })),
    },
    { id: 'sharpCorners', title: 'Corners of borders stay', kind: 'boolean', default: true },
  ],
  run: (context) =>
    changeMeshes(context, 'polygons', (mesh, facts) => {
      const levels = context.number('levels')
      if (facts.faceCount === 0) return null
      refuseBeyond(mesh.name, subdividedFaceCount(mesh, levels))
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
