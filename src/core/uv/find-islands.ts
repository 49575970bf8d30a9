import { createUnion } from '../mesh/relations/adjacency.ts'
import { faceCountOf, type Mesh, type UvSet } from '../scene/mesh.ts'

export interface Islands {
  readonly islandCount: number
  /** faceCount; the island of each face, -1 for a face that is not wholly mapped. */
  readonly faceIslands: Int32Array
}

/**
 * UV islands: faces hang together where they have the same UV at the same point. Which index the UV has does
 * not matter: some programs write a UV for every corner, others one for equal values of different points.
 */
export function findIslands(mesh: Mesh, set: UvSet): Islands {
  const faceCount = faceCountOf(mesh)
  const union = createUnion(faceCount)
  const mapped = new Uint8Array(faceCount).fill(1)
  let tableSize = 16
  while (tableSize < mesh.faceVertices.length * 2) tableSize *= 2
  const table = new Int32Array(tableSize).fill(-1)
  const cornerFace = new Int32Array(mesh.faceVertices.length)
  const words = new Uint32Array(set.values.buffer, set.values.byteOffset, set.values.length * 2)
  for (let face = 0; face < faceCount; face++)
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
      cornerFace[corner] = face
      const uv = set.indices[corner]!
      if (uv < 0) {
        mapped[face] = 0
        continue
      }
      const point = mesh.faceVertices[corner]!
      let hash = Math.imul(point, 0x9e3779b1)
      for (let word = 4 * uv; word < 4 * uv + 4; word++)
        hash = Math.imul(hash ^ words[word]!, 0x85ebca6b) ^ (hash >>> 13)
      let slot = hash & (tableSize - 1)
      for (;;) {
        const other = table[slot]!
        if (other < 0) {
          table[slot] = corner
          break
        }
        const otherUv = set.indices[other]!
        if (
          mesh.faceVertices[other] === point &&
          set.values[2 * otherUv] === set.values[2 * uv] &&
          set.values[2 * otherUv + 1] === set.values[2 * uv + 1]
        ) {
          union.join(cornerFace[other]!, face)
          break
        }
        slot = (slot + 1) & (tableSize - 1)
      }
    }
  const islandOf = new Map<number, number>()
  const faceIslands = new Int32Array(faceCount)
  for (let face = 0; face < faceCount; face++) {
    if (!mapped[face]) {
      faceIslands[face] = -1
      continue
    }
    const root = union.rootOf(face)
    let island = islandOf.get(root)
    if (island === undefined) islandOf.set(root, (island = islandOf.size))
    faceIslands[face] = island
  }
  return { islandCount: islandOf.size, faceIslands }
}

/** Faces of each island, in rising order. */
export function facesByIsland(faceIslands: Int32Array, islandCount: number): number[][] {
  const faces: number[][] = Array.from({ length: islandCount }, () => [])
  for (let face = 0; face < faceIslands.length; face++)
    if (faceIslands[face]! >= 0) faces[faceIslands[face]!]!.push(face)
  return faces
}
