import type { MeshFacts } from '../relations/mesh-facts.ts'

/** Faces over the same points as an earlier face, in whatever order. Hashed; linear. */
export function findDuplicateFaces(facts: MeshFacts): number[] {
  const { mesh, faceCount } = facts
  let tableSize = 16
  while (tableSize < faceCount * 2) tableSize *= 2
  const table = new Int32Array(tableSize).fill(-1)
  const found: number[] = []
  const sorted = (face: number): number[] =>
    [...mesh.faceVertices.subarray(mesh.faceOffsets[face]!, mesh.faceOffsets[face + 1]!)].sort(
      (a, b) => a - b,
    )
  const sums = new Uint32Array(faceCount)
  for (let face = 0; face < faceCount; face++) {
    let sum = 0
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
      // a sum of mixed words does not depend on the order
      let word = Math.imul(mesh.faceVertices[corner]! + 1, 0x9e3779b1)
      word = Math.imul(word ^ (word >>> 15), 0x85ebca6b)
      sum = (sum + (word ^ (word >>> 13))) | 0
    }
    sums[face] = sum
    let slot = sum & (tableSize - 1)
    for (;;) {
      const other = table[slot]!
      if (other < 0) {
        table[slot] = face
        break
      }
      if (sums[other] === sums[face]) {
        const own = sorted(face)
        const theirs = sorted(other)
        if (own.length === theirs.length && own.every((point, at) => point === theirs[at])) {
          found.push(face)
          break
        }
      }
      slot = (slot + 1) & (tableSize - 1)
    }
  }
  return found
}
