/** Pieces that were left open: of the part on whose surface they lie, or beside whose points theirs do. */
import { diagonalOf } from '../../base/math/box.ts'
import { boxOfFaces, findOnSurface, type Standing } from '../match/on-surface.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { nearestIn, type Nearest } from '../whole/nearest-points.ts'
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

/** How far a piece reaches beyond the box of the part that it was cut from, in that one's diagonals. */
const BEYOND = 0.06
/** How far its points lie from that one's in the mean, in edges: between those of other polygons lie four tenths of one. */
const FROM_POINTS = 0.25
/** Another part's have to lie off so many times as far. */
const CLEARLY = 2
/** Pieces come to so much of what is missing of a part that was cut up, in triangles. */
const [LEAST_OF_IT, MOST_OF_IT] = [0.6, 1.25]
/** Of more pairs than this nothing is asked; points of a piece that are, and cells along a part for finding its own. */
const [MOST_ASKED, LOOKED_AT, CELLS] = [4000, 96, 32]

const isWithin = (piece: Standing, own: Standing): boolean => {
  const beyond = BEYOND * diagonalOf(own.box)
  return [0, 1, 2].every(
    (axis) =>
      piece.box.min[axis]! >= own.box.min[axis]! - beyond &&
      piece.box.max[axis]! <= own.box.max[axis]! + beyond,
  )
}

/** How far some of a piece's points lie from the nearest of others, and how long its edges there are, in the mean. */
function offPoints({ points, faceOffsets, faceVertices }: Standing, near: Nearest): number {
  const step = Math.max(1, Math.floor((faceOffsets.length - 1) / LOOKED_AT))
  let [off, edges] = [0, 0]
  for (let face = 0; face + 1 < faceOffsets.length; face += step) {
    const [a, b] = [3 * faceVertices[faceOffsets[face]!]!, 3 * faceVertices[faceOffsets[face]! + 1]!]
    const [x, y, z] = [points[a]!, points[a + 1]!, points[a + 2]!]
    const { point, away } = near.of(x, y, z)
    if (point < 0) return Infinity
    off += away
    edges += Math.hypot(points[b]! - x, points[b + 1]! - y, points[b + 2]! - z)
  }
  return edges > 0 ? off / edges : Infinity
}

/**
 * Pieces of parts that were cut up and whose points have all moved a little: the points of each lie beside points of one part,
 * and together they come to as many triangles as are missing of it.
 *
 * @param masters where they stand.
 * @param wanted triangles that are still missing of each of the master's parts; 0 for those that are all there.
 * @param isBegun whether a piece of one of the master's parts is known.
 * @returns for each piece the master's part that it was cut from; -1 where that is none, or might be another.
 */
export function assignCutUp(
  masters: readonly StandingMesh[],
  wanted: readonly number[],
  isBegun: (part: number) => boolean,
  returned: readonly StandingMesh[],
  pieces: readonly { readonly part: number; readonly faces: readonly number[] }[],
): number[] {
  const found = pieces.map(() => -1)
  const own = masters.map((standing, part) =>
    wanted[part]! > 0 ? pieceOf(standing, allFaces(standing.mesh)) : null,
  )
  const theirs = pieces.map(({ part, faces }) => pieceOf(returned[part]!, faces))
  const near = theirs.map((piece) => own.flatMap((one, part) => (piece && one && isWithin(piece, one) ? [part] : []))) // prettier-ignore
  if (near.reduce((sum, parts) => sum + parts.length, 0) > MOST_ASKED) return found
  const known = new Map<number, Nearest>()
  const pointsOf = (part: number): Nearest => {
    const cells = known.get(part) ?? nearestIn(own[part]!.points, own[part]!.box, CELLS)
    known.set(part, cells)
    return cells
  }
  const sums = masters.map(() => 0)
  const counts = masters.map((_standing, part) => Number(isBegun(part)))
  theirs.forEach((piece, at) => {
    const offs = near[at]!.map((part) => ({ part, off: offPoints(piece!, pointsOf(part)) })).sort(
      (a, b) => a.off - b.off,
    )
    const [best, next] = offs
    if (!best || best.off > FROM_POINTS || (next && next.off < best.off * CLEARLY)) return
    found[at] = best.part
    counts[best.part]!++
    sums[best.part]! += piece!.faceVertices.length - 2 * (piece!.faceOffsets.length - 1)
  })
  // one alone was not cut off anything
  const isCutUp = (part: number): boolean => {
    const [sum, size] = [sums[part]!, wanted[part]!]
    return counts[part]! > 1 && sum >= LEAST_OF_IT * size && sum <= MOST_OF_IT * size
  }
  return found.map((part) => (part >= 0 && isCutUp(part) ? part : -1))
}
