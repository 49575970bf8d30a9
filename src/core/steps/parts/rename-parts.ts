import { freeName } from '../../scene/edit-nodes.ts'
import { outcome, StepRefusal, type StepDescriptor } from '../step.ts'

export const renameParts: StepDescriptor = {
  id: 'rename-parts',
  area: 'parts',
  title: 'Rename by pattern',
  description:
    'Replaces a text in the names, then puts them into a pattern, in which <name> stands for the name and <number> for a running number.',
  changes: ['names'],
  parameters: [
    { id: 'find', title: 'Find', kind: 'text', default: '', most: 200 },
    { id: 'replace', title: 'Replace with', kind: 'text', default: '', most: 200 },
    { id: 'pattern', title: 'Pattern', kind: 'text', default: '<name>', most: 200 },
    {
      id: 'digits',
      title: 'Digits of the number',
      kind: 'number',
      default: 2,
      min: 1,
      max: 8,
      whole: true,
    },
  ],
  run: (context) => {
    const { scene } = context
    const find = context.text('find')
    const pattern = context.text('pattern')
    if (pattern.trim() === '') throw new StepRefusal('The pattern is empty; the parts would have no names.')
    const chosen = new Set(context.nodes)
    const taken = new Set(
      scene.nodes.flatMap((node, index) => (chosen.has(index) ? [] : [node.name.toLowerCase()])),
    )
    const meshes = [...scene.meshes]
    let number = 0
    let changedCount = 0
    const nodes = scene.nodes.map((node, index) => {
      if (!chosen.has(index)) return node
      number++
      const replaced = find === '' ? node.name : node.name.split(find).join(context.text('replace'))
      const name = freeName(
        pattern
          .replaceAll('<name>', replaced)
          .replaceAll('<number>', String(number).padStart(context.number('digits'), '0')),
        taken,
      )
      if (name === node.name) return node
      changedCount++
      meshes[node.mesh] = { ...meshes[node.mesh]!, name }
      return { ...node, name }
    })
    return outcome(changedCount ? { ...scene, nodes, meshes } : scene, changedCount, 'parts')
  },
}
