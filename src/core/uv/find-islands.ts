import { createUnion, type Union } from '../mesh/relations/adjacency.ts'
import { faceCountOf, type Mesh, type UvSet } from '../scene/mesh.ts'

export interface Islands {
  readonly islandCount: number
  /** faceCount; the island of each face, -1 for a face that is not wholly mapped. */
  readonly faceIslands: Int32Array
}

/** Corners of a point that are looked at for one UV, on the average over a mesh, before they are looked up instead. */
const STEPS_A_CORNER = 16

/**
 * UV islands: faces hang together where they have the same UV at the same point. Which index the UV has does
 * not matter: some programs write a UV for every corner, others one for equal values of different points.
 */
export function findIslands(mesh: Mesh, set: UvSet): Islands {
  const faceCount = faceCountOf(mesh)
  const union = joinByPoints(mesh, set) ?? joinByTable(mesh, set)
  const islandOf = new Map<number, number>()
  const faceIslands = new Int32Array(faceCount)
  for (let face = 0; face < faceCount; face++) {
    if (!isMapped(mesh, set, face)) {
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

function isMapped(mesh: Mesh, set: UvSet, face: number): boolean {
  for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
    if (set.indices[corner]! < 0) return false
  return true
}

/** Most points have few UVs: the different ones of each hang in a chain. @returns null where chains are long. */
function joinByPoints(mesh: Mesh, { values, indices }: UvSet): Union | null {
  const { faceOffsets, faceVertices } = mesh
  const faceCount = faceCountOf(mesh)
  const union = createUnion(faceCount)
  /** The corner met last of each point with a UV of its own, and the one before it; its face beside it. */
  const newest = new Int32Array(mesh.points.length / 3).fill(-1)
  const before = new Int32Array(faceVertices.length)
  const cornerFace = new Int32Array(faceVertices.length)
  let stepsLeft = STEPS_A_CORNER * faceVertices.length
  for (let face = 0; face < faceCount; face++)
    for (let corner = faceOffsets[face]!; corner < faceOffsets[face + 1]!; corner++) {
      const uv = indices[corner]!
      if (uv < 0) continue
      const point = faceVertices[corner]!
      let other = newest[point]!
      while (other >= 0) {
        const otherUv = indices[other]!
        if (
          otherUv === uv ||
          (values[2 * otherUv] === values[2 * uv] && values[2 * otherUv + 1] === values[2 * uv + 1])
        )
          break
        other = before[other]!
        stepsLeft--
      }
      if (stepsLeft < 0) return null
      if (other >= 0) union.join(cornerFace[other]!, face)
      else {
        cornerFace[corner] = face
        before[corner] = newest[point]!
        newest[point] = corner
      }
    }
  return union
}

/** However many UVs a point has. */
function joinByTable(mesh: Mesh, { values, indices }: UvSet): Union {
  const faceCount = faceCountOf(mesh)
  const union = createUnion(faceCount)
  let tableSize = 16
  while (tableSize < mesh.faceVertices.length * 2) tableSize *= 2
  const table = new Int32Array(tableSize).fill(-1)
  const cornerFace = new Int32Array(mesh.faceVertices.length)
  const words = new Uint32Array(values.buffer, values.byteOffset, values.length * 2)
  for (let face = 0; face < faceCount; face++)
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
      cornerFace[corner] = face
      const uv = indices[corner]!
      if (uv < 0) continue
      const point = mesh.faceVertices[corner]!
      let hash = Math.imul(point, 0x9e3779b1)
      for (let value = 2 * uv; value < 2 * uv + 2; value++) {
        // 0 and -0 are one place
        const isZero = values[value] === 0
        hash = Math.imul(hash ^ (isZero ? 0 : words[2 * value]!), 0x85ebca6b) ^ (hash >>> 13)
        hash = Math.imul(hash ^ (isZero ? 0 : words[2 * value + 1]!), 0x85ebca6b) ^ (hash >>> 13)
      }
      let slot = hash & (tableSize - 1)
      for (;;) {
        const other = table[slot]!
        if (other < 0) {
          table[slot] = corner
          break
        }
        const otherUv = indices[other]!
        if (
          mesh.faceVertices[other] === point &&
          (otherUv === uv ||
            (values[2 * otherUv] === values[2 * uv] && values[2 * otherUv + 1] === values[2 * uv + 1]))
        ) {
          union.join(cornerFace[other]!, face)
          break
        }
        slot = (slot + 1) & (tableSize - 1)
      }
    }
  return union
}

/** Faces of each island, in rising order. */
export function facesByIsland(faceIslands: Int32Array, islandCount: number): number[][] {
  const faces: number[][] = Array.from({ length: islandCount }, () => [])
  for (let face = 0; face < faceIslands.length; face++)
    if (faceIslands[face]! >= 0) faces[faceIslands[face]!]!.push(face)
  return faces
}
