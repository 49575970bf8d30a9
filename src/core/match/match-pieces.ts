/** Polygons that came back cut into smaller ones, with no point added. */
import { faceCountOf, type Mesh } from '../scene/mesh.ts'

export interface MatchedFaces {
  readonly faceToReturned: Int32Array
  readonly cornerToReturned: Int32Array
  readonly matchedFaceCount: number
  readonly turnedFaceCount: number
}

export interface MatchedPieces extends MatchedFaces {
  /** Returned face count; for a piece the master's face, -1 for other faces. Null where nothing was cut. */
  readonly pieceToMaster: Int32Array | null
  readonly cutFaceCount: number
}

/**
 * A master face that has no counterpart is cut where unmatched returned faces over its points alone make up all
 * of it: k-cornered pieces of an n-cornered polygon have k - 2 in sum n - 2. It then counts as matched with its
 * first piece, and each of its corners with one of a piece at the same point.
 */
export function matchPieces(
  master: Mesh,
  returned: Mesh,
  pointToReturned: Int32Array,
  faces: MatchedFaces,
): MatchedPieces {
  const masterFaces = faceCountOf(master)
  const returnedFaces = faceCountOf(returned)
  const none: MatchedPieces = { ...faces, pieceToMaster: null, cutFaceCount: 0 }
  if (faces.matchedFaceCount === masterFaces || faces.matchedFaceCount === returnedFaces) return none
  const taken = new Uint8Array(returnedFaces)
  for (const face of faces.faceToReturned) if (face >= 0) taken[face] = 1
  const pointToMaster = new Int32Array(returned.points.length / 3).fill(-1)
  pointToReturned.forEach((point, at) => {
    if (point >= 0) pointToMaster[point] = at
  })
  /** Open master faces at each point. */
  const facesAt = new Map<number, number[]>()
  for (let face = 0; face < masterFaces; face++) {
    if (faces.faceToReturned[face]! >= 0) continue
    for (let corner = master.faceOffsets[face]!; corner < master.faceOffsets[face + 1]!; corner++) {
      const point = master.faceVertices[corner]!
      const held = facesAt.get(point)
      if (held) held.push(face)
      else facesAt.set(point, [face])
    }
  }
  const hasPoint = (face: number, point: number): boolean => {
    for (let corner = master.faceOffsets[face]!; corner < master.faceOffsets[face + 1]!; corner++)
      if (master.faceVertices[corner] === point) return true
    return false
  }
  const pieces = new Map<number, number[]>()
  for (let face = 0; face < returnedFaces; face++) {
    if (taken[face]) continue
    const start = returned.faceOffsets[face]!
    const points: number[] = []
    for (let corner = start; corner < returned.faceOffsets[face + 1]!; corner++)
      points.push(pointToMaster[returned.faceVertices[corner]!]!)
    if (points.some((point) => point < 0)) continue
    const whole = facesAt.get(points[0]!)?.find((one) => points.every((point) => hasPoint(one, point)))
    if (whole === undefined) continue
    const held = pieces.get(whole)
    if (held) held.push(face)
    else pieces.set(whole, [face])
  }
  const faceToReturned = faces.faceToReturned.slice()
  const cornerToReturned = faces.cornerToReturned.slice()
  const pieceToMaster = new Int32Array(returnedFaces).fill(-1)
  let cutFaceCount = 0
  for (const [whole, parts] of pieces) {
    const size = master.faceOffsets[whole + 1]! - master.faceOffsets[whole]!
    const sum = parts.reduce(
      (total, face) => total + returned.faceOffsets[face + 1]! - returned.faceOffsets[face]! - 2,
      0,
    )
    if (sum !== size - 2) continue
    cutFaceCount++
    faceToReturned[whole] = parts[0]!
    for (const face of parts) {
      pieceToMaster[face] = whole
      for (let corner = returned.faceOffsets[face]!; corner < returned.faceOffsets[face + 1]!; corner++) {
        const point = pointToMaster[returned.faceVertices[corner]!]!
        for (let own = master.faceOffsets[whole]!; own < master.faceOffsets[whole + 1]!; own++)
          if (master.faceVertices[own] === point && cornerToReturned[own]! < 0) cornerToReturned[own] = corner
      }
    }
  }
  if (cutFaceCount === 0) return none
  return {
    faceToReturned,
    cornerToReturned,
    matchedFaceCount: faces.matchedFaceCount + cutFaceCount,
    turnedFaceCount: faces.turnedFaceCount,
    pieceToMaster,
    cutFaceCount,
  }
}
