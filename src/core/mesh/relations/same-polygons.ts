/** Meshes of the same polygons, whatever their numbers: which corner of the one is which of the other. */
import type { MeshFacts } from './mesh-facts.ts'

/** How the corners of a mesh's faces stand on another of the same polygons. */
export interface SamePolygons {
  /** faceCount; the other's face, each once. */
  readonly faces: Int32Array
  /** cornerCount; the other's corner. */
  readonly corners: Int32Array
  /** faceCount flags: the other's face goes round the other way. */
  readonly isTurned: Uint8Array
}

/**
 * @param points for each point of the mesh that of the other; null: the one of its number.
 * @returns null where a face has none that corresponds.
 */
export function samePolygons(
  facts: MeshFacts,
  other: MeshFacts,
  points: Int32Array | null,
): SamePolygons | null {
  // of faces that lie on each other the ones that go round as the rest do
  for (const steps of [[1], [-1], [1, -1]]) {
    const found = inSteps(facts, other, points, steps)
    if (found) return found
  }
  return null
}

function inSteps(
  facts: MeshFacts,
  other: MeshFacts,
  points: Int32Array | null,
  steps: readonly number[],
): SamePolygons | null {
  const { faceOffsets, faceVertices } = facts.mesh
  const { faceOffsets: otherOffsets, faceVertices: otherVertices } = other.mesh
  if (other.faceCount !== facts.faceCount) return null
  const pointOf = (point: number): number => points?.[point] ?? point
  const { offsets, corners: around } = other.pointCorners()
  const cornerFaces = other.cornerFaces()
  const faces = new Int32Array(facts.faceCount).fill(-1)
  const corners = new Int32Array(faceVertices.length).fill(-1)
  const isTurned = new Uint8Array(facts.faceCount)
  const isTaken = new Uint8Array(other.faceCount)
  for (let face = 0; face < facts.faceCount; face++) {
    const [start, end] = [faceOffsets[face]!, faceOffsets[face + 1]!]
    const size = end - start
    if (size === 0) return null
    const first = pointOf(faceVertices[start]!)
    for (let at = offsets[first]!; at < offsets[first + 1]! && faces[face]! < 0; at++) {
      const found = cornerFaces[around[at]!]!
      const from = otherOffsets[found]!
      if (isTaken[found] || otherOffsets[found + 1]! - from !== size) continue
      for (const step of steps) {
        const cornerAt = (k: number): number => from + ((around[at]! - from + step * k + size) % size)
        let fits = true
        for (let k = 0; k < size && fits; k++)
          fits = otherVertices[cornerAt(k)] === pointOf(faceVertices[start + k]!)
        if (!fits) continue
        faces[face] = found
        isTaken[found] = 1
        isTurned[face] = step === 1 ? 0 : 1
        for (let k = 0; k < size; k++) corners[start + k] = cornerAt(k)
        break
      }
    }
    if (faces[face]! < 0) return null
  }
  return { faces, corners, isTurned }
}
