import { joinNumbers } from '../../base/math/join-numbers.ts'
import { isNearly, multiplyMatrices, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import type { Scene } from '../../scene/scene.ts'
import { spaceMatrix } from '../../scene/space.ts'
import { partNodes, worldMatrices } from '../../scene/world.ts'
import type { MatchedPart } from '../traits/trait.ts'
import { wholeByBoxes } from './by-boxes.ts'
import { findToolWay } from './tool-ways.ts'
import { wholeBySurfaces } from './by-surfaces.ts'
import { findAlignment } from './find-alignment.ts'
import { standsInParts, wholeByPoints, type WholeFound } from './by-points.ts'
import { pointsEach, samplePairs, type PointPairs } from './point-pairs.ts'
import { middleOf } from './similarity.ts'
import { gatherPolygons, surfacesApart } from './surfaces-apart.ts'
import type { WholeChange } from './whole-change.ts'
import { axesOf } from './poses.ts'
import { IDENTITY_MATRIX } from '../../scene/scene.ts'

/** At least half of the parts of either side have one on the other: the boxes of few say nothing of all. */
function mostlyPaired(master: Scene, returned: Scene, matched: readonly MatchedPart[]): boolean {
  return [master, returned].every((scene) => 2 * matched.length >= partNodes(scene).length)
}

/** Share of the points below which those that have a counterpart say less than surfaces do. */
const FEW_FOUND = 0.1

type Found = readonly { readonly pointToReturned: Int32Array }[]

function shareFound(parts: Found): number {
  let found = 0
  let all = 0
  for (const { pointToReturned } of parts) {
    all += pointToReturned.length
    for (const other of pointToReturned) if (other >= 0) found++
  }
  return all > 0 ? found / all : 0
}

/** At least half of the points have a counterpart. */
const mostlyFound = (parts: Found): boolean => shareFound(parts) >= 0.5

/** Where which part is which is not known, all of them have to lie this near, as a share of the diagonal. */
const SURELY_THERE = 0.005
/** What points say of few of them is not borne out where their surfaces lie farther apart than this then. */
const NOT_THERE = 0.03

/** Of all parts together, where which is which is not known; null where their surfaces don't lie on each other then. */
function byAllSurfaces(
  master: Scene,
  returned: Scene,
  along: readonly Matrix[],
): ReturnType<typeof wholeBySurfaces> {
  const own = gatherPolygons(master, partNodes(master), IDENTITY_MATRIX)
  const other = gatherPolygons(returned, partNodes(returned), spaceMatrix(returned.space, master.space))
  const placed = { master: { mesh: own, world: IDENTITY_MATRIX }, returned: { mesh: other, world: IDENTITY_MATRIX } } // prettier-ignore
  const found = wholeBySurfaces([placed], along, { master: master.space, returned: returned.space })
  return found && surfacesApart(own, other, found.way) < SURELY_THERE ? found : null
}

/** How far the surfaces of parts that are the same lie apart along a way. */
function apartAlong(master: Scene, returned: Scene, matched: readonly MatchedPart[], way: Matrix): number {
  const change = spaceMatrix(returned.space, master.space)
  return surfacesApart(
    gatherPolygons(master, matched.map(({ match }) => match.masterNode), IDENTITY_MATRIX),
    gatherPolygons(returned, matched.map(({ match }) => match.returnedNode), change),
    way,
  ) // prettier-ignore
}

/** What entries of one way differ by. */
const SAME_WAY = 1e-9

/** A part stayed as it was where that leaves less than this share of what the way leaves, wherever it went. */
const CLEARLY_STAYED = 0.5

/** Whether most parts were neither sized nor turned as the whole seems to be: each was moved on its own. */
function movedApart(pairs: readonly PointPairs[], way: Matrix): boolean {
  if (pairs.length < 2) return false
  const centred = (points: Float64Array): Float64Array => {
    const middle = middleOf(points, new Uint8Array(points.length / 3).fill(1))
    return points.map((value, at) => value - middle[at % 3]!)
  }
  const turning = [...way.slice(0, 12), 0, 0, 0, 1]
  const apart = (a: Float64Array, b: Float64Array): number =>
    Math.sqrt(a.reduce((sum, value, at) => sum + (value - b[at]!) ** 2, 0))
  let [along, stayed] = [0, 0]
  for (const { master, returned } of pairs) {
    const [before, after] = [centred(master), centred(returned)]
    const [still, brought] = [apart(after, before), apart(after, transformPoints(before, turning))]
    if (still < brought * CLEARLY_STAYED) stayed += master.length
    else along += master.length
  }
  return stayed > along
}

interface ByPoints {
  readonly found: WholeFound | null
  /** Whether a part is one of those that said so. */
  readonly says: (part: number) => boolean
}

/**
 * By points: those of parts that could be laid in one way alone, as long as all others lie there as well then; else those
 * of all parts.
 */
function surelyFound(
  master: Scene,
  returned: Scene,
  matched: readonly MatchedPart[],
  pairs: readonly PointPairs[],
  byPoints: (some: readonly PointPairs[]) => WholeFound | null,
): ByPoints {
  const all: ByPoints = { found: byPoints(pairs), says: () => true }
  const isSure = matched.map(({ correspondence }) => !correspondence.guess)
  if (!isSure.includes(true) || !isSure.includes(false)) return all
  const sure = byPoints(pairs.filter((_pair, part) => isSure[part]))
  if (!sure || (all.found && isNearly(all.found.way, sure.way, SAME_WAY))) return all
  if (apartAlong(master, returned, matched, sure.way) >= SURELY_THERE) return all
  return { found: sure, says: (part) => isSure[part]! }
}

/**
 * What happened to a model as a whole, from points that correspond; from the boxes of its parts where hardly any do.
 *
 * @param matched with the returned meshes brought into the master parts' own spaces, as matching leaves them.
 */
export function findWholeChange(
  master: Scene,
  returned: Scene,
  matched: readonly MatchedPart[],
): WholeChange | null {
  const change = spaceMatrix(returned.space, master.space)
  const masterWorlds = worldMatrices(master)
  const returnedWorlds = worldMatrices(returned)
  const spaces = { master: master.space, returned: returned.space }
  const placed = matched.map(({ match, correspondence }) => ({
    pointToReturned: correspondence.pointToReturned,
    master: {
      mesh: master.meshes[master.nodes[match.masterNode]!.mesh]!,
      world: masterWorlds[match.masterNode]!,
    },
    returned: {
      mesh: returned.meshes[returned.nodes[match.returnedNode]!.mesh]!,
      world: multiplyMatrices(change, returnedWorlds[match.returnedNode]!),
    },
  }))
  const most = pointsEach(placed.length)
  const pairs = placed.map((part) => samplePairs(part.master, part.returned, part.pointToReturned, most))
  const byPoints = (some: readonly PointPairs[]): WholeFound | null =>
    wholeByPoints({ master: joinNumbers(some.map((part) => part.master)), returned: joinNumbers(some.map((part) => part.returned)) }, spaces) // prettier-ignore
  const { found, says } = surelyFound(master, returned, matched, pairs, byPoints)
  const undone = (by: NonNullable<ReturnType<typeof wholeBySurfaces>>): WholeChange | null =>
    by.none ? null : { ...by.told, undo: { ...by.undo, atTheTop: false } }
  const isRefuted =
    found !== null && !mostlyFound(placed) && apartAlong(master, returned, matched, found.way) > NOT_THERE
  const saysLittle = !found || isRefuted || shareFound(placed) < FEW_FOUND
  if (saysLittle && !mostlyPaired(master, returned, matched)) {
    const way = findToolWay(master, returned)
    const known = way && wholeBySurfaces(placed, [way], spaces)
    if (known && apartAlong(master, returned, matched, known.way) < NOT_THERE) return undone(known)
    const { along, others } = findAlignment(master, returned, [], true)
    const all = along && byAllSurfaces(master, returned, [along, ...others])
    if (all) return undone(all)
  }
  // surfaces speak where hardly anything corresponds, and boxes where not even these lie on each other; else what points
  // don't bear out did not happen
  if (!mostlyFound(placed) && mostlyPaired(master, returned, matched)) {
    const { along, fits, others } = findAlignment(master, returned, matched.map(({ match }) => match), saysLittle) // prettier-ignore
    const bySurfaces =
      saysLittle && fits ? wholeBySurfaces(placed, [along ?? IDENTITY_MATRIX, ...others], spaces) : null
    if (bySurfaces) return undone(bySurfaces)
    if (saysLittle) return fits && !along ? null : wholeByBoxes(placed, spaces)
  }
  if (
    !found ||
    found.none ||
    isRefuted ||
    movedApart(
      pairs.filter((_pair, part) => says(part)),
      found.way,
    )
  )
    return null
  const locals = placed
    .filter((_part, at) => says(at))
    .map((part) =>
      samplePairs(
        { mesh: part.master.mesh, world: IDENTITY_MATRIX },
        { mesh: part.returned.mesh, world: spaceMatrix(axesOf(returned.space), axesOf(master.space)) },
        part.pointToReturned,
        most,
      ),
    )
  const atTheTop = standsInParts(locals, found.undo, spaces)
  // where a part stands is told with its transform
  const { factor, turn, mirror } = found.told
  if (atTheTop && factor === 1 && !turn && !mirror) return null
  return { ...found.told, undo: { ...found.undo, atTheTop } }
}
