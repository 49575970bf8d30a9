import { createUnion } from '../scene/adjacency.ts'
import { faceCountOf, type Mesh, type UvSet } from '../scene/mesh.ts'

export interface Islands {
  readonly islandCount: number
  /** faceCount; the island of each face, -1 for a face that is not wholly mapped. */
  readonly faceIslands: Int32Array
}

/** UV islands: faces that share UVs (by index, or by an equal value at the same point) hang together. */
export function findIslands(mesh: Mesh, set: UvSet): Islands {
  const faceCount = faceCountOf(mesh)
  const union = createUnion(faceCount)
  // one key a (point, UV value): exporters that write a UV for every corner split no island
  const firstFace = new Map<string, number>()
  const faceOfUv = new Int32Array(set.values.length / 2).fill(-1)
  const pointOfUv = new Int32Array(set.values.length / 2).fill(-1)
  const mapped = new Uint8Array(faceCount).fill(1)
  for (let face = 0; face < faceCount; face++)
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
      const uv = set.indices[corner]!
      if (uv < 0) {
        mapped[face] = 0
        continue
      }
      if (faceOfUv[uv]! >= 0) union.join(face, faceOfUv[uv]!)
      else {
        faceOfUv[uv] = face
        pointOfUv[uv] = mesh.faceVertices[corner]!
      }
    }
  for (let uv = 0; uv < faceOfUv.length; uv++) {
    if (faceOfUv[uv]! < 0) continue
    const key = `${pointOfUv[uv]} ${set.values[2 * uv]} ${set.values[2 * uv + 1]}`
    const known = firstFace.get(key)
    if (known === undefined) firstFace.set(key, faceOfUv[uv]!)
    else union.join(known, faceOfUv[uv]!)
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
