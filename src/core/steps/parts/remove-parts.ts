import { dropUnusedMeshes, removeNodes } from '../../scene/edit-nodes.ts'
import { outcome, saidNames, StepRefusal, type StepDescriptor } from '../step.ts'

export const removeParts: StepDescriptor = {
  id: 'remove-parts',
  area: 'parts',
  title: 'Remove parts',
  description: 'Takes the chosen parts away; what hangs under them goes to the next part above.',
  changes: ['topology', 'points', 'names', 'transforms'],
  parameters: [],
  run: (context) => {
    const { scene, nodes } = context
    const parts = scene.nodes.filter(({ mesh }) => mesh >= 0).length
    if (nodes.length === 0) return outcome(scene, 0, 'parts')
    if (nodes.length === parts)
      throw new StepRefusal('This would take every part away: choose those that are to go.')
    const removed = dropUnusedMeshes(removeNodes(scene, new Set(nodes)))
    return outcome(removed, nodes.length, 'parts', {
      notes: [`${saidNames(nodes.map((node) => scene.nodes[node]!.name))} went.`],
    })
  },
}
