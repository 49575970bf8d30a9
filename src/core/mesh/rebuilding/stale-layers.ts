import type { KeptLayer, Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'

/**
 * `after` without the layers that no longer say what they said: those over polygons or points that got other
 * numbers, and directions (tangents, binormals) of surfaces or UVs that changed. A step that carries a layer
 * along makes a new list of layers, which is trusted.
 */
export function dropStaleLayers(before: Scene, after: Scene): Scene {
  if (before.meshes === after.meshes) return after
  const ownerOf = new Map<readonly KeptLayer[], Mesh>()
  for (const mesh of before.meshes) if (mesh.layers) ownerOf.set(mesh.layers, mesh)
  if (ownerOf.size === 0) return after
  let changed = false
  const meshes = after.meshes.map((mesh) => {
    const owner = mesh.layers && ownerOf.get(mesh.layers)
    if (!owner || owner === mesh) return mesh
    const sameNumbers = owner.faceVertices === mesh.faceVertices && owner.faceOffsets === mesh.faceOffsets
    const sameSurface =
      owner.points === mesh.points && owner.normals === mesh.normals && owner.uvSets === mesh.uvSets
    if (sameNumbers && sameSurface) return mesh
    changed = true
    const { layers, ...rest } = mesh
    const kept = sameNumbers ? layers!.filter((layer) => layer.width !== 3) : []
    return kept.length ? { ...rest, layers: kept } : rest
  })
  return changed ? { ...after, meshes } : after
}
