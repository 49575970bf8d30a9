import { removeNodes } from '../../scene/edit-nodes.ts'
import { outcome, type StepDescriptor } from '../step.ts'

export const removeHiddenParts: StepDescriptor = {
  id: 'remove-hidden-parts',
  area: 'parts',
  title: 'Remove hidden parts',
  description: 'Takes away parts that are hidden. Versions before keep them.',
  changes: ['topology', 'points', 'names'],
  parameters: [],
  run: ({ scene, nodes }) => {
    const hidden = new Set(nodes.filter((node) => !scene.nodes[node]!.visible))
    return outcome(removeNodes(scene, hidden), hidden.size, 'parts')
  },
}
