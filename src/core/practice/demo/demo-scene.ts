import type { Material } from '../../scene/material.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { completeIds } from '../../scene/ids.ts'
import { EMPTY_SCENE, rootNodes, type Scene, type SceneImage } from '../../scene/scene.ts'

/** A scene of the demo: centimetres, Y up, one root node a part. */
export function demoScene(
  meshes: readonly Mesh[],
  materials: readonly Material[],
  images: readonly SceneImage[],
): Scene {
  return completeIds({
    ...EMPTY_SCENE,
    format: 'obj',
    space: { unitMeters: 0.01, upAxis: 'y', frontAxis: 'z', handedness: 'right' },
    nodes: rootNodes(meshes),
    meshes,
    materials,
    images,
  })
}
