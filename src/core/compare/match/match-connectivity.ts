/**
 * Finds the renumbering under which two meshes are the same polygons, though their points moved.
 *
 * On a manifold piece one pair of corners decides all others: walking round faces and across edges carries it
 * to the whole piece. What remains is to find that pair. Points are given labels by repeated refinement
 * (Weisfeiler & Leman 1968: a label gathers its neighbours' labels), the rarest label gives the fewest
 * candidates, and of the walks that succeed the one that moves points least is taken, so that a symmetrical
 * piece (a lathe) comes back unturned.
 */
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { computeFaceNormals } from '../../mesh/relations/face-normals.ts'
import { turnFaces } from '../../mesh/orientation/turn-faces.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { fitSimilarity } from '../whole/similarity.ts'
import { WAYS } from './evidence/by-corner-order.ts'
import { faceOfCorners } from './order-fits.ts'
import { pairLoosePoints } from './pair-loose-points.ts'
import { pointsApart } from './points-apart.ts'
import { BY_SO_MUCH, FAR_BEHIND, matchByWalking, UVS_TELL, type Connected } from './walk-pieces.ts'

/** Points of which fewer stand in numbers that fit by chance: of a quad every third numbering does. */
const LEAST_NUMBERED = 8
/** Mean agreement of the normals of polygons from which on they look the same way. */
const SAME_WAY = 0.5

/**
 * @param numbersCount the one came of the other, so that numbers which fit in either winding say which is which; of two
 * parts made alike they say nothing.
 * @returns null where the meshes are not the same polygons.
 */
export function matchConnectivity(master: Mesh, returned: Mesh, numbersCount = true): Connected | null {
  if (
    pointCountOf(master) !== pointCountOf(returned) ||
    faceCountOf(master) !== faceCountOf(returned) ||
    cornerCountOf(master) !== cornerCountOf(returned)
  )
    return null
  const inOrder = matchCornerOrder(master, returned)
  const bent = inOrder ? unlikeBefore(master, returned, inOrder) : 0
  // pieces that stand in another order may have that of a ring which was turned: then it looks like nothing that it was
  const walked = bent > MUCH_BENT ? matchByWalking(master, returned) : null
  if (walked && unlikeBefore(master, returned, walked.pairs) < bent * LESS_BENT) return walked
  if (inOrder) return { pairs: inOrder, guess: false, uvShare: null }
  const isNumbered = pointCountOf(master) >= LEAST_NUMBERED ? hasSameNumbers : hasSameCorners
  if (numbersCount && isNumbered(master, returned)) return { pairs: Int32Array.from({ length: pointCountOf(master) }, (_point, at) => at), guess: false, uvShare: null } // prettier-ignore
  const straight = matchByWalking(master, returned)
  const isContradicted = straight?.uvShare != null && straight.uvShare < UVS_TELL
  if (straight && !isContradicted && facesAgree(master, returned, straight.pairs)) return straight
  // a symmetrical piece that was turned inside out is its own mirror image to a walk the same way round
  const turned = matchByWalking(master, turnFaces(returned))
  if (!straight || !turned) return straight ?? turned
  if (tellsMore(turned, straight)) return turned
  if (tellsMore(straight, turned) || (isContradicted && facesAgree(master, returned, straight.pairs)))
    return straight
  const [move, turnedMove] = [straight, turned].map(({ pairs }) => moveOf(master, returned, pairs)) as [
    number,
    number,
  ]
  const [best, least, most] = turnedMove < move ? [turned, turnedMove, move] : [straight, move, turnedMove]
  return { ...best, guess: best.guess || most < least * FAR_BEHIND }
}

const tellsMore = (
  { uvShare: one }: { uvShare: number | null },
  { uvShare: other }: { uvShare: number | null },
): boolean => one !== null && other !== null && one >= UVS_TELL && one >= other + BY_SO_MUCH

/** Polygons over paired points look the same way as at home, by the mean of their normals' cosines. */
function facesAgree(master: Mesh, returned: Mesh, pairs: Int32Array): boolean {
  const points = new Float64Array(master.points.length)
  pairs.forEach((other, point) => {
    if (other >= 0) points.set(returned.points.subarray(3 * other, 3 * other + 3), 3 * point)
  })
  const before = computeFaceNormals(master)
  const after = computeFaceNormals({ ...master, points })
  let sum = 0
  let count = 0
  for (let face = 0; face < faceCountOf(master); face++) {
    const at = 3 * face
    const lengths =
      Math.hypot(before[at]!, before[at + 1]!, before[at + 2]!) *
      Math.hypot(after[at]!, after[at + 1]!, after[at + 2]!)
    if (!(lengths > 0)) continue
    sum +=
      (before[at]! * after[at]! + before[at + 1]! * after[at + 1]! + before[at + 2]! * after[at + 2]!) /
      lengths
    count++
  }
  return count === 0 || sum / count > SAME_WAY
}

/** What is left of a part once it is brought onto what it became, as a share of its size: so much is another shape. */
const MUCH_BENT = 0.05
const LESS_BENT = 0.25
/** Points that are looked at for it. */
const MOST_LOOKED_AT = 600

/** How much of a part's shape changed where these are its points, as a share of its size; 0 where that says nothing. */
function unlikeBefore(master: Mesh, returned: Mesh, pairs: Int32Array): number {
  const step = Math.max(1, Math.floor(pairs.length / MOST_LOOKED_AT))
  const [before, after]: [number[], number[]] = [[], []]
  for (let point = 0; point < pairs.length; point += step) {
    const other = pairs[point]!
    if (other < 0) continue
    before.push(...master.points.subarray(3 * point, 3 * point + 3))
    after.push(...returned.points.subarray(3 * other, 3 * other + 3))
  }
  const fit = fitSimilarity(Float64Array.from(before), Float64Array.from(after))
  return fit && fit.spread > 0 ? fit.off / fit.spread : 0
}

/** Mean move of paired points, as a share of the part's diagonal. */
function moveOf(master: Mesh, returned: Mesh, pairs: Int32Array): number {
  let sum = 0
  pairs.forEach((other, point) => {
    if (other < 0) return
    sum += pointsApart(master, point, returned, other)
  })
  return sum / Math.max(1, pairs.length) / (diagonalOf(boundsOf(master.points)) || 1)
}

/** Share of the points that have to have corners enough for their polygons' order to be borne out. */
const BORNE_OUT = 0.25

/**
 * The points were renumbered but the polygons stand in the same order. Of polygons that share no points, and of a single one,
 * any order would do: most have to hold at further corners what one of them says.
 */
function matchCornerOrder(master: Mesh, returned: Mesh): Int32Array | null {
  for (let face = 0; face < master.faceOffsets.length; face++)
    if (master.faceOffsets[face] !== returned.faceOffsets[face]) return null
  const forward = new Int32Array(pointCountOf(master)).fill(-1)
  const backward = new Int32Array(forward.length).fill(-1)
  let paired = 0
  for (let corner = 0; corner < master.faceVertices.length; corner++) {
    const from = master.faceVertices[corner]!
    const to = returned.faceVertices[corner]!
    if (forward[from] === -1 && backward[to] === -1) {
      forward[from] = to
      backward[to] = from
      paired++
    } else if (forward[from] !== to || backward[to] !== from) return null
  }
  if (cornerCountOf(master) - paired < paired * BORNE_OUT) return null
  return pairLoosePoints(master, returned, forward, backward)
}

/** Every polygon has the corners that it had, in their order or all the way back. */
function hasSameCorners(master: Mesh, returned: Mesh): boolean {
  const faceOf = faceOfCorners(master)
  return WAYS.some((way) =>
    master.faceVertices.every((point, corner) => {
      const face = faceOf[corner]!
      const [start, end] = [master.faceOffsets[face]!, master.faceOffsets[face + 1]!]
      return start === returned.faceOffsets[face] && returned.faceVertices[start + way(corner - start, end - start)] === point // prettier-ignore
    }),
  )
}

/**
 * Every polygon stands between points of the same numbers as one at home, in either winding: nobody renumbered them, and
 * whatever else was done, a mirror among it, the numbers say which is which.
 */
function hasSameNumbers(master: Mesh, returned: Mesh): boolean {
  /** A polygon's points from its smallest on, towards the smaller of that one's two neighbours. */
  const keyOf = ({ faceOffsets, faceVertices }: Mesh, face: number): string => {
    const corners = faceVertices.subarray(faceOffsets[face]!, faceOffsets[face + 1]!)
    const size = corners.length
    let first = 0
    for (let step = 1; step < size; step++) if (corners[step]! < corners[first]!) first = step
    const on = corners[(first + 1) % size]! <= corners[(first + size - 1) % size]! ? 1 : size - 1
    let key = ''
    for (let step = 0; step < size; step++) key += `${corners[(first + on * step) % size]!} `
    return key
  }
  const own = new Map<string, number>()
  for (let face = 0; face < faceCountOf(master); face++) {
    const key = keyOf(master, face)
    own.set(key, (own.get(key) ?? 0) + 1)
  }
  for (let face = 0; face < faceCountOf(returned); face++) {
    const key = keyOf(returned, face)
    const left = own.get(key) ?? 0
    // most renumbered meshes are told apart by their first polygon
    if (left === 0) return false
    own.set(key, left - 1)
  }
  return true
}
