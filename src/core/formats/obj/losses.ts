/** What OBJ has no statements for: said on writing, whatever of it a scene holds. */
import { isIdentity } from '../../base/math/matrix.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene, SceneNode } from '../../scene/scene.ts'
import { inMtlWords } from './mtl-words.ts'
import type { ObjWriteOptions } from './options.ts'

/** Of a part that is written, as the end of a sentence that begins with what can't be carried. */
export function lossesOfPart(node: SceneNode, mesh: Mesh, settings: ObjWriteOptions): string[] {
  const lost: string[] = []
  if (mesh.uvSets.length > 1) lost.push('more than one UV set')
  if (mesh.shapes.length) lost.push('blend shapes')
  if (mesh.skin) lost.push('skin weights')
  if (node.parent >= 0 || !isIdentity(node.local)) lost.push('transforms and hierarchy')
  if (mesh.subdivision.scheme !== 'none') lost.push('how parts are subdivided')
  if (settings.colors) {
    if (mesh.colorSets.some((set) => set.per !== 'points'))
      lost.push('colours that corners of a point have apart')
    if (mesh.colorSets.filter((set) => set.per === 'points').length > 1)
      lost.push('more than one set of colours')
  }
  if (mesh.layers?.length) lost.push('tangents and whatever else lies on polygons without Kelbo using it')
  if (Object.keys(node.properties).length) lost.push('properties of parts')
  return lost
}

/** Of the scene as a whole. */
export function lossesOfScene(scene: Scene, settings: ObjWriteOptions): string[] {
  const lost: string[] = []
  if (settings.materials === 'full' && scene.materials.some((material) => inMtlWords(material).lost.length))
    lost.push('parameters of materials that MTL has no words for')
  if (scene.cameras.length) lost.push('cameras')
  if (scene.lights.length) lost.push('lights')
  const placed = new Set([...scene.cameras, ...scene.lights].map(({ node }) => node))
  // where parts were chosen nothing else was asked for
  if (!settings.selection && scene.nodes.some(({ mesh }, index) => mesh < 0 && !placed.has(index)))
    lost.push('nodes without polygons')
  if (scene.kept?.objects.length) lost.push('animation, poses and whatever else its file held for itself')
  return lost
}
