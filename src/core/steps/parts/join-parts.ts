import { appendMeshes } from '../../mesh/rebuilding/append-meshes.ts'
import { placeNodes, removeNodes } from '../../scene/edit-nodes.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { faceCountOf } from '../../scene/mesh.ts'
import { IDENTITY_MATRIX } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import { outcome, refuseBeyond, type StepDescriptor } from '../step.ts'

export const joinParts: StepDescriptor = {
  id: 'join-parts',
  area: 'parts',
  title: 'Join parts',
  description: 'Makes one part of all, or of those chosen; nothing is welded. The first one’s name stays.',
  changes: ['topology', 'points', 'names', 'transforms', 'normals'],
  parameters: [{ id: 'name', title: 'Name', kind: 'text', default: null, most: 200 }],
  run: (context) => {
    const { scene, nodes } = context
    if (nodes.length < 2) return outcome(scene, 0, 'parts')
    const faces = nodes.map((node) => faceCountOf(scene.meshes[scene.nodes[node]!.mesh]!))
    refuseBeyond(
      scene.nodes[nodes[0]!]!.name,
      faces.reduce((sum, count) => sum + count, 0),
    )
    const worlds = worldMatrices(scene)
    const [first] = nodes
    const name = context.text('name') || scene.nodes[first!]!.name
    const whole = appendMeshes(
      name,
      nodes.map((node) => transformMesh(scene.meshes[scene.nodes[node]!.mesh]!, worlds[node]!)),
    )
    const dropped = nodes.some((node) => scene.meshes[scene.nodes[node]!.mesh]!.skin)
    const standing = placeNodes(
      scene,
      worlds.map((world, node) => (node === first ? IDENTITY_MATRIX : world)),
    )
    const joined = {
      ...standing,
      meshes: [...standing.meshes, whole],
      nodes: standing.nodes.map((node, index) =>
        index === first ? { ...node, name, mesh: standing.meshes.length } : node,
      ),
    }
    return outcome(removeNodes(joined, new Set(nodes.slice(1))), nodes.length, 'parts', {
      notes: dropped ? ['Skin weights were dropped; bind the part again.'] : [],
    })
  },
}
