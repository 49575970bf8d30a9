import { between } from '../../uv/seams/given-seams.ts'
import type { StepDescriptor } from '../step.ts'
import { cutAndPack } from '../shared/cut-and-pack.ts'
import { MAP_SIZE, PADDING, UV_SET } from '../shared/place-on-tiles.ts'

export const islandsFromGroups: StepDescriptor = {
  id: 'islands-from-groups',
  area: 'uvs',
  title: 'An island for each face group',
  description:
    'Cuts islands where face groups meet, so that none holds polygons of two. What comes apart keeps its shape and is packed anew.',
  changes: ['uvs'],
  parameters: [UV_SET, PADDING, MAP_SIZE],
  run: (context) =>
    cutAndPack(context, (mesh, facts) => (mesh.groups ? between(facts, mesh.groups.faceSets) : null)),
}
