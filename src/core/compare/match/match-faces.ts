import { faceCountOf, type Mesh } from '../../scene/mesh.ts'

/**
 * Follows a matching of points to faces and corners: a master face's counterpart is the returned face with
 * the same points round it, wherever it starts and whichever way it winds.
 */
export function matchFaces(
  master: Mesh,
  returned: Mesh,
  pointToReturned: Int32Array,
): {
  faceToReturned: Int32Array
  cornerToReturned: Int32Array
  matchedFaceCount: number
  turnedFaceCount: number
} {
  const masterFaces = faceCountOf(master)
  const returnedFaces = faceCountOf(returned)
  const faceToReturned = new Int32Array(masterFaces).fill(-1)
  const cornerToReturned = new Int32Array(master.faceVertices.length).fill(-1)
  let tableSize = 16
  while (tableSize < returnedFaces * 2) tableSize *= 2
  const mask = tableSize - 1
  const heads = new Int32Array(tableSize).fill(-1)
  const next = new Int32Array(returnedFaces)
  const mix = (point: number): number => Math.imul(point ^ (point >>> 13), 0x9e3779b1)
  for (let face = returnedFaces - 1; face >= 0; face--) {
    let sum = 0
    for (let corner = returned.faceOffsets[face]!; corner < returned.faceOffsets[face + 1]!; corner++)
      sum = (sum + mix(returned.faceVertices[corner]!)) | 0
    const slot = (sum ^ (sum >>> 15)) & mask
    next[face] = heads[slot]!
    heads[slot] = face
  }
  const taken = new Uint8Array(returnedFaces)
  let matchedFaceCount = 0
  let turnedFaceCount = 0
  for (let face = 0; face < masterFaces; face++) {
    const start = master.faceOffsets[face]!
    const size = master.faceOffsets[face + 1]! - start
    let sum = 0
    let whole = true
    for (let corner = start; corner < start + size; corner++) {
      const point = pointToReturned[master.faceVertices[corner]!]!
      if (point < 0) {
        whole = false
        break
      }
      sum = (sum + mix(point)) | 0
    }
    if (!whole) continue
    for (let other = heads[(sum ^ (sum >>> 15)) & mask]!; other >= 0; other = next[other]!) {
      const otherStart = returned.faceOffsets[other]!
      if (taken[other] || returned.faceOffsets[other + 1]! - otherStart !== size) continue
      const alignment = alignFace(master, returned, pointToReturned, start, otherStart, size)
      if (alignment === null) continue
      taken[other] = 1
      faceToReturned[face] = other
      matchedFaceCount++
      if (alignment.step < 0) turnedFaceCount++
      for (let corner = 0; corner < size; corner++)
        cornerToReturned[start + corner] =
          otherStart + ((((alignment.first + alignment.step * corner) % size) + size) % size)
      break
    }
  }
  return { faceToReturned, cornerToReturned, matchedFaceCount, turnedFaceCount }
}

/** Where the returned face starts and which way it runs; null where the points are not the same ones. */
function alignFace(
  master: Mesh,
  returned: Mesh,
  pointToReturned: Int32Array,
  start: number,
  otherStart: number,
  size: number,
): { first: number; step: 1 | -1 } | null {
  const wanted = (corner: number): number => pointToReturned[master.faceVertices[start + corner]!]!
  const head = wanted(0)
  for (let first = 0; first < size; first++) {
    if (returned.faceVertices[otherStart + first] !== head) continue
    for (const step of [1, -1] as const) {
      let fits = true
      for (let corner = 1; corner < size && fits; corner++)
        fits =
          returned.faceVertices[otherStart + ((((first + step * corner) % size) + size) % size)] ===
          wanted(corner)
      if (fits) return { first, step }
    }
  }
  return null
}
