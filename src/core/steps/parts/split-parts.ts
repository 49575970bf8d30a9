import { freeName } from '../../scene/edit-nodes.ts'
import { removeFaces } from '../../mesh/rebuilding/edit-faces.ts'
import type { SceneNode } from '../../scene/scene.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { outcome, StepRefusal, type StepDescriptor, wordChoices } from '../step.ts'

/** Parts that one part may fall into. */
const MOST_PARTS = 2000

export const splitParts: StepDescriptor = {
  id: 'split-parts',
  area: 'parts',
  title: 'Split into parts',
  description: 'Makes a part of each connected piece, material or face group.',
  changes: ['topology', 'points', 'names', 'transforms'],
  parameters: [
    {
      id: 'by',
      title: 'By',
      kind: 'choice',
      default: 'pieces',
      choices: wordChoices('pieces', 'materials', 'groups'),
    },
  ],
  run: (context) => {
    const { scene } = context
    const by = context.text('by')
    const meshes = [...scene.meshes]
    const nodes = [...scene.nodes]
    const taken = new Set(scene.nodes.map((node) => node.name.toLowerCase()))
    const added: SceneNode[] = []
    let changedCount = 0
    for (const node of context.nodes) {
      const own = scene.nodes[node]!
      const mesh = scene.meshes[own.mesh]!
      const facts = context.factsOf(mesh)
      const keys =
        by === 'pieces'
          ? facts.pieces().facePieces
          : by === 'materials'
            ? mesh.faceMaterials
            : (mesh.groups?.faceSets ?? null)
      if (!keys) continue
      const order = [...new Set(keys)]
      if (order.length < 2) continue
      if (order.length > MOST_PARTS)
        throw new StepRefusal(
          `“${own.name}” would fall into ${order.length} parts; ${MOST_PARTS} is the limit.`,
        )
      const nameOf = (key: number, at: number): string =>
        by === 'materials' && key >= 0
          ? `${own.name}_${scene.materials[key]!.name}`
          : by === 'groups' && key >= 0
            ? `${own.name}_${mesh.groups!.sets[key]!.map((name) => mesh.groups!.names[name]!).join('_')}`
            : `${own.name}_${at + 1}`
      changedCount += order.length
      order.forEach((key, at) => {
        const gone = Uint8Array.from(keys, (other) => (other === key ? 0 : 1))
        // what belongs to no face stays with the first
        const source: Mesh = at === 0 ? mesh : { ...mesh, lines: null, pointElements: null }
        const part = removeFaces(source, gone, { dropLoose: at > 0 })
        if (at === 0) {
          // other parts that show the mesh keep it whole
          const shared = scene.nodes.some(({ mesh: index }, other) => index === own.mesh && other !== node)
          if (!shared) meshes[own.mesh] = { ...part, name: own.name }
          else nodes[node] = { ...own, mesh: meshes.push({ ...part, id: '', name: own.name }) - 1 }
          return
        }
        const name = freeName(nameOf(key, at), taken)
        added.push({ ...own, id: '', name, mesh: meshes.length })
        meshes.push({ ...part, id: '', name })
      })
    }
    if (changedCount === 0) return outcome(scene, 0, 'parts')
    return outcome({ ...scene, meshes, nodes: [...nodes, ...added] }, changedCount, 'parts')
  },
}
