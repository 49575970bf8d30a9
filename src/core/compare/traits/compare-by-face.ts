/** Materials, surfaces and groups: what faces are assigned to. */
import type { Correspondence } from '../match/correspondence.ts'
import { type Places } from './trait.ts'

/**
 * Compares a text a face, null for a face that has none; of a face that was cut every piece.
 * @returns how many differ, and how many have no counterpart: those are neither changed nor the same.
 */
export function compareByFace(
  match: Correspondence,
  textOf: (face: number) => string | null,
  otherTextOf: (face: number) => string | null,
): { changed: number; without: number; places: Places } {
  const changed = new Set<number>()
  const changedReturned: number[] = []
  let without = 0
  for (let face = 0; face < match.faceToReturned.length; face++) {
    const other = match.faceToReturned[face]!
    if (other < 0) without++
    else if (textOf(face) !== otherTextOf(other)) {
      changed.add(face)
      changedReturned.push(other)
    }
  }
  match.pieceToMaster?.forEach((face, piece) => {
    if (face < 0 || match.faceToReturned[face] === piece || textOf(face) === otherTextOf(piece)) return
    changed.add(face)
    changedReturned.push(piece)
  })
  return {
    changed: changed.size,
    without,
    places: {
      element: 'faces',
      master: Uint32Array.from(changed),
      returned: Uint32Array.from(changedReturned),
    },
  }
}
