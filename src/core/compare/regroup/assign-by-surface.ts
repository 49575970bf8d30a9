/** Pieces in other polygons than they left with: of the part on whose surface they lie. */
import { boxOfFaces, findOnSurface, type Standing } from '../match/on-surface.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { findShells } from './shells.ts'
import type { StandingMesh } from './vote-faces.ts'

/** A part of more pieces than this is not gone into piece by piece, and of more that came back nothing is. */
const [MOST_PIECES, MOST_CAME] = [200, 2000]

/** Some polygons of a mesh, where they stand. */
function pieceOf({ mesh, points }: StandingMesh, faces: readonly number[]): Standing | null {
  const faceOffsets = new Uint32Array(faces.length + 1)
  const corners: number[] = []
  faces.forEach((face, at) => {
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
      corners.push(mesh.faceVertices[corner]!)
    faceOffsets[at + 1] = corners.length
  })
  const piece = { points, faceOffsets, faceVertices: Uint32Array.from(corners) }
  const box = boxOfFaces(piece)
  return box && { ...piece, box }
}

const allFaces = (mesh: Mesh): number[] =>
  Array.from({ length: mesh.faceOffsets.length - 1 }, (_face, at) => at)

/**
 * @param masters where they stand; null for parts that are found already.
 * @param isNamed for each of the master's parts whether one came back under its name: what lies on it is left to that.
 * @param pieces of what came back, standing about where it stood: the part and the polygons of each.
 * @returns for each piece the master's part that it lies on; -1 where it lies on none, or on another nearly as well.
 */
export function assignBySurface(
  masters: readonly (StandingMesh | null)[],
  isNamed: readonly boolean[],
  returned: readonly StandingMesh[],
  pieces: readonly { readonly part: number; readonly faces: readonly number[] }[],
): number[] {
  const found = pieces.map(() => -1)
  if (pieces.length > MOST_CAME) return found
  const own: { readonly part: number; readonly piece: Standing }[] = []
  masters.forEach((standing, part) => {
    if (!standing) return
    const put = (faces: readonly number[]): void => {
      const piece = pieceOf(standing, faces)
      if (piece) own.push({ part, piece })
    }
    put(allFaces(standing.mesh))
    const { count, ofFace } = findShells(standing.mesh)
    if (count < 2 || count > MOST_PIECES) return
    const lists = Array.from({ length: count }, (): number[] => [])
    ofFace.forEach((shell, face) => lists[shell]!.push(face))
    for (const faces of lists) put(faces)
  })
  const theirs = pieces.flatMap(({ part, faces }, at) => {
    const piece = pieceOf(returned[part]!, faces)
    return piece ? [{ at, piece }] : []
  })
  const pairs = findOnSurface(own.map(({ piece }) => piece), theirs.map(({ piece }) => piece), (at) => own[at]!.part) // prettier-ignore
  for (const pair of pairs) {
    const { part } = own[pair.own]!
    if (!isNamed[part]) found[theirs[pair.other]!.at] = part
  }
  return found
}
