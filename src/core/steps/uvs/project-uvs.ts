import { flatBoundsOf } from '../../base/math/box.ts'
import { worldMatrices } from '../../scene/world.ts'
import { withUvSet } from '../../uv/islands/laid-island.ts'
import { projectFaces, setFromCorners, type Projection } from '../../uv/islands/project-faces.ts'
import { upOf } from '../../uv/islands/turn-upright.ts'
import { changeMeshes, chosenFaces, type StepDescriptor } from '../step.ts'
import { NEW_SET_NAME, setNamed, UV_SET } from '../shared/place-on-tiles.ts'

export const projectUvs: StepDescriptor = {
  id: 'project-uvs',
  area: 'uvs',
  title: 'Project UVs',
  description:
    'UVs by a projection: from an axis, along the mean of the polygons’ directions, round a cylinder or a ball about the way up, or from the six sides of a box. They fill the tile and keep their proportions.',
  changes: ['uvs'],
  parameters: [
    {
      id: 'from',
      title: 'From',
      kind: 'choice',
      default: 'mean',
      choices: [
        { value: 'mean', title: 'the mean direction' },
        { value: 'x', title: 'the x axis' },
        { value: 'y', title: 'the y axis' },
        { value: 'z', title: 'the z axis' },
        { value: 'cylinder', title: 'a cylinder' },
        { value: 'sphere', title: 'a ball' },
        { value: 'box', title: 'the sides of a box' },
      ],
    },
    UV_SET,
  ],
  run: (context) =>
    changeMeshes(context, 'polygons', (mesh, facts, node) => {
      if (facts.faceCount === 0) return null
      const name = context.text('set')
      const isOwn = chosenFaces(context, node, mesh)
      const coordinates = projectFaces(
        facts,
        isOwn,
        context.text('from') as Projection,
        upOf(context.scene.space.upAxis, worldMatrices(context.scene)[node]!),
      )
      const [u0, v0, u1, v1] = flatBoundsOf([coordinates])
      const side = Math.max(u1 - u0, v1 - v0)
      if (!(side > 0)) return { mesh, changedCount: 0, notes: [`“${mesh.name}” has no size from there.`] }
      for (let at = 0; at < coordinates.length; at += 2) {
        coordinates[at] = (coordinates[at]! - u0) / side
        coordinates[at + 1] = (coordinates[at + 1]! - v0) / side
      }
      const faces: number[] = []
      for (let face = 0; face < facts.faceCount; face++) if (!isOwn || isOwn[face]) faces.push(face)
      return {
        mesh: withUvSet(
          mesh,
          setFromCorners(
            mesh.faceVertices,
            setNamed(mesh, name),
            name || (mesh.uvSets[0]?.name ?? NEW_SET_NAME),
            coordinates,
          ),
        ),
        changedCount: faces.length,
        element: 'faces',
        elements: faces,
      }
    }),
}
