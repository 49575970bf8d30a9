import type { Correspondence } from '../../compare/match/correspondence.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'

/**
 * Which element of `there` is which of `here`, both known from a third mesh that they come from.
 *
 * @param toHere from the third mesh to `here`, which may have cut its polygons. @param toThere from it to `there`.
 * @returns a correspondence as of a master `here` and a returned `there`.
 */
export function composeOver(toHere: Correspondence, here: Mesh, toThere: Correspondence): Correspondence {
  const through = (size: number, from: Int32Array, to: Int32Array): Int32Array => {
    const map = new Int32Array(size).fill(-1)
    from.forEach((own, element) => {
      if (own >= 0) map[own] = to[element]!
    })
    return map
  }
  const pointToReturned = through(pointCountOf(here), toHere.pointToReturned, toThere.pointToReturned)
  const faceToReturned = through(faceCountOf(here), toHere.faceToReturned, toThere.faceToReturned)
  const cornerToReturned = through(cornerCountOf(here), toHere.cornerToReturned, toThere.cornerToReturned)
  // points that were split from one of them go with it
  toHere.joinedPoints?.forEach((kept, point) => {
    pointToReturned[point] = pointToReturned[kept]!
  })
  toHere.pieceToMaster?.forEach((face, piece) => {
    if (face >= 0) faceToReturned[piece] = toThere.faceToReturned[face]!
  })
  toHere.pieceCorners?.forEach((corner, own) => {
    if (corner >= 0) cornerToReturned[own] = toThere.cornerToReturned[corner]!
  })
  const matchedFaceCount = faceToReturned.reduce((count, face) => count + Number(face >= 0), 0)
  const whole = matchedFaceCount === faceToReturned.length && pointToReturned.every((point) => point >= 0)
  return {
    kind: whole ? 'connectivity' : 'partial',
    pointToReturned,
    faceToReturned,
    cornerToReturned,
    matchedFaceCount,
    turnedFaceCount: 0,
    pieceToMaster: null,
    pieceCorners: null,
    cutFaceCount: 0,
    joinedPoints: null,
  }
}

/**
 * The same relation seen from the other side: of a mesh whose polygons are pieces of another's. Pieces of one polygon share
 * it.
 *
 * @param found of a master `other` and a returned `mesh`.
 * @returns as of a master `mesh` and a returned `other`.
 */
export function turnAround(found: Correspondence, mesh: Mesh): Correspondence {
  const turned = (size: number, map: Int32Array): Int32Array => {
    const back = new Int32Array(size).fill(-1)
    map.forEach((own, element) => {
      if (own >= 0) back[own] = element
    })
    return back
  }
  const pointToReturned = turned(pointCountOf(mesh), found.pointToReturned)
  const faceToReturned = turned(faceCountOf(mesh), found.faceToReturned)
  const cornerToReturned = turned(cornerCountOf(mesh), found.cornerToReturned)
  found.joinedPoints?.forEach((kept, point) => {
    pointToReturned[point] = pointToReturned[kept]!
  })
  found.pieceToMaster?.forEach((face, piece) => {
    if (face >= 0) faceToReturned[piece] = face
  })
  found.pieceCorners?.forEach((corner, own) => {
    if (corner >= 0) cornerToReturned[own] = corner
  })
  const matchedFaceCount = faceToReturned.reduce((count, face) => count + Number(face >= 0), 0)
  return {
    kind: 'partial',
    pointToReturned,
    faceToReturned,
    cornerToReturned,
    matchedFaceCount,
    turnedFaceCount: found.turnedFaceCount,
    pieceToMaster: null,
    pieceCorners: null,
    cutFaceCount: 0,
    joinedPoints: null,
  }
}
