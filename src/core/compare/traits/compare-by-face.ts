/** Materials, surfaces and groups: what faces are assigned to. */
import type { Correspondence } from '../match/correspondence.ts'
import { type Places } from './trait.ts'

/** Compares a text a face; null for a face that has none. */
export function compareByFace(
  match: Correspondence,
  textOf: (face: number) => string | null,
  otherTextOf: (face: number) => string | null,
): { changed: number; places: Places } {
  const changed: number[] = []
  const changedReturned: number[] = []
  for (let face = 0; face < match.faceToReturned.length; face++) {
    const other = match.faceToReturned[face]!
    if (other >= 0 && textOf(face) === otherTextOf(other)) continue
    changed.push(face)
    if (other >= 0) changedReturned.push(other)
  }
  return {
    changed: changed.length,
    places: {
      element: 'faces',
      master: Uint32Array.from(changed),
      returned: Uint32Array.from(changedReturned),
    },
  }
}
