import { axisIndex, sceneBounds } from '../../scene/scene-size.ts'
import { isIdentity } from '../../base/math/matrix.ts'
import { outcome, type StepDescriptor } from '../step.ts'

export const toFloor: StepDescriptor = {
  id: 'to-floor',
  area: 'scene',
  title: 'Put on the floor',
  description: 'Moves the whole model straight up or down until its lowest point is on the floor.',
  changes: ['points', 'transforms'],
  parameters: [],
  run: ({ scene }) => {
    const box = sceneBounds(scene)
    if (!box) return outcome(scene, 0, 'parts')
    const up = axisIndex(scene.space.upAxis)
    const by = scene.space.upAxis.startsWith('-') ? -box.max[up] : -box.min[up]
    if (by === 0) return outcome(scene, 0, 'parts')
    const baked = scene.nodes.every((node) => isIdentity(node.local))
    // where nothing has a transform none is brought in
    if (baked)
      return outcome(
        {
          ...scene,
          meshes: scene.meshes.map((mesh) => ({
            ...mesh,
            points: mesh.points.map((value, at) => (at % 3 === up ? value + by : value)),
          })),
        },
        scene.meshes.length,
        'parts',
      )
    return outcome(
      {
        ...scene,
        nodes: scene.nodes.map((node) =>
          node.parent >= 0
            ? node
            : {
                ...node,
                local: node.local.map((value, at) => (at === 12 + up ? value + by : value)),
                transform: null,
              },
        ),
      },
      scene.nodes.filter((node) => node.parent < 0).length,
      'parts',
    )
  },
}
