/** Skins: which joints move which points. Source: glTF 2.0, section 3.7.3. */
import { invertAffine } from '../../base/math/matrix.ts'
import type { Skin } from '../../scene/mesh.ts'
import { IDENTITY_MATRIX } from '../../scene/scene.ts'
import { listOf, objectOf, wholeOf } from '../notes/json.ts'
import type { Accessors } from './read-accessor.ts'
import type { GltfReading } from './read-buffers.ts'
import type { ReadMesh } from './read-mesh.ts'

/** @param placeOf a node's place in the scene by its number in the file. */
export function readSkin(
  index: number,
  { influences, mesh }: ReadMesh,
  { document, messages }: GltfReading,
  accessors: Accessors,
  placeOf: ReadonlyMap<number, number>,
): Skin | null {
  const skin = objectOf(listOf(document.skins)[index])
  if (!skin || !influences) {
    if (!skin) messages.add('gltf.part', { place: `Skin ${index}`, why: 'the file doesn’t have it' })
    return null
  }
  const jointNodes = listOf(skin.joints).map((joint) => placeOf.get(wholeOf(joint) ?? -1) ?? -1)
  const binds =
    skin.inverseBindMatrices === undefined ? null : accessors.read(skin.inverseBindMatrices, ['MAT4'])
  const meshBinds = new Float64Array(16 * jointNodes.length)
  const jointBinds = new Float64Array(16 * jointNodes.length)
  jointNodes.forEach((_node, joint) => {
    const bind =
      binds && joint < binds.count ? [...binds.values.subarray(16 * joint, 16 * joint + 16)] : IDENTITY_MATRIX
    meshBinds.set(bind, 16 * joint)
    jointBinds.set(invertAffine(bind) ?? IDENTITY_MATRIX, 16 * joint)
  })
  const { joints, weights, perPoint } = influences
  const pointCount = mesh.points.length / 3
  const offsets = new Uint32Array(pointCount + 1)
  const own: number[] = []
  const shares: number[] = []
  for (let point = 0; point < pointCount; point++) {
    const first = own.length
    for (let at = perPoint * point; at < perPoint * (point + 1); at++) {
      const weight = weights[at]!
      if (!(weight > 0)) continue
      const joint = joints[at]!
      if (joint >= jointNodes.length) {
        messages.add('gltf.value', { place: `Joint ${joint} of skin ${index}` })
        continue
      }
      const known = own.indexOf(joint, first)
      if (known >= 0) shares[known]! += weight
      else {
        own.push(joint)
        shares.push(weight)
      }
    }
    offsets[point + 1] = own.length
  }
  return {
    jointNodes: Int32Array.from(jointNodes),
    jointBinds,
    meshBinds,
    offsets,
    joints: Uint32Array.from(own),
    weights: Float64Array.from(shares),
  }
}
