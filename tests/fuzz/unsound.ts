import type { Scene } from '../../src/core/scene/scene.ts'

/** What is wrong with a scene that a reader gave; null: its numbers lead somewhere. */
export function unsound(scene: Scene): string | null {
  for (const [index, node] of scene.nodes.entries()) {
    if (node.parent >= index || node.mesh >= scene.meshes.length) return 'a node leads nowhere'
    if (!node.local.every((value) => typeof value === 'number')) return 'a matrix is none'
  }
  for (const mesh of scene.meshes) {
    const pointCount = mesh.points.length / 3
    const cornerCount = mesh.faceVertices.length
    if (mesh.faceOffsets[mesh.faceOffsets.length - 1] !== cornerCount) return 'faces don’t add up'
    for (const point of mesh.faceVertices) if (point >= pointCount) return 'a corner leads nowhere'
    for (const [indices, count] of [
      ...mesh.uvSets.map((set) => [set.indices, set.values.length / 2] as const),
      ...(mesh.normals ? [[mesh.normals.indices, mesh.normals.values.length / 3] as const] : []),
      ...mesh.colorSets.map((set) => [set.indices, set.values.length / set.components] as const),
      ...(mesh.faceMaterials ? [[mesh.faceMaterials, scene.materials.length] as const] : []),
    ])
      for (const index of indices) if (index >= count || index < -1) return 'an index leads nowhere'
    for (const shape of mesh.shapes)
      for (const point of shape.points) if (point >= pointCount) return 'a shape'
    if (mesh.skin && mesh.skin.joints.some((joint) => joint >= mesh.skin!.jointNodes.length)) return 'a skin'
  }
  return null
}
