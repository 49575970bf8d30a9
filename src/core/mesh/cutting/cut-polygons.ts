/** Polygons into triangles, remembering which belong together. */
import { triangulateFace } from '../triangles/triangulate-face.ts'
import type { MeshFacts } from '../relations/mesh-facts.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { faceCorners, replaceFaces, type NewFace } from '../rebuilding/edit-faces.ts'

/**
 * Triangles of a face as corners of the mesh, the one with the face's first corner first, beginning with it,
 * so that putting them together again gives the polygon as it was.
 */
export function cutFace(facts: MeshFacts, face: number, shortest: boolean, into: number[]): number[][] {
  const { mesh } = facts
  const start = mesh.faceOffsets[face]!
  into.length = 0
  if (shortest && mesh.faceOffsets[face + 1]! - start === 4) {
    const points = facts.points()
    const distance = (a: number, b: number): number => {
      const p = 3 * mesh.faceVertices[start + a]!
      const q = 3 * mesh.faceVertices[start + b]!
      return (
        (points[p]! - points[q]!) ** 2 +
        (points[p + 1]! - points[q + 1]!) ** 2 +
        (points[p + 2]! - points[q + 2]!) ** 2
      )
    }
    triangulateFace(mesh, face, facts.faceNormals(), into)
    const forced = into[1] === 2
    // a concave quad has one diagonal only; among two the shorter is taken, the first where they are equal
    const other = [0, 1, 3, 1, 2, 3]
    if (!forced && distance(1, 3) < distance(0, 2) && sound(facts, face, other)) into.splice(0, 6, ...other)
  } else triangulateFace(mesh, face, facts.faceNormals(), into)
  const triangles: number[][] = []
  for (let at = 0; at < into.length; at += 3) triangles.push([into[at]!, into[at + 1]!, into[at + 2]!])
  const first = triangles.findIndex((triangle) => triangle.includes(0))
  const [head] = triangles.splice(Math.max(0, first), 1)
  // two corners make no triangle
  if (!head) return [Array.from({ length: mesh.faceOffsets[face + 1]! - start }, (_corner, at) => start + at)]
  if (first >= 0) while (head[0] !== 0) head.push(head.shift()!)
  return [head, ...triangles].map((triangle) => triangle.map((corner) => start + corner))
}

/** True where both halves of a cut face the way the polygon does. */
function sound(facts: MeshFacts, face: number, cut: readonly number[]): boolean {
  const { mesh } = facts
  const points = facts.points()
  const normals = facts.faceNormals()
  const start = mesh.faceOffsets[face]!
  for (let at = 0; at < cut.length; at += 3) {
    const [p, q, r] = [0, 1, 2].map((k) => 3 * mesh.faceVertices[start + cut[at + k]!]!) as [
      number,
      number,
      number,
    ]
    const [ux, uy, uz] = [0, 1, 2].map((k) => points[q + k]! - points[p + k]!) as [number, number, number]
    const [vx, vy, vz] = [0, 1, 2].map((k) => points[r + k]! - points[p + k]!) as [number, number, number]
    const dot =
      (uy * vz - uz * vy) * normals[3 * face]! +
      (uz * vx - ux * vz) * normals[3 * face + 1]! +
      (ux * vy - uy * vx) * normals[3 * face + 2]!
    if (!(dot > 0)) return false
  }
  return true
}

/** The mesh with some faces cut, and `cutFrom` telling which pieces belong together. */
export function cutPolygons(facts: MeshFacts, wanted: readonly number[], shortest: boolean): Mesh {
  const { mesh } = facts
  const flags = new Uint8Array(facts.faceCount)
  for (const face of wanted) flags[face] = 1
  const faces: NewFace[] = []
  const cutFrom: number[] = []
  const scratch: number[] = []
  let nextNumber = 0
  for (const number of mesh.cutFrom ?? []) nextNumber = Math.max(nextNumber, number + 1)
  for (let face = 0; face < facts.faceCount; face++) {
    if (flags[face]) {
      for (const corners of cutFace(facts, face, shortest, scratch)) {
        faces.push({ corners, from: face })
        cutFrom.push(nextNumber)
      }
      nextNumber++
      continue
    }
    faces.push({ corners: faceCorners(mesh, face), from: face })
    // every face has a number; one that stands alone is a polygon of its own
    const before = mesh.cutFrom?.[face]
    if (before === undefined) cutFrom.push(nextNumber++)
    else cutFrom.push(before)
  }
  return { ...replaceFaces(mesh, faces), cutFrom: Uint32Array.from(cutFrom) }
}
