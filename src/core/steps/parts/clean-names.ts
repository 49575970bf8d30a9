import { safeName } from '../../scene/safe-name.ts'
import { freeName } from '../../scene/edit-nodes.ts'
import { outcome, type StepDescriptor } from '../step.ts'

export const cleanNames: StepDescriptor = {
  id: 'clean-names',
  area: 'parts',
  title: 'Clean up names',
  description: 'Gives every part a name of its own, of letters, digits, _ . and - only; materials likewise.',
  changes: ['names', 'materials', 'surfaces'],
  parameters: [
    {
      id: 'length',
      title: 'Longest',
      kind: 'number',
      unit: 'characters',
      default: 63,
      min: 8,
      max: 1000,
      whole: true,
    },
  ],
  run: (context) => {
    const { scene } = context
    const length = context.number('length')
    const taken = new Set<string>()
    // names that may stay are kept first, so that others make room for them
    const keepers = new Set<number>()
    scene.nodes.forEach((node, index) => {
      const key = node.name.toLowerCase()
      if (safeName(node.name, length) !== node.name || node.name === '' || taken.has(key)) return
      taken.add(key)
      keepers.add(index)
    })
    let changedCount = 0
    const meshes = [...scene.meshes]
    const nodes = scene.nodes.map((node, index) => {
      if (keepers.has(index)) return node
      const name = freeName(safeName(node.name, length - 4) || (node.mesh < 0 ? 'group' : 'part'), taken)
      changedCount++
      if (node.mesh >= 0) meshes[node.mesh] = { ...meshes[node.mesh]!, name }
      return { ...node, name }
    })
    const materialNames = new Set<string>()
    const materials = scene.materials.map((material) => {
      const name = freeName(safeName(material.name, length) || 'material', materialNames)
      if (name === material.name) return material
      changedCount++
      return { ...material, name }
    })
    return outcome(changedCount ? { ...scene, nodes, meshes, materials } : scene, changedCount, 'names')
  },
}
