/** What becomes of meshes that several nodes show, when what was taken differs from node to node. */
import { equalData } from '../base/math/equal-data.ts'
import type { MessageCollector } from '../base/messages/collector.ts'
import type { Mesh } from '../scene/mesh.ts'
import type { SceneNode } from '../scene/scene.ts'

/**
 * Gives every node its mesh. Nodes that showed one mesh go on showing one as long as it became the same for all of
 * them; a node for which it became another one gets a mesh of its own, and that is told.
 *
 * @param results the mesh that each node is to show, for nodes that took something.
 * @param messages gets `reconcile.own-mesh`.
 */
export function settleMeshes(
  nodes: readonly SceneNode[],
  meshes: readonly Mesh[],
  results: ReadonlyMap<number, Mesh>,
  messages: MessageCollector,
): { nodes: SceneNode[]; meshes: Mesh[] } {
  const settled = [...meshes]
  const placed = [...nodes]
  const nodesOfMesh = new Map<number, number[]>()
  nodes.forEach(({ mesh }, node) => {
    if (mesh < 0) return
    const held = nodesOfMesh.get(mesh)
    if (held) held.push(node)
    else nodesOfMesh.set(mesh, [node])
  })
  for (const [mesh, users] of nodesOfMesh) {
    const own = meshes[mesh]!
    const forms: { mesh: Mesh; nodes: number[] }[] = []
    for (const node of users) {
      const result = results.get(node) ?? own
      const form = forms.find((held) => held.mesh === result || equalData(held.mesh, result))
      if (form) form.nodes.push(node)
      else forms.push({ mesh: result, nodes: [node] })
    }
    // the mesh stays with those for which nothing changed, else with the first
    const first = forms.find((form) => form.mesh === own) ?? forms[0]!
    settled[mesh] = first.mesh
    for (const form of forms) {
      if (form === first) continue
      const place = settled.push({ ...form.mesh, id: '' }) - 1
      for (const node of form.nodes) {
        placed[node] = { ...placed[node]!, mesh: place }
        messages.add('reconcile.own-mesh', {
          name: nodes[node]!.name,
          others: users
            .filter((other) => !form.nodes.includes(other))
            .slice(0, 3)
            .map((other) => nodes[other]!.name)
            .join('”, “'),
        })
      }
    }
  }
  return { nodes: placed, meshes: settled }
}
