import { removeFaces } from '../../mesh/rebuilding/edit-faces.ts'
import { findHiddenFaces } from '../../mesh/visibility/find-hidden-faces.ts'
import { worldMatrices } from '../../scene/world.ts'
import { seeThroughFaces } from '../../surfaces/see-through.ts'
import { changeMeshes, type StepDescriptor } from '../step.ts'

export const removeHidden: StepDescriptor = {
  id: 'remove-hidden',
  area: 'clean',
  title: 'Remove polygons nobody can see',
  description: 'Takes away polygons that no view from outside reaches.',
  changes: ['topology', 'points'],
  parameters: [],
  run: (context) => {
    const { scene } = context
    const worlds = worldMatrices(scene)
    // everything visible hides, whatever the step is limited to
    const shown = scene.nodes.flatMap((node, index) => (node.mesh >= 0 && node.visible ? [index] : []))
    const { faces } = findHiddenFaces(
      shown.map((node) => ({
        facts: context.factsOf(scene.meshes[scene.nodes[node]!.mesh]!),
        world: worlds[node]!,
        seeThrough: seeThroughFaces(scene, scene.meshes[scene.nodes[node]!.mesh]!),
      })),
    )
    const nodesOfMesh = new Map<number, number>()
    for (const node of scene.nodes)
      if (node.mesh >= 0) nodesOfMesh.set(node.mesh, (nodesOfMesh.get(node.mesh) ?? 0) + 1)
    return changeMeshes(context, 'polygons', (mesh, facts, node) => {
      const hidden = faces[shown.indexOf(node)] ?? []
      // of a mesh that stands in several places another one may be seen
      if (hidden.length === 0 || nodesOfMesh.get(scene.nodes[node]!.mesh)! > 1) return null
      const gone = new Uint8Array(facts.faceCount)
      for (const face of hidden) gone[face] = 1
      return {
        mesh: removeFaces(mesh, gone),
        changedCount: hidden.length,
        element: 'faces',
        elements: hidden,
      }
    })
  },
}
