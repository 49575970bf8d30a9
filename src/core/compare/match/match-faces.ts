import { faceCountOf, type Mesh } from '../../scene/mesh.ts'

/**
 * Follows a matching of points to faces and corners: a master face's counterpart is the returned face with
 * the same points round it, wherever it starts and whichever way it winds; of several one that winds as it does.
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
  const isShared = sharedSizes(master.faceOffsets, returned.faceOffsets)
  if (!isShared) return { faceToReturned, cornerToReturned, matchedFaceCount: 0, turnedFaceCount: 0 }
  if (!hasPairedFace(master, pointToReturned))
    return { faceToReturned, cornerToReturned, matchedFaceCount: 0, turnedFaceCount: 0 }
  // where all have as many corners, where one begins need not be looked up far off in a large array
  const isOneSize = sizesOf(returned.faceOffsets).size === 1
  let tableSize = 16
  while (tableSize < returnedFaces * 2) tableSize *= 2
  const mask = tableSize - 1
  const heads = new Int32Array(tableSize).fill(-1)
  const next = new Int32Array(returnedFaces)
  const mix = (point: number): number => Math.imul(point ^ (point >>> 13), 0x9e3779b1)
  for (let face = returnedFaces - 1; face >= 0; face--) {
    if (!isShared(returned.faceOffsets[face + 1]! - returned.faceOffsets[face]!)) continue
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
  const take = (
    face: number,
    start: number,
    size: number,
    other: number,
    otherStart: number,
    alignment: number,
  ): void => {
    taken[other] = 1
    faceToReturned[face] = other
    matchedFaceCount++
    const step = alignment < 0 ? -1 : 1
    if (step < 0) turnedFaceCount++
    let there = step < 0 ? -1 - alignment : alignment
    for (let corner = start; corner < start + size; corner++) {
      cornerToReturned[corner] = otherStart + there
      there += step
      if (there === size) there = 0
      else if (there < 0) there = size - 1
    }
  }
  /** Those that have to run the other way, once those that run the same way have been taken. */
  const turned: number[] = []
  const look = (face: number, mayTurn: boolean): void => {
    const start = master.faceOffsets[face]!
    const size = master.faceOffsets[face + 1]! - start
    if (!isShared(size)) return
    let sum = 0
    for (let corner = start; corner < start + size; corner++) {
      const point = pointToReturned[master.faceVertices[corner]!]!
      if (point < 0) return
      sum = (sum + mix(point)) | 0
    }
    let isTurned = false
    for (let other = heads[(sum ^ (sum >>> 15)) & mask]!; other >= 0; other = next[other]!) {
      if (taken[other]) continue
      let otherStart = other * size
      if (!isOneSize) {
        otherStart = returned.faceOffsets[other]!
        if (returned.faceOffsets[other + 1]! - otherStart !== size) continue
      }
      const alignment = alignFace(master, returned, pointToReturned, start, otherStart, size)
      if (alignment === NOT_ALIGNED) continue
      if (alignment >= 0 || mayTurn) return take(face, start, size, other, otherStart, alignment)
      isTurned = true
    }
    if (isTurned) turned.push(face)
  }
  for (let face = 0; face < masterFaces; face++) look(face, false)
  // of a sheet with both sides each goes with its own, also where one of them is gone
  for (const face of turned) look(face, true)
  return { faceToReturned, cornerToReturned, matchedFaceCount, turnedFaceCount }
}

/** Whether all points of any polygon have a counterpart. */
function hasPairedFace({ faceOffsets, faceVertices }: Mesh, pointToReturned: Int32Array): boolean {
  for (let face = 0; face + 1 < faceOffsets.length; face++) {
    let corner = faceOffsets[face]!
    while (corner < faceOffsets[face + 1]! && pointToReturned[faceVertices[corner]!]! >= 0) corner++
    if (corner === faceOffsets[face + 1]! && corner > faceOffsets[face]!) return true
  }
  return false
}

function sizesOf(offsets: Uint32Array): Set<number> {
  const sizes = new Set<number>()
  let last = -1
  for (let face = 0; face + 1 < offsets.length; face++) {
    const size = offsets[face + 1]! - offsets[face]!
    if (size !== last) sizes.add(size)
    last = size
  }
  return sizes
}

/** Whether polygons of so many corners are there on both sides; null where none are. */
function sharedSizes(a: Uint32Array, b: Uint32Array): ((size: number) => boolean) | null {
  const others = sizesOf(b)
  const shared = [...sizesOf(a)].filter((size) => others.has(size))
  if (shared.length === 0) return null
  const [only] = shared
  if (shared.length === 1) return (size) => size === only
  const all = new Set(shared)
  return (size) => all.has(size)
}

/** The points are not the same ones. */
const NOT_ALIGNED = 1e9

/** The returned face's corner that the first is; where it runs the other way, -1 less that. */
function alignFace(
  { faceVertices }: Mesh,
  { faceVertices: others }: Mesh,
  pointToReturned: Int32Array,
  start: number,
  otherStart: number,
  size: number,
): number {
  const head = pointToReturned[faceVertices[start]!]!
  for (let first = 0; first < size; first++) {
    if (others[otherStart + first] !== head) continue
    for (let step = 1; step >= -1; step -= 2) {
      let fits = true
      let there = first
      for (let corner = 1; corner < size && fits; corner++) {
        there += step
        if (there === size) there = 0
        else if (there < 0) there = size - 1
        fits = others[otherStart + there] === pointToReturned[faceVertices[start + corner]!]
      }
      if (fits) return step > 0 ? first : -1 - first
    }
  }
  return NOT_ALIGNED
}
