/**
 * A model that is symmetrical and came back mirrored may as well have been turned, and the other way round: where neither
 * the order of its elements nor its UVs tell which, what was found is a guess.
 */
import { invertAffine, isMirroring, isNearly, multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import { IDENTITY_MATRIX, type Scene } from '../../scene/scene.ts'
import { spaceMatrix } from '../../scene/space.ts'
import { worldMatrices } from '../../scene/world.ts'
import type { SceneMatching } from '../match-scenes.ts'
import { keepsUvs } from '../match/correspond.ts'
import { isInOrder } from '../match/settled-by-order.ts'
import { symmetriesOf } from '../match/symmetries.ts'
import { determinant } from '../whole/similarity.ts'
import { partsOf, wayOf } from './standing-parts.ts'

/** Parts of which more are never all symmetrical alike but where they are alike. */
const MOST_PARTS = 40

/** How far the entries of two ways may differ; of moves as a share of the size. */
const SAME = 1e-4

/** An axis stays where its cosine lacks no more than this: what was sculpted is hardly turned. */
const ALONG = 0.02

/** How much a way assumes: nothing where it neither turns nor mirrors, 1 for a turn about one axis or a mirror across one. */
function effortOf(m: Matrix): number {
  const rows = [0, 1, 2].map((row) => [0, 1, 2].map((column) => m[4 * column + row]!))
  const factor = Math.cbrt(Math.abs(determinant(rows.flat()))) || 1
  /** Axes that stay, and those that are turned round. */
  const kept = rows.filter((row, at) => row[at]! / factor > 1 - ALONG).length
  const reversed = rows.filter((row, at) => row[at]! / factor < ALONG - 1).length
  if (kept === 3) return 0
  if (!isMirroring(m)) return kept === 1 ? 1 : 2
  return kept === 2 && reversed === 1 ? 1 : 2
}

/**
 * Whether all of what came back may as well have come another way that takes no more.
 *
 * @param base what came back, as it came. @param matching of it, by numbers of its elements.
 */
export function cameAnotherWay(master: Scene, base: Scene, matching: SceneMatching): boolean {
  const { matched } = matching
  if (matched.length === 0 || matched.length > MOST_PARTS) return false
  const own = partsOf(master, matched.map(({ match }) => match.masterNode), IDENTITY_MATRIX) // prettier-ignore
  const came = partsOf(base, matched.map(({ match }) => match.returnedNode), spaceMatrix(base.space, master.space)) // prettier-ignore
  const way = wayOf(own, came, matching)
  // all of it turned inside out is something that was done to it as well, which a mirror image spares
  const isTurnedOver = matched.every(({ correspondence: { turnedFaceCount, matchedFaceCount } }) => matchedFaceCount > 0 && turnedFaceCount === matchedFaceCount) // prettier-ignore
  const effort = way ? effortOf(way) + Number(isTurnedOver) : 0
  if (!way || effort === 0) return false
  const isTold = matched.some(
    ({ master: mesh, returned, correspondence }) =>
      isInOrder(mesh, returned, correspondence) || keepsUvs(mesh, returned, correspondence),
  )
  if (isTold) return false
  const worlds = worldMatrices(master)
  let common: { matrix: Matrix; size: number }[] | null = null
  for (const { match, master: mesh } of matched) {
    const world = worlds[match.masterNode]!
    const back = invertAffine(world)
    if (!back) return false
    const size = mesh.points.reduce((most, value) => Math.max(most, Math.abs(value)), 0)
    const its = symmetriesOf(mesh).filter(({ keepsSides }) => keepsSides).map(({ matrix }) => ({ size, matrix: multiplyMatrices(world, multiplyMatrices(matrix, back)) })) // prettier-ignore
    common = common ? common.filter((one) => its.some((other) => isNearly(one.matrix, other.matrix, SAME, SAME * Math.max(one.size, size)))) : its // prettier-ignore
    if (common.length === 0) return false
  }
  const turnsOver = (matrix: Matrix): number => Number(isTurnedOver && !isMirroring(matrix))
  return (
    common?.some(({ matrix }) => effortOf(multiplyMatrices(way, matrix)) + turnsOver(matrix) <= effort) ??
    false
  )
}
