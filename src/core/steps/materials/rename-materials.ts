import { freeName } from '../../scene/edit-nodes.ts'
import { renamed } from '../../scene/name-pattern.ts'
import { outcome, StepRefusal, type StepDescriptor } from '../step.ts'

export const renameMaterials: StepDescriptor = {
  id: 'rename-materials',
  area: 'materials',
  title: 'Rename materials',
  description:
    'Gives materials whose name fits a pattern another one. A * stands for any letters, and in the new name for what it stood for.',
  changes: ['materials'],
  parameters: [
    { id: 'find', title: 'Names like', kind: 'text', default: '*', most: 200 },
    { id: 'to', title: 'New name', kind: 'text', default: '*', most: 200 },
  ],
  run: (context) => {
    const { scene } = context
    const [find, to] = [context.text('find'), context.text('to')]
    if (to.trim() === '') throw new StepRefusal('The new name is empty; the materials would have none.')
    const wishes = scene.materials.map(({ name }) => renamed(name, find, to))
    // who keeps a name has it, whatever others wish
    const taken = new Set(
      scene.materials.flatMap(({ name }, at) =>
        wishes[at] === null || wishes[at] === name ? [name.toLowerCase()] : [],
      ),
    )
    let changedCount = 0
    const materials = scene.materials.map((material, at) => {
      const wish = wishes[at]
      if (wish === null || wish === undefined || wish === material.name) return material
      const name = freeName(wish.trim() || material.name, taken)
      if (name === material.name) return material
      changedCount++
      return { ...material, name }
    })
    return outcome(changedCount ? { ...scene, materials } : scene, changedCount, 'materials')
  },
}
