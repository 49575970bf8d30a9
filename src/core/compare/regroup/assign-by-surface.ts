/** Pieces in other polygons than they left with: of the part on whose surface they lie. */
import {
  boxOfFaces,
  clearlyOne,
  surfacesApart,
  type OnSurface,
  type Standing,
} from '../match/surfaces-apart.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { findShells } from './shells.ts'
import type { StandingMesh } from './vote-faces.ts'

/** More pairs of pieces than this are not looked at. */
const MOST_PAIRS = 250_000
/** A part of more pieces than this is not gone into piece by piece. */
const MOST_PIECES = 200

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
  const found = pieces.map(() => -1)
  if (own.length * pieces.length > MOST_PAIRS) return found
  const near = pieces.flatMap(({ part, faces }, other): OnSurface[] => {
    const piece = pieceOf(returned[part]!, faces)
    if (!piece) return []
    return own.flatMap((one, at) => {
      const off = surfacesApart(one.piece, piece)
      return Number.isFinite(off) ? [{ own: at, other, off }] : []
    })
  })
  for (const { own: at, other } of clearlyOne(near, (a, b) => own[a]!.part === own[b]!.part))
    if (!isNamed[own[at]!.part]) found[other] = own[at]!.part
  return found
}
