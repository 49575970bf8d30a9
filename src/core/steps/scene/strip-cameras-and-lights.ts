import { removeNodes } from '../../scene/edit-nodes.ts'
import { outcome, type StepDescriptor } from '../step.ts'

export const stripCamerasAndLights: StepDescriptor = {
  id: 'strip-cameras-and-lights',
  area: 'scene',
  title: 'Strip cameras and lights',
  description: 'Takes away cameras, lights, and the nodes that carried nothing else.',
  changes: ['scene', 'transforms', 'names'],
  parameters: [],
  run: ({ scene }) => {
    const count = scene.cameras.length + scene.lights.length
    if (count === 0) return outcome(scene, 0, 'cameras and lights')
    const parents = new Set(scene.nodes.map((node) => node.parent))
    const gone = new Set(
      [...scene.cameras, ...scene.lights]
        .map((item) => item.node)
        .filter((node) => node >= 0 && scene.nodes[node]!.mesh < 0 && !parents.has(node)),
    )
    return outcome({ ...removeNodes(scene, gone), cameras: [], lights: [] }, count, 'cameras and lights')
  },
}
