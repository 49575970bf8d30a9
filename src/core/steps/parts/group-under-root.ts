import { freeName, renumberNodes } from '../../scene/edit-nodes.ts'
import { plainNode } from '../../scene/scene.ts'
import { outcome, type StepDescriptor } from '../step.ts'

export const groupUnderRoot: StepDescriptor = {
  id: 'group-under-root',
  area: 'parts',
  title: 'Group under one root',
  description: 'Puts a node above all parts that have none, without moving anything.',
  changes: ['transforms', 'names'],
  parameters: [{ id: 'name', title: 'Name of the root', kind: 'text', default: 'root', most: 200 }],
  run: (context) => {
    const { scene } = context
    const roots = scene.nodes.filter((node) => node.parent < 0).length
    if (roots < 2) return outcome(scene, 0, 'parts')
    const name = freeName(
      context.text('name') || 'root',
      new Set(scene.nodes.map((node) => node.name.toLowerCase())),
    )
    const nodes = [plainNode(name), ...scene.nodes.map((node) => ({ ...node, parent: node.parent + 1 }))]
    return outcome(
      renumberNodes(
        { ...scene, nodes },
        scene.nodes.map((_node, index) => index + 1),
      ),
      roots,
      'parts',
    )
  },
}
