/** Whether a part that came back in pieces or in part may as well have been laid another way. */
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import type { Scene } from '../../scene/scene.ts'
import { keepsUvs, POSITION_REACH } from '../match/correspond.ts'
import { pointsApart } from '../match/points-apart.ts'
import { isInOrder } from '../match/settled-by-order.ts'
import { symmetriesOf } from '../match/symmetries.ts'
import type { MatchedPart } from '../traits/trait.ts'
import { untouchedLabels, wrongIn } from './untouched-labels.ts'

/** Another answer is as good where it moves points no more than so many times as far. */
const AS_FAR = 1.2

/** How far points lie from their counterparts in the mean. */
function movesOf({ master, returned }: MatchedPart, pointToReturned: Int32Array): number {
  let [found, sum] = [0, 0]
  pointToReturned.forEach((other, point) => {
    if (other < 0) return
    found++
    sum += pointsApart(master, point, returned, other)
  })
  return sum / Math.max(1, found)
}

/**
 * A symmetrical part that moved and came back in pieces or in part may as well have been laid another way, unless its UVs, its
 * order or what its polygons are called say otherwise. One that came back whole was asked when it was matched.
 */
export function mayLieOtherwise(masterScene: Scene, returnedScene: Scene, part: MatchedPart): boolean {
  const { master, returned, correspondence, match } = part
  if (correspondence.guess || correspondence.matchedFaceCount === 0) return false
  if (match.by !== 'pieces' && correspondence.kind !== 'partial') return false
  const symmetries = symmetriesOf(master).filter(
    // what is flat lies on itself the wrong way up, each point on its own place
    ({ points, keepsSides }) =>
      (keepsSides || correspondence.turnedFaceCount > 0) && points.some((image, point) => image !== point),
  )
  if (symmetries.length === 0) return false
  const moves = movesOf(part, correspondence.pointToReturned)
  // what stands in its place assumes nothing
  if (!(moves > diagonalOf(boundsOf(master.points)) * POSITION_REACH)) return false
  if (keepsUvs(master, returned, correspondence)) return false
  if (isInOrder(master, returned, correspondence)) return false
  const pairs = untouchedLabels(masterScene, returnedScene, part)
  const wrong = wrongIn(pairs, correspondence)
  return symmetries.some(({ points, faces }) => {
    const along = points.map((point) => correspondence.pointToReturned[point]!)
    if (!(movesOf(part, along) <= AS_FAR * moves)) return false
    const faceToReturned = faces.map((face) => correspondence.faceToReturned[face]!)
    return wrongIn(pairs, { faceToReturned }) <= wrong
  })
}
