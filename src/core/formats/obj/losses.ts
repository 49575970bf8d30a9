/** What OBJ has no statements for: said on writing, whatever of it a scene holds. */
import type { ColorSet, Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { colorsByPoint } from '../arrange/by-point.ts'
import { lossesOfKept } from '../arrange/losses-of-kept.ts'
import { lossesOfStage } from '../arrange/parts-in-world.ts'
import { inMtlWords } from './mtl-words.ts'
import type { ObjWriteOptions } from './options.ts'

/** Sets of colours that an OBJ has words for, the one that is written first: those of points, or alike at all corners of each. */
export const colorsToWrite = (mesh: Mesh): ColorSet[] =>
  [...mesh.colorSets]
    .sort((a, b) => Number(b.per === 'points') - Number(a.per === 'points'))
    .flatMap((set) => colorsByPoint(mesh, set) ?? [])

/** Of a part that is written, as the end of a sentence that begins with what can't be carried. */
export function lossesOfPart(mesh: Mesh, settings: ObjWriteOptions): string[] {
  const lost: string[] = []
  if (mesh.uvSets.length > 1) lost.push('more than one UV set')
  if (mesh.shapes.length) lost.push('blend shapes')
  if (mesh.skin) lost.push('skin weights')
  if (mesh.subdivision.scheme !== 'none') lost.push('how parts are subdivided')
  if (settings.colors) {
    const sayable = colorsToWrite(mesh)
    if (sayable.length < mesh.colorSets.length) lost.push('colours that corners of a point have apart')
    if (sayable.length > 1) lost.push('more than one set of colours')
    const [written] = sayable
    if (written?.components === 4 && written.values.some((value, at) => at % 4 === 3 && value !== 1))
      lost.push('the opacity of colours')
  }
  if (mesh.layers?.length) lost.push('tangents and whatever else lies on polygons without Kelbo using it')
  return lost
}

/** Of the scene as a whole. */
export function lossesOfScene(scene: Scene, settings: ObjWriteOptions): string[] {
  const lost: string[] = []
  if (settings.materials === 'full' && scene.materials.some((material) => inMtlWords(material).lost.length))
    lost.push('parameters of materials that MTL has no words for')
  lost.push(...lossesOfStage(scene, !settings.selection))
  lost.push(...lossesOfKept(scene, null))
  return lost
}
