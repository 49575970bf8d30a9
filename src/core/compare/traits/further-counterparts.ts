/**
 * What came of an element besides its first counterpart: corners of the other pieces of a polygon that was cut, points that
 * were split off. What they carry may be another thing than what the first carries, and has to be looked at as well.
 */
import { remember } from '../../base/remembering/remember.ts'
import type { Correspondence } from '../match/correspondence.ts'

/** Pairs, one a place: an element of the master, and one that came of it and is not its first counterpart. */
export interface Further {
  readonly own: Int32Array
  readonly other: Int32Array
}

const NONE: Further = { own: new Int32Array(0), other: new Int32Array(0) }

/** @param ownOf of an element that came back: the master's that it is a further one of, -1 for none. */
function gather(count: number, ownOf: (other: number) => number): Further {
  let found = 0
  for (let other = 0; other < count; other++) if (ownOf(other) >= 0) found++
  if (found === 0) return NONE
  const own = new Int32Array(found)
  const others = new Int32Array(found)
  let at = 0
  for (let other = 0; other < count; other++) {
    const from = ownOf(other)
    if (from < 0) continue
    own[at] = from
    others[at++] = other
  }
  return { own, other: others }
}

/** Corners of pieces beyond the one that stands for a corner. */
export const furtherCorners = remember(({ pieceCorners, cornerToReturned }: Correspondence): Further => {
  if (!pieceCorners) return NONE
  return gather(pieceCorners.length, (other) => {
    const own = pieceCorners[other]!
    return own >= 0 && cornerToReturned[own] !== other ? own : -1
  })
})

/** Points that were split off others: each with the point of the master that those they count as are the counterpart of. */
export const furtherPoints = remember(({ joinedPoints, pointToReturned }: Correspondence): Further => {
  if (!joinedPoints) return NONE
  const back = new Int32Array(joinedPoints.length).fill(-1)
  for (let point = pointToReturned.length - 1; point >= 0; point--)
    if (pointToReturned[point]! >= 0) back[pointToReturned[point]!] = point
  return gather(joinedPoints.length, (other) =>
    joinedPoints[other] === other ? -1 : back[joinedPoints[other]!]!,
  )
})
