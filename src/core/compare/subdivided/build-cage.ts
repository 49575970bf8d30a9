import { plainSources, rebuildMesh } from '../../mesh/rebuilding/rebuild-mesh.ts'
import { subdivideMesh } from '../../mesh/subdividing/subdivide-mesh.ts'
import { cornerCountOf, EMPTY_MESH, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { correspond } from '../match/correspond.ts'
import type { Correspondence } from '../match/correspondence.ts'
import { turnedFaces } from '../match/turned-faces.ts'
import { createTelling } from './telling-face.ts'
import { refinedCorners } from './unrefine-uvs.ts'

/** Which elements of a cage are the master's. */
export type CageCorrespondence = Pick<
  Correspondence,
  'pointToReturned' | 'cornerToReturned' | 'pieceCorners' | 'guess'
>

/** What was found of a master's finer polygons in what came back. */
export interface FoundRefined extends Correspondence {
  /** The finer polygons that were looked for. */
  readonly expected: Mesh
  /** For each corner of the master the one of `expected` that stands for it. */
  readonly there: Uint32Array
  /** One a finer polygon; 1 for those that came back wound the other way. */
  readonly turned: Uint8Array
}

/** @returns null where it could be laid in several ways. */
export function findRefined(master: Mesh, returned: Mesh, levels: number): FoundRefined | null {
  const [first] = master.uvSets
  const bare: Mesh = { ...EMPTY_MESH, points: master.points, faceOffsets: master.faceOffsets, faceVertices: master.faceVertices, uvSets: first ? [first] : [] } // prettier-ignore
  const expected = subdivideMesh(bare, { levels, uvMode: 'boundaries', sharpCorners: false })
  const found = correspond(expected, returned)
  if (found.guess) return null
  return { ...found, expected, there: refinedCorners(master, levels), turned: turnedFaces(expected, returned, found) } // prettier-ignore
}

/** Whether all that a polygon of the master was refined into came back wound one way. */
export function windsOneWay(master: Mesh, { turned, expected }: FoundRefined): (face: number) => boolean {
  const perCorner = faceCountOf(expected) / Math.max(1, cornerCountOf(master))
  return (face) => {
    const own = turned.subarray(master.faceOffsets[face]! * perCorner, master.faceOffsets[face + 1]! * perCorner) // prettier-ignore
    return own.every((is) => is === own[0])
  }
}

/** For each face of the master the faces that came back for its finer ones, or for pieces of these. */
function finerFaces(
  master: Mesh,
  perCorner: number,
  { faceToReturned, pieceToMaster }: Pick<Correspondence, 'faceToReturned' | 'pieceToMaster'>,
): number[][] {
  const faceOf = new Int32Array(cornerCountOf(master))
  for (let face = 0; face < faceCountOf(master); face++)
    faceOf.fill(face, master.faceOffsets[face], master.faceOffsets[face + 1])
  const found = Array.from({ length: faceCountOf(master) }, (): number[] => [])
  const add = (finer: number, face: number): void =>
    void found[faceOf[Math.floor(finer / perCorner)]!]!.push(face)
  faceToReturned.forEach((face, finer) => face >= 0 && add(finer, face))
  pieceToMaster?.forEach((finer, face) => finer >= 0 && faceToReturned[finer] !== face && add(finer, face))
  return found
}

/**
 * The master's polygons on the points that came back for them, with what their corners had.
 *
 * @param stands faces of the master whose points and corners were all found, see {@link windsOneWay}.
 * @param rest faces of the returned mesh that are in it as they came.
 */
export function buildCage(
  master: Mesh,
  returned: Mesh,
  {
    pointToReturned,
    cornerToReturned,
    faceToReturned,
    pieceToMaster,
    joinedPoints,
    there,
    turned,
    expected,
  }: FoundRefined,
  stands: readonly number[],
  rest: readonly number[],
): { readonly mesh: Mesh; readonly known: CageCorrespondence } {
  const known = {
    pointToReturned: new Int32Array(pointCountOf(master)).fill(-1),
    cornerToReturned: new Int32Array(cornerCountOf(master)).fill(-1),
    pieceCorners: null,
  }
  const perCorner = faceCountOf(expected) / Math.max(1, cornerCountOf(master))
  const newOf = new Int32Array(pointCountOf(returned)).fill(-1)
  const pointSources: number[] = []
  const faceVertices: number[] = []
  const cornerSources: number[] = []
  const faceSources: number[] = []
  const faceOffsets = [0]
  const add = (point: number, corner: number): void => {
    const counted = joinedPoints ? joinedPoints[point]! : point
    if (newOf[counted]! < 0) newOf[counted] = pointSources.push(counted) - 1
    faceVertices.push(newOf[counted]!)
    cornerSources.push(corner)
  }
  const tellingFace = createTelling(returned)
  const finerOf = finerFaces(master, perCorner, { faceToReturned, pieceToMaster })
  for (const face of stands) {
    const [start, end] = [master.faceOffsets[face]!, master.faceOffsets[face + 1]!]
    // all that it was refined into came back wound one way
    const isTurned = turned[start * perCorner] === 1
    for (let step = 0; step < end - start; step++) {
      const corner = isTurned && step > 0 ? end - step : start + step
      const point = master.faceVertices[corner]!
      known.cornerToReturned[corner] = faceVertices.length
      add(pointToReturned[point]!, cornerToReturned[there[corner]!]!)
      known.pointToReturned[point] = faceVertices.at(-1)!
    }
    faceSources.push(tellingFace(finerOf[face]!))
    faceOffsets.push(faceVertices.length)
  }
  for (const face of rest) {
    for (let corner = returned.faceOffsets[face]!; corner < returned.faceOffsets[face + 1]!; corner++)
      add(returned.faceVertices[corner]!, corner)
    faceSources.push(face)
    faceOffsets.push(faceVertices.length)
  }
  const mesh = rebuildMesh(
    { ...returned, normals: null, creases: null, smoothing: returned.smoothing?.kind === 'edges' ? null : returned.smoothing }, // prettier-ignore
    {
      pointSources: plainSources(Int32Array.from(pointSources)),
      faceOffsets: Uint32Array.from(faceOffsets),
      faceVertices: Uint32Array.from(faceVertices),
      cornerSources: plainSources(Int32Array.from(cornerSources)),
      faceSources: Int32Array.from(faceSources),
    },
  )
  return { mesh, known }
}
