import { createUnion } from '../../mesh/relations/adjacency.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'

/** The pieces that a mesh falls into: polygons that hang together over shared points. */
export interface Shells {
  readonly count: number
  /** One a face; 0 to count - 1. */
  readonly ofFace: Int32Array
}

export function findShells(mesh: Mesh): Shells {
  const { join, rootOf } = createUnion(pointCountOf(mesh))
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const start = mesh.faceOffsets[face]!
    const first = mesh.faceVertices[start]!
    for (let corner = start + 1; corner < mesh.faceOffsets[face + 1]!; corner++)
      join(first, mesh.faceVertices[corner]!)
  }
  const numbers = new Map<number, number>()
  const ofFace = new Int32Array(faceCountOf(mesh))
  for (let face = 0; face < ofFace.length; face++) {
    const root = rootOf(mesh.faceVertices[mesh.faceOffsets[face]!]!)
    const known = numbers.get(root)
    if (known === undefined) numbers.set(root, numbers.size)
    ofFace[face] = known ?? numbers.size - 1
  }
  return { count: numbers.size, ofFace }
}

/** Triangles that a face counts as, however it is cut. */
export const trianglesOf = (mesh: Mesh, face: number): number =>
  Math.max(0, mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]! - 2)

/**
 * What of each shell survives moving, renumbering and cutting into triangles: how many points, triangles and border
 * edges it has. One text a shell.
 */
export function shellSignatures(mesh: Mesh, shells: Shells): string[] {
  const points = new Uint32Array(shells.count)
  const triangles = new Uint32Array(shells.count)
  const borders = new Uint32Array(shells.count)
  const seen = new Uint8Array(pointCountOf(mesh))
  const edges = new Map<number, number>()
  for (let face = 0; face < shells.ofFace.length; face++) {
    const shell = shells.ofFace[face]!
    triangles[shell]! += trianglesOf(mesh, face)
    const [start, end] = [mesh.faceOffsets[face]!, mesh.faceOffsets[face + 1]!]
    for (let corner = start; corner < end; corner++) {
      const a = mesh.faceVertices[corner]!
      const b = mesh.faceVertices[corner + 1 < end ? corner + 1 : start]!
      if (!seen[a]) {
        seen[a] = 1
        points[shell]!++
      }
      const key = Math.min(a, b) * seen.length + Math.max(a, b)
      const times = edges.get(key) ?? 0
      edges.set(key, times + 1)
      if (times === 0) borders[shell]!++
      else if (times === 1) borders[shell]!--
    }
  }
  return Array.from({ length: shells.count }, (_shell, at) => `${points[at]} ${triangles[at]} ${borders[at]}`)
}
