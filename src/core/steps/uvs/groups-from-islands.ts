import { counted } from '../../base/messages/render.ts'
import { groupFaces } from '../../mesh/relations/group-faces.ts'
import { findIslands } from '../../uv/find-islands.ts'
import { changeMeshes, type StepDescriptor } from '../step.ts'
import { setNamed, UV_SET } from '../shared/place-on-tiles.ts'

export const groupsFromIslands: StepDescriptor = {
  id: 'groups-from-islands',
  area: 'uvs',
  title: 'A face group for each island',
  description: 'Face groups that are the islands of a UV set. Old groups go.',
  changes: ['groups'],
  parameters: [UV_SET, { id: 'name', title: 'Names begin with', kind: 'text', default: 'island', most: 200 }],
  run: (context) =>
    changeMeshes(context, 'polygons', (mesh, facts) => {
      const set = setNamed(mesh, context.text('set'))
      if (!set)
        return facts.faceCount
          ? { mesh, changedCount: 0, notes: [`“${mesh.name}” has no such UVs, so it has no islands.`] }
          : null
      const groups = groupFaces(
        findIslands(mesh, set).faceIslands,
        (_key, order) => `${context.text('name') || 'island'}_${order + 1}`,
      )
      return {
        mesh: { ...mesh, groups },
        changedCount: facts.faceCount,
        notes: [`“${mesh.name}” has ${counted(groups.names.length, 'group')} now.`],
      }
    }),
}
