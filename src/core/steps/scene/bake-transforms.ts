import { dropUnusedMeshes, placeNodes } from '../../scene/edit-nodes.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { isIdentity } from '../../base/math/matrix.ts'
import { IDENTITY_MATRIX } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import { outcome, type StepDescriptor } from '../step.ts'

export const bakeTransforms: StepDescriptor = {
  id: 'bake-transforms',
  area: 'scene',
  title: 'Bake transforms',
  description:
    'Puts move, turn and scale into the points; the parts stay where they are and their transforms are none.',
  changes: ['points', 'transforms', 'normals', 'topology', 'shapes'],
  parameters: [],
  run: (context) => {
    const { scene } = context
    const worlds = worldMatrices(scene)
    const moved = context.nodes.filter((node) => !isIdentity(worlds[node]!))
    if (moved.length === 0) return outcome(scene, 0, 'parts')
    const all = context.nodes.length === scene.nodes.filter((node) => node.mesh >= 0).length
    const chosen = new Set(moved)
    // with everything baked, groups and roots have nothing left to say either
    const standing = placeNodes(
      scene,
      worlds.map((world, node) =>
        chosen.has(node) || (all && scene.nodes[node]!.mesh < 0) ? IDENTITY_MATRIX : world,
      ),
    )
    const meshes = [...standing.meshes]
    const nodes = standing.nodes.map((node, index) => {
      if (!chosen.has(index)) return node
      const mesh = transformMesh(scene.meshes[node.mesh]!, worlds[index]!)
      meshes.push(mesh)
      return { ...node, mesh: meshes.length - 1, local: standing.nodes[index]!.local }
    })
    // a part that stood alone keeps its place in the list
    const users = new Map<number, number>()
    for (const node of scene.nodes) if (node.mesh >= 0) users.set(node.mesh, (users.get(node.mesh) ?? 0) + 1)
    const settled = nodes.map((node, index) => {
      const before = scene.nodes[index]!.mesh
      if (!chosen.has(index) || users.get(before) !== 1) return node
      meshes[before] = meshes[node.mesh]!
      return { ...node, mesh: before }
    })
    return outcome(dropUnusedMeshes({ ...standing, meshes, nodes: settled }), moved.length, 'parts', {
      places: moved.map((node) => ({ node, element: 'points' as const, elements: new Uint32Array(0) })),
    })
  },
}
