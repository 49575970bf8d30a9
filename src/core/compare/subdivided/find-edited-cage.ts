/**
 * Cages of meshes that were subdivided and edited as well, in either order: a polygon deleted or pulled out, a loop cut in.
 * Their numbers of polygons are no refinement's, so what was found is held against the master.
 */
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { mergePoints } from '../../mesh/rebuilding/edit-faces.ts'
import { countWelds, findWelds } from '../../mesh/welds/find-welds.ts'
import { cornerCountOf, faceCountOf, type Mesh } from '../../scene/mesh.ts'
import { correspond, POSITION_REACH } from '../match/correspond.ts'
import { buildCage, findRefined, windsOneWay } from './build-cage.ts'
import { MOST_LEVELS, undoLevels, type Cage } from './find-cage.ts'

/** How many polygons more or fewer there may be than refining gives, as a share: edited before, or after. */
const [BEFORE, AFTER] = [0.5, 0.3]
/** Share of the master's polygons, or of its finer ones, that have to be found again for it to be its refinement. */
const MOST_FOUND = 0.5
/** Refining the master to more polygons than this to look for them is not worth its time. */
const MOST_REFINED = 4_000_000

const facesAt = (master: Mesh, levels: number): number => cornerCountOf(master) * 4 ** (levels - 1)

/** The levels by which the master comes to nearly as many polygons, the nearest; 0 for none. */
function likelyLevels(master: Mesh, came: number, within: number): number {
  const off = (levels: number): number => Math.abs(Math.log(came / facesAt(master, levels)))
  let best = 1
  for (let levels = 2; levels <= MOST_LEVELS; levels++) if (off(levels) < off(best)) best = levels
  return off(best) <= Math.log(1 + within) ? best : 0
}

const quadsOf = (mesh: Mesh): number => cornerCountOf(mesh) / 2 - faceCountOf(mesh)
const sidesAreAll = (mesh: Mesh, sides: number): boolean => cornerCountOf(mesh) === sides * faceCountOf(mesh)

/** How many of the master's polygons are surely in a cage. */
function foundIn(master: Mesh, mesh: Mesh): number {
  const { matchedFaceCount, guess } = correspond(master, mesh)
  return guess ? 0 : matchedFaceCount
}

/** Edited and then refined: the levels are undone by how the polygons hang together. */
function editedBefore(master: Mesh, returned: Mesh): Cage | null {
  for (const [kind, sides] of [
    ['quads', 4],
    ['triangles', 3],
  ] as const) {
    if (!sidesAreAll(returned, sides)) continue
    const came = faceCountOf(returned)
    const levels = likelyLevels(master, kind === 'quads' ? came : (came * cornerCountOf(master)) / Math.max(1, 4 * (cornerCountOf(master) - 2 * faceCountOf(master))), BEFORE) // prettier-ignore
    if (levels === 0) continue
    // split at its seams it could be read in more ways, and by its seams alone
    const joined = welded(returned)
    const [best] = [returned, ...(joined ? [joined] : [])]
      .flatMap((mesh) => {
        const undone = undoLevels(master, mesh, levels, kind)
        return undone && !undone.isGuess ? [{ mesh: undone.mesh, found: foundIn(master, undone.mesh) }] : []
      })
      .sort((one, other) => other.found - one.found)
    if (best && best.found >= MOST_FOUND * faceCountOf(master))
      return { mesh: best.mesh, levels, kind, isGuess: false }
  }
  return null
}

/**
 * Refined and then edited: the master is refined as often and looked for in what came. Polygons of which all is there stand
 * for their finer ones; what is left of the others stays as it came.
 */
function editedAfter(master: Mesh, returned: Mesh): Cage | null {
  const levels = likelyLevels(master, quadsOf(returned), AFTER)
  if (levels === 0 || facesAt(master, levels) > MOST_REFINED) return null
  const refined = findRefined(master, returned, levels)
  if (!refined) return null
  const { faceToReturned, pointToReturned, cornerToReturned, pieceToMaster, there } = refined
  const perCorner = 4 ** (levels - 1)
  const childrenOf = (face: number): readonly [from: number, to: number] => [
    master.faceOffsets[face]! * perCorner,
    master.faceOffsets[face + 1]! * perCorner,
  ]
  const isOneWay = windsOneWay(master, refined)
  const isWhole = (face: number): boolean => {
    const [from, to] = childrenOf(face)
    for (let child = from; child < to; child++) if (faceToReturned[child]! < 0) return false
    if (!isOneWay(face)) return false
    for (let corner = master.faceOffsets[face]!; corner < master.faceOffsets[face + 1]!; corner++)
      if (cornerToReturned[there[corner]!]! < 0 || pointToReturned[master.faceVertices[corner]!]! < 0) return false // prettier-ignore
    return true
  }
  const stands = Array.from({ length: faceCountOf(master) }, (_face, face) => face).filter(isWhole)
  const found = faceToReturned.reduce((sum, face) => sum + Number(face >= 0), 0)
  if (stands.length === 0 || found < MOST_FOUND * faceToReturned.length) return null
  // what the standing ones are made of
  const isTaken = new Uint8Array(faceCountOf(returned))
  const stays = new Uint8Array(faceToReturned.length)
  for (const face of stands) {
    const [from, to] = childrenOf(face)
    stays.fill(1, from, to)
    for (let child = from; child < to; child++) isTaken[faceToReturned[child]!] = 1
  }
  pieceToMaster?.forEach((child, face) => {
    if (child >= 0 && stays[child]) isTaken[face] = 1
  })
  const rest = Array.from(isTaken, (_taken, face) => face).filter((face) => !isTaken[face])
  return {
    ...buildCage(master, returned, refined, stands, rest),
    levels,
    kind: sidesAreAll(returned, 3) ? 'cut' : 'quads',
    isGuess: false,
    rest: rest.length,
  }
}

/** Points that were split at seams joined; null where none are. */
function welded(mesh: Mesh): Mesh | null {
  if (!mesh.points.every(Number.isFinite)) return null
  const welds = findWelds(mesh.points, diagonalOf(boundsOf(mesh.points)) * POSITION_REACH * 0.01)
  return countWelds(welds) > 0 ? mergePoints(mesh, welds) : null
}

/**
 * The cage of a mesh that was subdivided and of which a little was edited before that or after it.
 *
 * @returns null where at least half of the master's polygons are not surely in it.
 */
export function findEditedCage(master: Mesh, returned: Mesh): Cage | null {
  return editedBefore(master, returned) ?? editedAfter(master, returned)
}
