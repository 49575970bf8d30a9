import { faceCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Correspondence } from './correspondence.ts'
import { windsBack } from './match-pieces.ts'

/** One a master face; 1 where it came back wound the other way, whole or in pieces. */
export function turnedFaces(
  { faceOffsets }: Mesh,
  returned: Mesh,
  { faceToReturned, cornerToReturned, pieceToMaster, pieceCorners }: Pick<Correspondence, 'faceToReturned' | 'cornerToReturned' | 'pieceToMaster' | 'pieceCorners'>, // prettier-ignore
): Uint8Array {
  const isTurned = new Uint8Array(faceToReturned.length)
  faceToReturned.forEach((other, face) => {
    const [start, end] = [faceOffsets[face]!, faceOffsets[face + 1]!]
    if (other < 0 || end - start < 3 || (pieceToMaster && pieceToMaster[other]! >= 0)) return
    const step = cornerToReturned[start + 1]! - cornerToReturned[start]!
    if (step !== 1 && step !== start + 1 - end) isTurned[face] = 1
  })
  if (pieceToMaster && pieceCorners)
    for (let piece = 0; piece < faceCountOf(returned); piece++) {
      const face = pieceToMaster[piece]!
      if (
        face >= 0 &&
        windsBack(pieceCorners, returned.faceOffsets[piece]!, returned.faceOffsets[piece + 1]!)
      )
        isTurned[face] = 1
    }
  return isTurned
}
