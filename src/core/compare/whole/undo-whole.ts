import { multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { placeRoots, transformScene } from '../../mesh/rebuilding/transform-scene.ts'
import { formatById } from '../../formats/registry.ts'
import type { Scene } from '../../scene/scene.ts'
import type { WholeChange } from './whole-change.ts'

const movedBy = ([x, y, z]: readonly [number, number, number]): Matrix => [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, y, z, 1] // prettier-ignore

/**
 * A returned scene as it was before what happened to all of it: in its size, turn and place, in the numbers of the file
 * that it came in. Where the file has it on its points they are brought back, where on the transforms at the top these.
 */
export function undoWhole(returned: Scene, { undo }: Pick<WholeChange, 'undo'>): Scene {
  const { turn, ratio, move } = undo
  const step = movedBy(move)
  if (undo.atTheTop) {
    const scaled = turn.map((value, at) => (at < 12 && at % 4 < 3 ? value * ratio : value))
    return placeRoots(returned, multiplyMatrices(step, scaled))
  }
  const turned = transformScene(returned, turn, ratio)
  if (move.every((value) => value === 0)) return turned
  return formatById(returned.format)?.hasTransforms === false
    ? { ...turned, meshes: turned.meshes.map((mesh) => transformMesh(mesh, step)) }
    : placeRoots(turned, step)
}
