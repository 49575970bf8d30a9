/** Faces in named groups, one group for each of some numbers. */
import type { FaceGroups } from '../../scene/mesh.ts'

/**
 * @param keys faceCount numbers; below 0 for a face in no group.
 * @param nameOf of a number, and of the order in which it was first met.
 */
export function groupFaces(
  keys: ArrayLike<number>,
  nameOf: (key: number, order: number) => string,
): FaceGroups {
  const orders = new Map<number, number>()
  const names: string[] = []
  const faceSets = Int32Array.from(keys, (key) => {
    if (key < 0) return -1
    let order = orders.get(key)
    if (order === undefined) {
      order = names.length
      orders.set(key, order)
      names.push(nameOf(key, order))
    }
    return order
  })
  return { names, sets: names.map((_name, at) => [at]), faceSets }
}
