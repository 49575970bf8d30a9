import type { Correspondence } from '../../match/correspondence.ts'
import { boundsOf, diagonalOf } from '../../../base/math/box.ts'
import { closestSurface, distancesToSurface } from '../../../mesh/closest/closest-surface.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../../../scene/mesh.ts'
import { furtherPoints } from '../further-counterparts.ts'
import { unitSuffix } from '../length-text.ts'
import { FARTHEST, FLOAT_ROUNDING, soundDeviation, TRANSFORM_TOLERANCE } from '../sound-deviation.ts'
import {
  compared,
  NOTHING,
  sameWhereMatched,
  toldDeviation,
  type MatchedPart,
  type PointTolerance,
  type TraitComparison,
} from '../trait.ts'

/** Share of the part's diagonal below which a point has not moved: six digits of text survive it. */
export const POINT_TOLERANCE = 1e-6

export type ReturnedNumbers = Pick<MatchedPart, 'countedFrom' | 'placedOtherwise'>
const AS_THEY_STAND: ReturnedNumbers = { countedFrom: [0, 0, 0], placedOtherwise: false }

/**
 * How far a point of a part may come back from where it was and not have moved, in the part's own unit: a share of the
 * diagonal of its polygons, and what two roundings to 32-bit floats change so far from where numbers count from: the part's
 * own origin, or that of the file (an eye two metres up is a thousand times smaller than that). Which programs and formats
 * it came through nobody knows; most keep 32 bits. What stands in its place by another transform may be off by as much more
 * as a transform may be off and be the same.
 *
 * @param numbers where the numbers of the returned file count from, in the part's own space, and whether it got there by
 * another transform.
 */
export function pointToleranceOf(
  mesh: Mesh,
  { countedFrom: [fromX, fromY, fromZ], placedOtherwise }: ReturnedNumbers = AS_THEY_STAND,
): PointTolerance {
  const ofDistance = placedOtherwise ? TRANSFORM_TOLERANCE : FLOAT_ROUNDING
  const diagonal = diagonalOf(boundsOf(usedPoints(mesh)))
  const share = diagonal < FARTHEST ? diagonal * POINT_TOLERANCE : 0
  return (x, y, z) => {
    const [dx, dy, dz] = [x - fromX, y - fromY, z - fromZ]
    const rounding = Math.sqrt(Math.max(x * x + y * y + z * z, dx * dx + dy * dy + dz * dz)) * ofDistance
    return rounding > share && rounding < FARTHEST ? rounding : share
  }
}

/** Places of the points that polygons have: one astray that none has says nothing of the part's size. */
function usedPoints({ points, faceVertices }: Mesh): Float64Array {
  if (faceVertices.length === 0) return points
  const isUsed = new Uint8Array(points.length / 3)
  for (let corner = 0; corner < faceVertices.length; corner++) isUsed[faceVertices[corner]!] = 1
  if (!isUsed.includes(0)) return points
  return points.filter((_value, at) => isUsed[Math.floor(at / 3)] === 1)
}

/** Whether all coordinates of a point are numbers. */
const hasPlace = ({ points }: Mesh, point: number): boolean =>
  points.subarray(3 * point, 3 * point + 3).every(Number.isFinite)

/** Share of the polygons below which those that are known again say nothing of the whole. */
const FEW_KNOWN = 0.1
/** Of what came back so much has to be known where the rest of the master was taken away. */
const TAKEN_AWAY = 0.5

const isMadeAnew = (master: Mesh, returned: Mesh, { matchedFaceCount }: Correspondence): boolean =>
  matchedFaceCount < FEW_KNOWN * faceCountOf(master) && matchedFaceCount < TAKEN_AWAY * faceCountOf(returned)

/** Surfaces of more points than this are not measured: it would take longer than all else. */
const MOST_MEASURED = 200_000

/** Of other polygons: how far the two surfaces lie from each other; null where that can't be measured. Says nothing of which point is which. */
function compareSurfaces(
  master: Mesh,
  returned: Mesh,
  known: number,
  unitMeters: number | null,
): TraitComparison | null {
  const total = pointCountOf(master)
  if (total + pointCountOf(returned) > MOST_MEASURED || !faceCountOf(master) || !faceCountOf(returned))
    return null
  const field = {
    master: distancesToSurface(master, closestSurface(returned)),
    returned: distancesToSurface(returned, closestSurface(master)),
  }
  let most = 0
  let sum = 0
  let count = 0
  // each side's points against the other's surface: those of coarse polygons alone may all lie on what they cut across
  for (const distance of [field.returned, field.master].flatMap((values) => [...values])) {
    if (Number.isNaN(distance)) continue
    most = Math.max(most, distance)
    sum += distance
    count++
  }
  if (count === 0 || !(most < FARTHEST)) return null
  return compared('incomparable', 'points-surface', {
    totalCount: total,
    deviation: most,
    parameters: {
      deviation: toldDeviation(most),
      mean: toldDeviation(sum / count),
      known,
      total: faceCountOf(master),
      unit: unitSuffix(unitMeters),
    },
    places: { element: 'points', master: new Uint32Array(0), returned: new Uint32Array(0), field },
  })
}

/** Points whose rational weight is another one; a point without has 1. */
function otherWeights(master: Mesh, returned: Mesh, match: Correspondence): number {
  const [from, to] = [master.pointWeights, returned.pointWeights]
  if (!from && !to) return 0
  const changed = new Set<number>()
  const look = (point: number, other: number): void => {
    if (other >= 0 && (from?.[point] ?? 1) !== (to?.[other] ?? 1)) changed.add(point)
  }
  match.pointToReturned.forEach((other, point) => look(point, other))
  const further = furtherPoints(match)
  further.own.forEach((point, at) => look(point, further.other[at]!))
  return changed.size
}

/**
 * Positions of paired points, in the master part's own space.
 * @param unitMeters the master's unit, for the sentence.
 * @param numbers where the returned file's numbers count from, in the master part's own space.
 */
export function comparePoints(
  master: Mesh,
  returned: Mesh,
  match: Correspondence,
  unitMeters: number | null,
  numbers: ReturnedNumbers = AS_THEY_STAND,
): TraitComparison {
  const total = pointCountOf(master)
  if (total === 0) return NOTHING
  const toleranceAt = pointToleranceOf(master, numbers)
  const moved: number[] = []
  const movedReturned: number[] = []
  let largest = 0
  let missing = 0
  let nowhere = 0
  const field = {
    master: new Float32Array(total).fill(NaN),
    returned: new Float32Array(pointCountOf(returned)).fill(NaN),
  }
  const isMoved = new Uint8Array(total)
  const look = (point: number, other: number): void => {
    const x = master.points[3 * point]!
    const y = master.points[3 * point + 1]!
    const z = master.points[3 * point + 2]!
    const dx = x - returned.points[3 * other]!
    const dy = y - returned.points[3 * other + 1]!
    const dz = z - returned.points[3 * other + 2]!
    const square = dx * dx + dy * dy + dz * dz
    // the square of what lies very far off is more than a number can be
    const deviation = soundDeviation(square < Infinity ? Math.sqrt(square) : Math.hypot(dx, dy, dz), () =>
      [0, 1, 2].every((axis) =>
        Object.is(master.points[3 * point + axis], returned.points[3 * other + axis]),
      ),
    )
    // what has no number has no colour either
    const shown = deviation < FARTHEST ? deviation : NaN
    field.returned[other] = shown
    // of copies the one that lies farthest off
    if (!(field.master[point]! >= shown)) field.master[point] = shown
    if (deviation === 0) return
    if (deviation === FARTHEST && !(hasPlace(master, point) && hasPlace(returned, other))) {
      if (!isMoved[point]) nowhere++
    } else if (deviation > largest) largest = deviation
    if (deviation > toleranceAt(x, y, z)) {
      if (!isMoved[point]) moved.push(point)
      isMoved[point] = 1
      movedReturned.push(other)
    }
  }
  for (let point = 0; point < total; point++) {
    const other = match.pointToReturned[point]!
    if (other < 0) missing++
    else look(point, other)
  }
  const further = furtherPoints(match)
  for (let at = 0; at < further.own.length; at++) look(further.own[at]!, further.other[at]!)
  if (match.kind === 'none' || (missing > 0 && isMadeAnew(master, returned, match))) {
    const measured = compareSurfaces(master, returned, match.matchedFaceCount, unitMeters)
    if (measured) return measured
  }
  if (match.kind === 'none') return compared('incomparable', 'not-matched', { totalCount: total })
  const places = {
    element: 'points' as const,
    master: Uint32Array.from(moved),
    returned: Uint32Array.from(movedReturned),
    field,
  }
  if (moved.length > 0)
    return compared(
      'changed',
      nowhere > 0 ? 'points-nowhere' : missing > 0 ? 'points-partly' : 'points-moved',
      {
        changedCount: moved.length,
        totalCount: total,
        deviation: largest,
        parameters: {
          changed: moved.length,
          total,
          ...(nowhere > 0 ? { nowhere } : {}),
          ...(missing > 0 ? { without: missing } : {}),
          deviation: largest,
          unit: unitSuffix(unitMeters),
        },
        places,
      },
    )
  const weighted = otherWeights(master, returned, match)
  if (weighted > 0)
    return compared('changed', 'point-weights', {
      changedCount: weighted,
      totalCount: total,
      parameters: { changed: weighted, total },
    })
  if (missing > 0) return sameWhereMatched(missing, total)
  if (largest > 0)
    return compared('within', 'within', {
      totalCount: total,
      deviation: largest,
      parameters: { deviation: largest },
    })
  return compared('same', 'same', { totalCount: total, deviation: 0 })
}
