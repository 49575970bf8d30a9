/** Where the points of a cage belong, so that what was sculpted at its points is what its points moved by. */
import {
  invertAffine,
  isNearly,
  multiplyMatrices,
  transformPoints,
  type Matrix,
} from '../../base/math/matrix.ts'
import { subdivideLoop } from '../../mesh/subdividing/subdivide-loop.ts'
import { subdividedPoints } from '../../mesh/subdividing/subdivide-mesh.ts'
import { EMPTY_MESH, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { correspond } from '../match/correspond.ts'
import { byUvs } from '../match/evidence/by-uvs.ts'
import type { CageCorrespondence } from './build-cage.ts'
import { meantSimilarity } from '../whole/by-points.ts'
import { leftOver, similarityMatrix, type Similarity } from '../whole/similarity.ts'

/** How a tool refined it: without moving a point, or smoothly, with the master's creases or without. */
export interface Scheme {
  readonly smooth: boolean
  readonly creases: boolean
  /** Border points with one polygon stay where they are. */
  readonly sharpCorners: boolean
  /** Triangles into four each, by the rule for triangles. */
  readonly loop: boolean
}
const SCHEMES: readonly Scheme[] = [
  { smooth: true, creases: false, sharpCorners: false, loop: false },
  { smooth: true, creases: false, sharpCorners: true, loop: false },
  { smooth: true, creases: true, sharpCorners: false, loop: false },
  { smooth: true, creases: true, sharpCorners: true, loop: false },
  { smooth: true, creases: false, sharpCorners: false, loop: true },
  { smooth: true, creases: false, sharpCorners: true, loop: true },
  { smooth: false, creases: false, sharpCorners: false, loop: false },
]

/** A cage with the part that it is of. */
export interface StandingCage {
  readonly master: Mesh
  /** From the master part's own space to its world. */
  readonly masterWorld: Matrix
  /** Where the points that descend from the cage's lie, in that world; 3 x n. */
  readonly points: Float64Array
  readonly levels: number
  /** The cage's polygons and what they have. */
  readonly mesh: Mesh
  /** It was found among triangles that were refined into four each. */
  readonly inTriangles: boolean
  /** Absent: it is found out. */
  readonly known?: CageCorrespondence
}

/** The cage's triangles by the master's points; null where not all were found. */
function masterTriangles({ mesh }: StandingCage, pointToReturned: Int32Array): Uint32Array | null {
  const masterOf = new Int32Array(pointCountOf(mesh)).fill(-1)
  pointToReturned.forEach((other, point) => other >= 0 && (masterOf[other] = point))
  const triangles = Int32Array.from(mesh.faceVertices, (point) => masterOf[point]!)
  return triangles.includes(-1) ? null : Uint32Array.from(triangles)
}

/** Where the master's own points lie after so many levels, in its own space. */
function refined(
  master: Mesh,
  levels: number,
  { smooth, creases, sharpCorners, loop }: Scheme,
  triangles: Uint32Array | null,
): Float64Array {
  if (!smooth) return master.points
  if (loop && triangles)
    return subdivideLoop(master.points, triangles, { levels, smooth, sharpCorners }).points.subarray(
      0,
      master.points.length,
    )
  const bare: Mesh = {
    ...EMPTY_MESH,
    points: master.points,
    faceOffsets: master.faceOffsets,
    faceVertices: master.faceVertices,
    creases: creases ? master.creases : null,
  }
  const points = subdividedPoints(bare, { levels, uvMode: 'boundaries', sharpCorners })
  return points.subarray(0, 3 * pointCountOf(master))
}

const mean = (values: Float64Array): number =>
  values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length)

/** Points that are looked at for which scheme it was. */
const MOST_LOOKED_AT = 1500

/** A way to refine, with where the masters' points then lie and where all of it was brought. */
interface Try {
  readonly scheme: Scheme
  readonly expected: readonly Float64Array[]
  readonly meant: Similarity
  readonly off: number
}

/** @param isSure one a cage: whether what is fitted goes by it. */
function tryScheme(
  scheme: Scheme,
  cages: readonly StandingCage[],
  maps: readonly Int32Array[],
  isSure: readonly boolean[],
): Try | null {
  const expected = cages.map((cage, at) =>
    transformPoints(
      refined(cage.master, cage.levels, scheme, cage.inTriangles ? masterTriangles(cage, maps[at]!) : null),
      cage.masterWorld,
    ),
  )
  const before: number[] = []
  const after: number[] = []
  const all = maps.reduce((sum, map) => sum + map.length, 0)
  const step = Math.max(1, Math.floor(all / MOST_LOOKED_AT))
  cages.forEach(({ points }, at) => {
    if (!isSure[at]) return
    const map = maps[at]!
    for (let point = 0; point < map.length; point += step) {
      const other = map[point]!
      if (other < 0) continue
      for (let axis = 0; axis < 3; axis++) {
        before.push(expected[at]![3 * point + axis]!)
        after.push(points[3 * other + axis]!)
      }
    }
  })
  const [from, to] = [Float64Array.from(before), Float64Array.from(after)]
  const meant = meantSimilarity(from, to)
  return meant && { scheme, expected, meant, off: mean(leftOver(from, to, meant)) }
}

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

/** Clearly less is left than by another way, so that it is not just as well the plainer one. */
const CLEARLY = 0.98

/**
 * The points of the cages: the master's own, brought to where all of it stands, and moved by what the points that
 * descend from them moved against where they would lie had nobody touched them. So what was not sculpted is the
 * master's, and refining alone, which draws points inwards, moves nothing.
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
  const best = tries.reduce((a, b) => (b.off < a.off * CLEARLY ? b : a))
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
      const own = transformPoints(transformPoints(master.points, masterWorld), along)
      const there = transformPoints(best.expected[at]!, along)
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
