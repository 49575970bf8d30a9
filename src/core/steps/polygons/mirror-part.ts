import { appendMeshes } from '../../mesh/rebuilding/append-meshes.ts'
import { mergePoints } from '../../mesh/rebuilding/edit-faces.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { pointCountOf } from '../../scene/mesh.ts'
import { WELD_SHARE } from '../../mesh/welds/find-welds.ts'
import { changeMeshes, refuseBeyond, type StepDescriptor, wordChoices } from '../step.ts'

export const mirrorPart: StepDescriptor = {
  id: 'mirror-part',
  area: 'polygons',
  title: 'Mirror and weld',
  description:
    'Adds the mirror image across a plane through the part’s origin and welds it to the half along the plane.',
  changes: [
    'topology',
    'points',
    'normals',
    'creases',
    'smoothing',
    'groups',
    'materials',
    'uvs',
    'colours',
    'shapes',
  ],
  parameters: [
    { id: 'axis', title: 'Across', kind: 'choice', default: 'x', choices: wordChoices('x', 'y', 'z') },
    {
      id: 'distance',
      title: 'Weld within',
      kind: 'number',
      unit: 'file unit',
      default: null,
      min: 0,
      max: 1e12,
    },
  ],
  run: (context) =>
    changeMeshes(context, 'polygons', (mesh, facts) => {
      if (facts.faceCount === 0) return null
      refuseBeyond(mesh.name, 2 * facts.faceCount)
      const axis = ['x', 'y', 'z'].indexOf(context.text('axis'))
      const reach = context.numberOrNull('distance') ?? facts.diagonal() * WELD_SHARE
      const matrix = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]
      matrix[5 * axis] = -1
      // points on the plane are put on it exactly, so that both halves meet
      const points = mesh.points.map((value, at) => (at % 3 === axis && Math.abs(value) <= reach ? 0 : value))
      const half = { ...mesh, points, skin: null, cutFrom: null }
      const whole = appendMeshes(mesh.name, [half, transformMesh(half, matrix)])
      const pointCount = pointCountOf(mesh)
      const target = Uint32Array.from({ length: 2 * pointCount }, (_value, point) =>
        point >= pointCount && points[3 * (point - pointCount) + axis] === 0 ? point - pointCount : point,
      )
      const across =
        points.some((value, at) => at % 3 === axis && value < 0) &&
        points.some((value, at) => at % 3 === axis && value > 0)
      return {
        mesh: mergePoints(whole, target),
        changedCount: facts.faceCount,
        warning: across
          ? `“${mesh.name}” lies on both sides of the plane; its mirror image will overlap it.`
          : null,
        notes: mesh.skin ? [`Skin weights of “${mesh.name}” were dropped.`] : [],
      }
    }),
}
