/** Along which elements a trait is carried, from the master to what came back and the other way. */
import type { Correspondence } from '../compare/match/correspondence.ts'
import type { CarryMap } from '../compare/traits/trait.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../scene/mesh.ts'

/** Master's elements whose counterparts each returned element is: the last of them, -1 for none. */
function invert(map: Int32Array, length: number): Int32Array {
  const inverse = new Int32Array(length).fill(-1)
  for (let index = 0; index < map.length; index++) if (map[index]! >= 0) inverse[map[index]!] = index
  return inverse
}

/** For carrying from what came back on to the master. */
export const forwardMap = (correspondence: Correspondence, returned: Mesh): CarryMap => ({
  points: correspondence.pointToReturned,
  sourcePoints: invert(correspondence.pointToReturned, pointCountOf(returned)),
  faces: correspondence.faceToReturned,
  corners: correspondence.cornerToReturned,
})

/** For carrying from the master on to what came back. */
export function backwardMap(correspondence: Correspondence, returned: Mesh): CarryMap {
  const { pieceToMaster, pieceCorners } = correspondence
  const corners = invert(correspondence.cornerToReturned, cornerCountOf(returned))
  const faces = invert(correspondence.faceToReturned, faceCountOf(returned))
  return {
    points: invert(correspondence.pointToReturned, pointCountOf(returned)),
    sourcePoints: correspondence.pointToReturned,
    faces: pieceToMaster ? faces.map((face, piece) => (face < 0 ? pieceToMaster[piece]! : face)) : faces,
    // every piece of a polygon that was cut has what the polygon's corners have
    corners: pieceCorners ? corners.map((corner, at) => (corner < 0 ? pieceCorners[at]! : corner)) : corners,
  }
}
