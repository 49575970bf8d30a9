/** Faces by the places that their corners lie in, whichever points were split or joined there. */
import { countWelds, findWelds } from '../../mesh/welds/find-welds.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Correspondence } from './correspondence.ts'
import { matchFaces } from './match-faces.ts'
import { createCornerFinder, matchPieces } from './match-pieces.ts'
import { EXACT } from './rejoin-points.ts'

/**
 * Matches faces, whole or in pieces, over places instead of points: points within `reach` of each other
 * (absolute, in the space that both meshes share) are one place. Points then follow from the faces that they
 * belong to, so that of points that the master has twice each goes with its own face; both with one where the tool
 * welded them.
 *
 * `joinedPoints` names for each returned point at a known corner the one that is the counterpart there. Points of
 * other polygons are the tool's own work, even where they touch a known one.
 *
 * @param byPosition counterparts of points that no face decides on; one a master point, -1 for none.
 */
export function matchPlaces(
  master: Mesh,
  returned: Mesh,
  byPosition: Int32Array,
  reach: number,
): Omit<Correspondence, 'kind'> {
  const own = pointCountOf(master)
  const points = new Float64Array(master.points.length + returned.points.length)
  points.set(master.points)
  points.set(returned.points, master.points.length)
  const placeOf = findWelds(points, reach)
  const masterPlaces = {
    ...master,
    points,
    faceVertices: master.faceVertices.map((point) => placeOf[point]!),
  }
  const returnedPlaces = {
    ...returned,
    points,
    faceVertices: returned.faceVertices.map((point) => placeOf[own + point]!),
  }
  const sameplace = Int32Array.from(placeOf.keys())
  const faces = matchFaces(masterPlaces, returnedPlaces, sameplace)
  const matched = matchPieces(masterPlaces, returnedPlaces, sameplace, faces)

  const pointToReturned = new Int32Array(own).fill(-1)
  const pointToMaster = new Int32Array(pointCountOf(returned)).fill(-1)
  const pair = (point: number, other: number): void => {
    if (pointToReturned[point]! >= 0 || pointToMaster[other]! >= 0) return
    pointToReturned[point] = other
    pointToMaster[other] = point
  }
  for (let corner = 0; corner < cornerCountOf(master); corner++) {
    const other = matched.cornerToReturned[corner]!
    if (other >= 0) pair(master.faceVertices[corner]!, returned.faceVertices[other]!)
  }
  // points that the tool welded share the one that is left
  for (let corner = 0; corner < cornerCountOf(master); corner++) {
    const other = matched.cornerToReturned[corner]!
    const point = master.faceVertices[corner]!
    if (other >= 0 && pointToReturned[point]! < 0) pointToReturned[point] = returned.faceVertices[other]!
  }
  byPosition.forEach((other, point) => other >= 0 && pair(point, other))

  const joinedPoints = Uint32Array.from(pointToMaster.keys())
  let splitCount = 0
  /** The corner's point counts as the counterpart of the master's point there, unless it is one itself. */
  const join = (other: number, point: number): void => {
    const counterpart = pointToReturned[point]!
    if (pointToMaster[other]! >= 0 || counterpart < 0 || joinedPoints[other] !== other) return
    joinedPoints[other] = counterpart
    splitCount++
  }
  const { pieceToMaster } = matched
  for (let face = 0; face < faceCountOf(master); face++)
    for (let corner = master.faceOffsets[face]!; corner < master.faceOffsets[face + 1]!; corner++) {
      const other = matched.cornerToReturned[corner]!
      if (other >= 0) join(returned.faceVertices[other]!, master.faceVertices[corner]!)
    }
  const cornersAt = createCornerFinder(masterPlaces)
  // further pieces of a polygon have corners of their own at its points
  pieceToMaster?.forEach((whole, piece) => {
    if (whole < 0) return
    for (let corner = returned.faceOffsets[piece]!; corner < returned.faceOffsets[piece + 1]!; corner++)
      for (const at of cornersAt(whole, returnedPlaces.faceVertices[corner]!))
        join(returned.faceVertices[corner]!, master.faceVertices[at]!)
  })
  return { ...matched, pointToReturned, joinedPoints: splitCount ? joinedPoints : null }
}

/** By how much narrower places are tried where the master has points beside each other within wider ones. */
const NARROWER = 0.1

/**
 * Over places no wider than they need to be: what the master has beside each other within reach is told apart where all of
 * it lies where it lay more nearly than that; to the last digits, or as nearly as 32 bits kept it.
 */
export function matchPlacesWithin(
  master: Mesh,
  returned: Mesh,
  byPosition: Int32Array,
  reach: number,
): ReturnType<typeof matchPlaces> {
  const weldsWithin = (distance: number): number => countWelds(findWelds(master.points, distance))
  let best = matchPlaces(master, returned, byPosition, reach)
  let welds = weldsWithin(reach)
  for (let width = reach * NARROWER; welds > 0 && width > reach * EXACT * NARROWER; width *= NARROWER) {
    const fewer = weldsWithin(width)
    if (fewer === welds) continue
    welds = fewer
    const narrow = matchPlaces(master, returned, byPosition, width)
    if (narrow.matchedFaceCount >= best.matchedFaceCount) best = narrow
  }
  return best
}
