import { countWelds, findWelds } from '../../mesh/welds/find-welds.ts'
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { isLonely } from '../../mesh/welds/loose-polygons.ts'
import { edgesOf } from '../../mesh/relations/adjacency.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Correspondence } from './correspondence.ts'
import { correspondPartlyWelded, correspondWelded } from './correspond-welded.ts'
import { matchByEvidence, type Evidence } from './match-evidence.ts'
import { matchConnectivity } from './match-connectivity.ts'
import { matchFaces } from './match-faces.ts'
import { matchPieces } from './match-pieces.ts'
import { matchPlacesWithin } from './match-places.ts'
import { matchPositions } from './match-positions.ts'
import { neighboursOf } from './neighbours.ts'
import { movedAsOne, permutedShells } from './permuted-shells.ts'
import { withoutUnheld } from './held-points.ts'
import { findSplits, packPoints, rejoinPoints } from './rejoin-points.ts'
import { rotatedPolygons } from './rotated-polygons.ts'
import { roundedPositions } from './rounded-positions.ts'
import { settledByOrder } from './settled-by-order.ts'
import { slidesOverSurface } from './slides-over-surface.ts'
import type { Connected } from './walk-pieces.ts'
import {
  agreeingUvs,
  allUvsAgree,
  contradictsLayout,
  contradictUvs,
  hasUvs,
  uvsBearOut,
} from './uv-agreement.ts'

/** Points closer than this share of the part's diagonal are taken for the same point. */
export const POSITION_REACH = 1e-5

const identityMap = (length: number): Int32Array => {
  const map = new Int32Array(length)
  for (let index = 0; index < length; index++) map[index] = index
  return map
}

const sameArray = (a: Uint32Array, b: Uint32Array): boolean => {
  if (a.length !== b.length) return false
  for (let index = 0; index < a.length; index++) if (a[index] !== b[index]) return false
  return true
}

/** Share of the polygons that have to be found for what was borne out elsewhere to count. */
const LEAST_BORNE_OUT = 0.25

/** Share from which on what hangs together alike is the same, wherever it lies. */
const MOST_BORNE_OUT = 0.8

/** Share of the UVs that agree where they settle which of a symmetrical shape's answers is the right one. */
const SETTLED = 0.95
/** Points up to which the answers of a symmetrical shape are all held against UVs that agree by halves. */
const MOST_ASKED = 20_000

const UNCUT = { pieceToMaster: null, pieceCorners: null, cutFaceCount: 0, joinedPoints: null }

/** Every element is the one of the same number. */
export const sameNumbering = (mesh: Mesh): Correspondence => ({
  kind: 'index',
  pointToReturned: identityMap(pointCountOf(mesh)),
  faceToReturned: identityMap(faceCountOf(mesh)),
  cornerToReturned: identityMap(cornerCountOf(mesh)),
  matchedFaceCount: faceCountOf(mesh),
  turnedFaceCount: 0,
  ...UNCUT,
})

/** The same polygons over the same numbers of points, in the same order. */
export const hasNumbersOf = (master: Mesh, returned: Mesh): boolean =>
  pointCountOf(master) === pointCountOf(returned) &&
  sameArray(master.faceOffsets, returned.faceOffsets) &&
  sameArray(master.faceVertices, returned.faceVertices)

/**
 * Finds which element of a returned part is which of the master's: by the same numbering; else by position;
 * else by connectivity, with moved points; else what lies in the same place or is borne out by other evidence,
 * as far as it goes. Points that were split count as the one that they were split from.
 *
 * Both meshes' points must be in the same space.
 */
export function correspond(master: Mesh, returned: Mesh): Correspondence {
  const asItIs = findCorrespondence(master, returned)
  if (asItIs.kind === 'index') return asItIs
  const found = foundMore(master, returned, asItIs)
  // the corners of a single polygon stand in a row whichever way round they were numbered anew
  const ordered =
    faceCountOf(master) === 1 || keepsUvs(master, returned, found)
      ? null
      : settledByOrder(master, returned, found, (moved) => findCorrespondence(master, moved))
  const best = ordered ?? found
  if (best.guess || !contradictsLayout(master, returned, best.cornerToReturned)) return best
  return { ...best, guess: true }
}

/** What was found, or more that is found over points that are joined wherever they lie on each other. */
function foundMore(master: Mesh, returned: Mesh, found: Correspondence): Correspondence {
  if (found.matchedFaceCount === faceCountOf(master)) return found
  const reach = diagonalOf(boundsOf(master.points)) * POSITION_REACH
  const welded = correspondPartlyWelded(master, returned, reach, correspond)
  return welded && welded.matchedFaceCount > found.matchedFaceCount ? welded : found
}

/** UVs that nobody touched say which is which, whatever the order says. */
export const keepsUvs = (master: Mesh, returned: Mesh, { cornerToReturned }: Correspondence): boolean =>
  (agreeingUvs(master, returned, cornerToReturned) ?? 0) >= SETTLED

function findCorrespondence(master: Mesh, returned: Mesh): Correspondence {
  const faceCount = faceCountOf(master)
  const reach = diagonalOf(boundsOf(master.points)) * POSITION_REACH
  if (hasNumbersOf(master, returned))
    return faceCount === 0
      ? withoutPolygons(master, returned, reach)
      : (permutedShells(master, returned, reach, (corners) => agreeingUvs(master, returned, corners)) ??
          rotatedPolygons(master, returned, reach) ??
          sameNumbering(master))
  const numbered = rotatedPolygons(master, returned, reach) ?? correspondByNumbers(master, returned, reach)
  if (numbered) return numbered
  const byPosition = matchPositions(master.points, returned.points, reach)
  const faces = matchFaces(master, returned, byPosition)
  const samePoints = pointCountOf(master) === pointCountOf(returned)
  const sameCounts = samePoints && faceCount === faceCountOf(returned)
  const isThere =
    sameCounts && faces.matchedFaceCount === faceCount && byPosition.every((point) => point >= 0)
  if (isThere && placesSettle(master, returned, faces.cornerToReturned, reach))
    return { kind: 'position', pointToReturned: byPosition, ...faces, ...UNCUT }
  // cut, and nothing has moved: where UVs say the same nothing else needs to be asked
  if (!sameCounts && samePoints && byPosition.every((point) => point >= 0)) {
    const cut = matchPieces(master, returned, byPosition, faces)
    if (cut.matchedFaceCount === faceCount && allUvsAgree(master, returned, cut.cornerToReturned))
      return { kind: 'connectivity', pointToReturned: byPosition, joinedPoints: null, ...cut }
  }
  const finite = [master, returned].every((mesh) => mesh.points.every(Number.isFinite))
  // UVs that nobody touched tell symmetrical answers apart
  let evident: Evident | null | undefined
  if (finite && hasUvs(master) && hasUvs(returned)) {
    evident = correspondByEvidence(master, returned, byPosition, reach)
    if (evident?.correspondence.kind === 'connectivity' && evident.mostly === 'uv')
      return evident.correspondence
  }
  const welded = finite && !isThere ? correspondWelded(master, returned, reach, correspond) : null
  const foundElse = Math.max(faces.matchedFaceCount, evident?.correspondence.matchedFaceCount ?? 0)
  if (welded && welded.matchedFaceCount >= Math.max(foundElse, faceCount * LEAST_BORNE_OUT)) return welded
  const inPlace = isThere ? (agreeingUvs(master, returned, faces.cornerToReturned) ?? 1) : 0
  const isAsked = !isThere || (inPlace < SETTLED && pointCountOf(master) <= MOST_ASKED)
  const byConnectivity = isAsked ? matchConnectivity(master, returned) : null
  // a symmetrical shape lies where it lay also where it was turned or mirrored: UVs that all agree then say so
  if (isThere && !((byConnectivity?.uvShare ?? 0) >= SETTLED))
    return { kind: 'position', pointToReturned: byPosition, ...faces, ...UNCUT }
  if (byConnectivity) {
    const { pairs, guess } = byConnectivity
    const connected = matchFaces(master, returned, pairs)
    if (connected.matchedFaceCount === faceCount)
      return {
        kind: 'connectivity',
        pointToReturned: pairs,
        ...connected,
        ...UNCUT,
        // where it lies in place another way the two say different things: UVs of its own for each point have spoken before
        guess: isThere || guess,
      }
  }
  if (finite) {
    const joined = correspondJoined(master, returned, reach)
    if (joined) return joined
    if (evident === undefined) evident = correspondByEvidence(master, returned, byPosition, reach)
    const places =
      evident && outdoesPlaces(evident, master, returned, byPosition)
        ? null
        : matchPlacesWithin(master, returned, byPosition, reach)
    const found = places && places.matchedFaceCount > faces.matchedFaceCount ? places : null
    if (evident && isBetter(evident, found ?? faces, master, returned)) return evident.correspondence
    if (found) return { kind: 'partial', ...found }
  }
  const some = byPosition.some((point) => point >= 0)
  return {
    kind: some ? 'partial' : 'none',
    pointToReturned: byPosition,
    joinedPoints: null,
    ...matchPieces(master, returned, byPosition, faces),
  }
}

/**
 * Points that hang together with nothing have any order: where each lies where one lay, that is which is which. Else they
 * are what their numbers say, which is a guess unless all of them moved as one or lines run between them.
 */
function withoutPolygons(master: Mesh, returned: Mesh, reach: number): Correspondence {
  const byNumbers = sameNumbering(master)
  const isInOrder = master.points.every((value, at) => Math.abs(value - returned.points[at]!) <= reach)
  if (isInOrder || pointCountOf(master) === 0) return byNumbers
  const pointToReturned = matchPositions(master.points, returned.points, reach)
  if (!pointToReturned.includes(-1)) return { ...byNumbers, kind: 'position', pointToReturned }
  return master.lines || movedAsOne(master, returned)
    ? byNumbers
    : { ...byNumbers, kind: 'connectivity', guess: true }
}

/**
 * Points of which fewer may have all their edges in any numbering; of a cube one numbering in eight hundred has. UVs that
 * stand elsewhere contradict it.
 */
const LEAST_NUMBERED = 8
const SURELY_NUMBERED = 32

/**
 * Polygons may stand in another order, be cut or turned over, but all edges at home join points of the same numbers: they
 * say which is which, also where a symmetrical shape that was turned lies where it lay.
 */
function correspondByNumbers(master: Mesh, returned: Mesh, reach: number): Correspondence | null {
  if (pointCountOf(master) !== pointCountOf(returned) || pointCountOf(master) < LEAST_NUMBERED) return null
  // of polygons that share no points each may have been turned within its own numbers
  if (faceCountOf(master) > 1 && isLonely(master)) return null
  // most renumbered meshes are told by their first edges, before all are gathered
  if (lacksFirstEdges(master, returned)) return null
  const { edgeCount, edgePoints } = edgesOf(master)
  if (edgeCount === 0) return null
  const { offsets, others } = neighboursOf(returned)
  for (let edge = 0; edge < edgeCount; edge++) {
    const [a, b] = [edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!]
    let joined = false
    for (let at = offsets[a]!; at < offsets[a + 1]! && !joined; at++) joined = others[at] === b
    if (!joined) return null
  }
  const over = (pointToReturned: Int32Array): Correspondence | null => {
    const faces = matchFaces(master, returned, pointToReturned)
    const matched = matchPieces(master, returned, pointToReturned, faces)
    const isByChance =
      pointCountOf(master) < SURELY_NUMBERED && contradictUvs(master, returned, matched.cornerToReturned)
    return matched.matchedFaceCount === faceCountOf(master) && !isByChance
      ? { kind: matched.cutFaceCount ? 'partial' : 'connectivity', pointToReturned, joinedPoints: null, ...matched } // prettier-ignore
      : null
  }
  const { faceOffsets, faceVertices } = master
  const byPlaces = permutedShells(master, { ...returned, faceOffsets, faceVertices }, reach, () => null)
  const numbered = over(identityMap(pointCountOf(master)))
  const permuted = byPlaces && over(byPlaces.pointToReturned)
  if (!numbered || !permuted) return permuted ?? numbered
  const share = ({ cornerToReturned }: Correspondence): number => agreeingUvs(master, returned, cornerToReturned) ?? 0 // prettier-ignore
  return share(numbered) > share(permuted) ? numbered : permuted
}

/** Edges of the first polygons that are looked for before all are. */
const FIRST_EDGES = 24

/** Whether one of the master's first edges joins no points of the same numbers. */
function lacksFirstEdges(master: Mesh, returned: Mesh): boolean {
  const wanted = new Map<number, Set<number>>()
  eachSide(master, (from, to) => {
    const low = Math.min(from, to)
    const ends = wanted.get(low) ?? new Set<number>()
    wanted.set(low, ends.add(Math.max(from, to)))
    return wanted.size < FIRST_EDGES
  })
  // nearly all sides of a large mesh are at none of them
  const isWanted = new Uint8Array(pointCountOf(returned))
  for (const low of wanted.keys()) isWanted[low] = 1
  eachSide(returned, (from, to) => {
    const low = from < to ? from : to
    if (isWanted[low] === 0) return true
    const ends = wanted.get(low)
    if (ends?.delete(from < to ? to : from) && ends.size === 0) wanted.delete(low)
    return wanted.size > 0
  })
  return wanted.size > 0
}

/** Calls back with the two points of each polygon's sides until that says no more. */
function eachSide({ faceOffsets, faceVertices }: Mesh, call: (from: number, to: number) => boolean): void {
  for (let face = 0; face + 1 < faceOffsets.length; face++) {
    const end = faceOffsets[face + 1]!
    for (let corner = faceOffsets[face]!; corner < end; corner++)
      if (!call(faceVertices[corner]!, faceVertices[corner + 1 < end ? corner + 1 : faceOffsets[face]!]!))
        return
  }
}

/** Each point where it lay, with all of its polygons: in which order these came says nothing else then. */
function liesThere(master: Mesh, returned: Mesh, reach: number): Pick<Connected, 'pairs' | 'guess'> | null {
  if (pointCountOf(master) !== pointCountOf(returned)) return null
  const pairs = matchPositions(master.points, returned.points, reach)
  if (pairs.includes(-1)) return null
  return matchFaces(master, returned, pairs).matchedFaceCount === faceCountOf(master) ? { pairs, guess: false } : null // prettier-ignore
}

/** Moved, and with points that were split: over the polygons as they hang together when those are joined again. */
function correspondJoined(master: Mesh, returned: Mesh, reach: number): Correspondence | null {
  if (pointCountOf(returned) <= pointCountOf(master) || faceCountOf(returned) !== faceCountOf(master))
    return null
  const { joined: joinedPoints } = findSplits(master, returned, reach)
  const packed = packPoints(returned, joinedPoints)
  const packedMatch = liesThere(master, packed.mesh, reach) ?? matchConnectivity(master, packed.mesh)
  if (!packedMatch) return null
  const pointToReturned = packedMatch.pairs.map((point) => packed.pointSources[point]!)
  const faces = matchFaces(master, rejoinPoints(returned, joinedPoints), pointToReturned)
  if (faces.matchedFaceCount < faceCountOf(master)) return null
  return { kind: 'connectivity', pointToReturned, ...faces, ...UNCUT, joinedPoints, guess: packedMatch.guess }
}

/** Share of the polygons that another evidence has to find to say as much. */
const AS_MUCH = 0.9

/**
 * Whether what lies where it lay is what it was: UVs say so, or most of them do and no points lie on each other, which
 * places can't tell apart.
 */
function placesSettle(master: Mesh, returned: Mesh, cornerToReturned: Int32Array, reach: number): boolean {
  if (!hasUvs(master) || !hasUvs(returned)) return true
  if (allUvsAgree(master, returned, cornerToReturned)) return true
  const share = agreeingUvs(master, returned, cornerToReturned)
  if (share !== null && share < (pointCountOf(master) <= MOST_ASKED ? SETTLED : 0.5)) return false
  return !master.points.every(Number.isFinite) || countWelds(findWelds(master.points, reach)) === 0
}

/** Where UVs that nobody touched say as much, and otherwise, places are those of a symmetrical shape that was mirrored. */
const isBetter = (
  { correspondence, mostly }: Evident,
  placed: Pick<Correspondence, 'matchedFaceCount' | 'cornerToReturned'>,
  master: Mesh,
  returned: Mesh,
): boolean =>
  correspondence.matchedFaceCount > placed.matchedFaceCount ||
  (mostly === 'uv' &&
    correspondence.matchedFaceCount >= placed.matchedFaceCount * AS_MUCH &&
    contradictUvs(master, returned, placed.cornerToReturned))

/** Share of the points below which too few lie where they lay for places to say anything beside what was found. */
const FEW_IN_PLACE = 0.5

/** Nearly all was found, most of which has moved; points were not welded, so that each would have its own place. */
function outdoesPlaces(
  { correspondence }: Evident,
  master: Mesh,
  returned: Mesh,
  byPosition: Int32Array,
): boolean {
  if (correspondence.matchedFaceCount < faceCountOf(master) * AS_MUCH) return false
  if (pointCountOf(returned) < pointCountOf(master)) return false
  let inPlace = 0
  for (let point = 0; point < byPosition.length; point++) if (byPosition[point]! >= 0) inPlace++
  return inPlace < byPosition.length * FEW_IN_PLACE
}

/** With the kind of evidence that gave most of it. */
interface Evident {
  readonly correspondence: Correspondence
  readonly mostly: Evidence
}

/** Share of the points up to which those that lie on each other are held against not being joined. */
const FEW_JOINED = 0.02

/** Moved, and with other polygons here and there, as far as anything bears it out. */
function correspondByEvidence(
  master: Mesh,
  returned: Mesh,
  byPosition: Int32Array,
  reach: number,
): Evident | null {
  const positions = roundedPositions(master, returned, byPosition, reach)
  // points that a tool split move alike and lie on each other still; those that the master has so are its own
  const { joined: joinedPoints, count: more } = findSplits(master, returned, reach)
  const joined = more > 0 ? evidenceOver(master, returned, positions, joinedPoints) : null
  const isWhole = joined?.correspondence.matchedFaceCount === faceCountOf(master)
  // a few points that rounding brought onto each other were not split
  const isSplit = more > pointCountOf(returned) * FEW_JOINED
  if (joined && (isWhole || isSplit)) return joined
  const apart = evidenceOver(master, returned, positions, null)
  // where most was split, a few polygons over what was not joined again are others as soon as not
  if (isSplit && apart && apart.correspondence.matchedFaceCount < faceCountOf(master) / 2) return null
  if (!joined || !apart) return joined ?? apart
  return joined.correspondence.matchedFaceCount >= apart.correspondence.matchedFaceCount ? joined : apart
}

function evidenceOver(
  master: Mesh,
  returned: Mesh,
  byPosition: Int32Array,
  joinedPoints: Uint32Array | null,
): Evident | null {
  const over = joinedPoints ? rejoinPoints(returned, joinedPoints) : returned
  const positions = joinedPoints
    ? byPosition.map((other) => (other < 0 ? -1 : joinedPoints[other]!))
    : byPosition
  const evident = matchByEvidence(master, over, positions, joinedPoints === null)
  if (!evident) return null
  const matched = matchPieces(master, over, evident.pointToReturned, matchFaces(master, over, evident.pointToReturned)) // prettier-ignore
  // the order of points, where it holds, says which is which wherever they went
  const pointToReturned =
    evident.by[0] === 'order'
      ? evident.pointToReturned
      : withoutUnheld(master, over, evident.pointToReturned, matched, positions)
  // where little is borne out the rest is not to be believed either
  if (matched.matchedFaceCount < faceCountOf(master) * LEAST_BORNE_OUT) return null
  const isTold = evident.by[0] === 'uv' || evident.by[0] === 'order'
  const isMost = matched.matchedFaceCount >= faceCountOf(master) * MOST_BORNE_OUT
  if (!isTold && !isMost && slidesOverSurface(master, over, pointToReturned)) return null
  const whole =
    matched.matchedFaceCount === faceCountOf(master) && pointToReturned.every((point) => point >= 0)
  const guess = evident.guess && !uvsBearOut(master, over, matched.cornerToReturned)
  return {
    correspondence: {
      kind: whole ? 'connectivity' : 'partial',
      pointToReturned,
      ...matched,
      joinedPoints,
      ...(guess ? { guess } : {}),
    },
    mostly: evident.by[0]!,
  }
}
