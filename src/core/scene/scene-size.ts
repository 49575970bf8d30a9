/** How large a scene is in its world. */
import { boundsOf, joinBoxes, type Box } from '../base/math/box.ts'
import { remember } from '../base/remembering/remember.ts'
import { isIdentity, transformPoints } from '../base/math/matrix.ts'
import { worldMatrices } from './world.ts'
import type { Scene } from './scene.ts'

/** World bounds of everything with a mesh, the file's unit. */
export const sceneBounds = remember((scene: Scene): Box | null => {
  const worlds = worldMatrices(scene)
  return scene.nodes.reduce<Box | null>((box, node, index) => {
    if (node.mesh < 0) return box
    const { points } = scene.meshes[node.mesh]!
    return joinBoxes(
      box,
      boundsOf(isIdentity(worlds[index]!) ? points : transformPoints(points, worlds[index]!)),
    )
  }, null)
})

/** 0, 1 or 2 for x, y or z of either sign. */
export const axisIndex = (axis: string): 0 | 1 | 2 => (axis.endsWith('x') ? 0 : axis.endsWith('y') ? 1 : 2)

/** Height along the scene's up axis, the file's unit; null for an empty scene. */
export function sceneHeight(scene: Scene): number | null {
  const box = sceneBounds(scene)
  const up = axisIndex(scene.space.upAxis)
  return box ? box.max[up] - box.min[up] : null
}
