/** Where the points of a cage belong, so that what was sculpted at its points is what its points moved by. */
import {
  invertAffine,
  isNearly,
  multiplyMatrices,
  transformPoints,
  type Matrix,
} from '../../base/math/matrix.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { correspond } from '../match/correspond.ts'
import { byUvs } from '../match/evidence/by-uvs.ts'
import type { CageCorrespondence } from './build-cage.ts'
import { meantSimilarity } from '../whole/by-points.ts'
import { similarityMatrix } from '../whole/similarity.ts'
import {
  bestTry,
  sampledPairs,
  SCHEMES,
  tryScheme,
  type Scheme,
  type StandingCage,
  type Try,
} from './schemes.ts'

/** Share of the points whose UVs have to say which is which for places not to be asked as well. */
const MOST_BY_UVS = 0.95

/** An untouched layout says of nearly every point which is which, also of what is symmetrical, and all of it agrees. */
function isSaidByUvs(master: Mesh, cage: Mesh, pointToReturned: Int32Array): boolean {
  const said = byUvs(master, cage)
  if (!said || pointToReturned.includes(-1)) return false
  let agreed = 0
  for (let point = 0; point < said.length; point++) {
    if (said[point]! < 0) continue
    if (said[point] !== pointToReturned[point]) return false
    agreed++
  }
  return agreed >= said.length * MOST_BY_UVS
}

/** What entries of a matrix differ by where nothing was turned or moved. */
const AS_IT_STOOD = 1e-9

/** Share of what the way of all leaves that a part's own way may leave for the part to have gone its own. */
const ITS_OWN = 0.5

/** How a part went from where its points would lie: as all of it, unless it was turned, sized or moved on its own. */
function wayOf(expected: Float64Array, points: Float64Array, map: Int32Array, along: Matrix): Matrix {
  const [from, to] = sampledPairs([expected], [points], [map])
  const own = meantSimilarity(from, to)
  if (!own) return along
  const apart = (way: Matrix): number =>
    transformPoints(from, way).reduce((sum, value, at) => sum + Math.abs(value - to[at]!), 0)
  const ownWay = similarityMatrix(own)
  return apart(ownWay) < ITS_OWN * apart(along) ? ownWay : along
}

/**
 * The points of the cages: the master's own, brought to where all of it stands, and moved by what the points that
 * descend from them moved against where they would lie had nobody touched them. So what was not sculpted is the
 * master's, and refining alone, which draws points inwards, moves nothing. A part that went its own way is brought along it.
 *
 * @param toMaster what takes all of it about to where the master stands, as its surfaces tell; null where it stands there or nothing is known; asked for where UVs don't tell.
 * @returns 3 x n for each cage in the world of the master's scene, in the cage's numbering, and which scheme fits best.
 */
export function moveCages(
  cages: readonly StandingCage[],
  toMaster: () => Matrix | null = () => null,
): {
  readonly points: readonly Float64Array[]
  readonly scheme: Scheme
  readonly correspondences: readonly CageCorrespondence[]
  /** One a cage: it could be laid in other ways as well, as how all of it stands could be another. */
  readonly guessed: readonly boolean[]
} {
  let correspondences = cages.map(
    ({ master, mesh, known }): CageCorrespondence => known ?? correspond(master, mesh),
  )
  const isSaid = correspondences.map(
    ({ pointToReturned }, at) => cages[at]!.known !== undefined || isSaidByUvs(cages[at]!.master, cages[at]!.mesh, pointToReturned), // prettier-ignore
  )
  const brought = isSaid.includes(false) ? toMaster() : null
  if (brought)
    correspondences = cages.map((cage, at) => {
      const back = isSaid[at] ? null : invertAffine(cage.masterWorld)
      if (!back) return correspondences[at]!
      return correspond(cage.master, { ...cage.mesh, points: transformPoints(cage.points, multiplyMatrices(back, brought)) }) // prettier-ignore
    })
  const mapsOf = (): Int32Array[] => correspondences.map(({ pointToReturned }) => pointToReturned)
  const isSure = correspondences.map(({ guess }, at) => isSaid[at]! || !guess)
  const all = cages.map(() => true)
  const creased = cages.some(({ master }) => master.creases)
  const inTriangles = cages.some((cage) => cage.inTriangles)
  const schemes = SCHEMES.filter(({ creases, loop }) => (creased || !creases) && (inTriangles || !loop))
  const triesBy = (sure: readonly boolean[]): Try[] =>
    schemes.flatMap((scheme) => tryScheme(scheme, cages, mapsOf(), sure) ?? [])
  // how all of it stands is told by what could be laid in one way alone, where there is any
  const bySure = isSure.includes(true) ? triesBy(isSure) : []
  const tries = bySure.length > 0 ? bySure : triesBy(all)
  if (tries.length === 0)
    return { points: cages.map(({ points }) => points), scheme: SCHEMES[0]!, correspondences, guessed: isSure.map((sure) => !sure) } // prettier-ignore
  const best = bestTry(cages, mapsOf(), tries)
  const along = similarityMatrix(best.meant)
  // where it stands as it stood, however large, places say as much as they do of what was not refined
  const { factor } = best.meant
  const stands = [factor, 0, 0, 0, 0, factor, 0, 0, 0, 0, factor, 0, 0, 0, 0, 1]
  const isTold = bySure.length > 0 || isNearly(along, stands, AS_IT_STOOD * Math.max(1, factor))
  const back = invertAffine(along)!
  // brought to where they would lie, places say which point is which, also of what is symmetrical
  correspondences = cages.map(({ master, mesh, points }, at) =>
    isSaid[at]
      ? correspondences[at]!
      : correspond(
          { ...master, points: best.expected[at]! },
          { ...mesh, points: transformPoints(points, back) },
        ),
  )
  return {
    scheme: best.scheme,
    correspondences,
    guessed: isSure.map((sure) => !sure && !isTold),
    points: cages.map(({ master, masterWorld, points }, at) => {
      const way = wayOf(best.expected[at]!, points, correspondences[at]!.pointToReturned, along)
      const own = transformPoints(transformPoints(master.points, masterWorld), way)
      const there = transformPoints(best.expected[at]!, way)
      const moved = points.slice()
      correspondences[at]!.pointToReturned.forEach((other, point) => {
        if (other < 0) return
        for (let axis = 0; axis < 3; axis++) {
          const from = 3 * point + axis
          moved[3 * other + axis] = own[from]! + (points[3 * other + axis]! - there[from]!)
        }
      })
      return moved
    }),
  }
}
