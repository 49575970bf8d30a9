/** A whole scene in another unit or other axes: meshes, skins, nodes with their pivots, and what was kept. */
import { isIdentity, multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import type { KeptContent } from '../../scene/kept.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene, SceneNode, TransformParts } from '../../scene/scene.ts'
import { transformMesh } from './transform-mesh.ts'

/** A matrix seen from turned axes and another unit: exact for a turn by axes and a scale by powers of two. */
function conjugate(local: Matrix, turn: Matrix, ratio: number): Matrix {
  const back = [
    turn[0]!, turn[4]!, turn[8]!, 0,
    turn[1]!, turn[5]!, turn[9]!, 0,
    turn[2]!, turn[6]!, turn[10]!, 0,
    0, 0, 0, 1,
  ] // prettier-ignore
  const turned = isIdentity(turn) ? [...local] : multiplyMatrices(multiplyMatrices(turn, local), back)
  for (let at = 12; at < 15; at++) turned[at] = turned[at]! * ratio + 0
  return turned.map((value) => value + 0)
}

const times = (triple: readonly [number, number, number], ratio: number): [number, number, number] => [
  triple[0] * ratio,
  triple[1] * ratio,
  triple[2] * ratio,
]

/** Parts of a transform in another unit; null where axes turn, since rotations then mean others. */
function partsIn(parts: TransformParts | null, turn: Matrix, ratio: number): TransformParts | null {
  if (!parts || !isIdentity(turn)) return null
  return {
    ...parts,
    translation: times(parts.translation, ratio),
    rotationPivot: times(parts.rotationPivot, ratio),
    scalePivot: times(parts.scalePivot, ratio),
    rotationOffset: times(parts.rotationOffset, ratio),
    scaleOffset: times(parts.scaleOffset, ratio),
  }
}

const scaled = (ratio: number): number[] => [ratio, 0, 0, 0, 0, ratio, 0, 0, 0, 0, ratio, 0, 0, 0, 0, 1]

/** @param changeJoint for where joints stand in the world, @param change for the mesh seen from a joint. */
function convertSkin(
  mesh: Mesh,
  changeJoint: (matrix: Matrix) => Matrix,
  change: (matrix: Matrix) => Matrix,
): Mesh {
  const { skin } = mesh
  if (!skin?.jointBinds || !skin.meshBinds) return mesh
  const all = (matrices: Float64Array, by: (matrix: Matrix) => Matrix): Float64Array => {
    const changed = new Float64Array(matrices.length)
    for (let at = 0; at < matrices.length; at += 16) changed.set(by([...matrices.subarray(at, at + 16)]), at)
    return changed
  }
  return {
    ...mesh,
    skin: {
      ...skin,
      jointBinds: all(skin.jointBinds, changeJoint),
      meshBinds: all(skin.meshBinds, change),
    },
  }
}

/** What is kept isn't understood here: it says how the scene has been changed since, for its format to follow. */
function keptSince(kept: KeptContent, ratio: number, turns: boolean): KeptContent {
  const since = kept.since ?? { scale: 1, turned: false }
  return { ...kept, since: { scale: since.scale * ratio, turned: since.turned || turns } }
}

const withKept = (scene: Scene, ratio: number, turns: boolean): Pick<Scene, 'kept'> =>
  scene.kept ? { kept: keptSince(scene.kept, ratio, turns) } : {}

/**
 * A scene whose numbers are turned by `turn` and multiplied by `ratio`, each node's matrix with them: in the world
 * everything is turned and multiplied alike. Pivots stay where they are as long as nothing is turned. `space` is the
 * caller's to say.
 *
 * @param turn of axes alone: its inverse is its transpose.
 */
export function transformScene(scene: Scene, turn: Matrix, ratio: number): Scene {
  const turns = !isIdentity(turn)
  if (!turns && ratio === 1) return scene
  const matrix = ratio === 1 ? turn : multiplyMatrices(scaled(ratio), turn)
  const change = (local: Matrix): Matrix => conjugate(local, turn, ratio)
  return {
    ...scene,
    ...withKept(scene, ratio, turns),
    meshes: scene.meshes.map((mesh) => {
      const moved = transformMesh(mesh, matrix)
      // a uniform scale turns no normal
      return convertSkin(turns ? moved : { ...moved, normals: mesh.normals }, change, change)
    }),
    nodes: scene.nodes.map((node) => ({
      ...node,
      local: change(node.local),
      transform: partsIn(node.transform, turn, ratio),
    })),
  }
}

/**
 * The scene with a matrix before its roots: everything stands elsewhere in the world, no point has moved in its part.
 * Pivots stay known where the matrix only moves, or only scales what has none.
 */
export function placeRoots(scene: Scene, matrix: Matrix): Scene {
  const rooted = (local: Matrix): Matrix => multiplyMatrices(matrix, local)
  const ratio = matrix[0]!
  const move = [matrix[12]!, matrix[13]!, matrix[14]!] as const
  const onlyScales = [...scaled(ratio)].every((value, at) => value === matrix[at])
  const onlyMoves = isIdentity([...matrix.slice(0, 12), 0, 0, 0, 1])
  const partsOf = (parts: TransformParts | null): TransformParts | null => {
    if (!parts) return null
    if (onlyMoves) {
      const [x, y, z] = parts.translation
      return { ...parts, translation: [x + move[0], y + move[1], z + move[2]] }
    }
    // a scale in front of a pivot can't be said by the same parts
    if (!onlyScales || !parts.scalePivot.every((value) => value === 0)) return null
    const inUnit = partsIn(parts, scaled(1), ratio)!
    return { ...inUnit, scale: times(inUnit.scale, ratio) }
  }
  return {
    ...scene,
    // keys of a root's scale would undo it
    ...withKept(scene, 1, true),
    meshes: scene.meshes.map((mesh) => convertSkin(mesh, rooted, (skinMatrix) => skinMatrix)),
    nodes: scene.nodes.map((node): SceneNode =>
      node.parent >= 0 ? node : { ...node, local: rooted(node.local), transform: partsOf(node.transform) },
    ),
  }
}

/** The scene with a scale on its roots: everything is larger in the world, no point has moved in its part. */
export const scaleRoots = (scene: Scene, ratio: number): Scene => placeRoots(scene, scaled(ratio))
