/** The ways in which tools refine a mesh, and which of them it was. */
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { edgesOf } from '../../mesh/relations/adjacency.ts'
import { subdivideLoop } from '../../mesh/subdividing/subdivide-loop.ts'
import { subdividedPoints } from '../../mesh/subdividing/subdivide-mesh.ts'
import { EMPTY_MESH, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { meantSimilarity } from '../whole/by-points.ts'
import { leftOver, type Similarity } from '../whole/similarity.ts'
import type { CageCorrespondence } from './build-cage.ts'
import { offMiddles, type ExpectedEdges } from './off-middles.ts'

/** How a tool refined it: without moving a point, or smoothly, with the master's creases or without. */
export interface Scheme {
  readonly smooth: boolean
  readonly creases: boolean
  /** Border points with one polygon stay where they are. */
  readonly sharpCorners: boolean
  /** Triangles into four each, by the rule for triangles. */
  readonly loop: boolean
}
export const SCHEMES: readonly Scheme[] = [
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
  /** All points as they came, in that world, and how many. */
  readonly refined: () => Float64Array
  readonly refinedCount: number
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

/** Where the points lie after so many levels, in the master's own space: first its own, then the others. */
function refinedPoints(
  master: Mesh,
  levels: number,
  { smooth, creases, sharpCorners, loop }: Scheme,
  triangles: Uint32Array | null,
): Float64Array {
  if (!smooth) return master.points
  if (loop && triangles)
    return subdivideLoop(master.points, triangles, { levels, smooth, sharpCorners }).points
  const bare: Mesh = {
    ...EMPTY_MESH,
    points: master.points,
    faceOffsets: master.faceOffsets,
    faceVertices: master.faceVertices,
    creases: creases ? master.creases : null,
  }
  return subdividedPoints(bare, { levels, uvMode: 'boundaries', sharpCorners })
}

const mean = (values: Float64Array): number =>
  values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length)

/** Points that are looked at for which scheme it was. */
const MOST_LOOKED_AT = 1500

const expectedPoints = (cage: StandingCage, scheme: Scheme, map: Int32Array): Float64Array =>
  refinedPoints(cage.master, cage.levels, scheme, cage.inTriangles ? masterTriangles(cage, map) : null)

/** A way to refine, with where the masters' points then lie and where all of it was brought. */
export interface Try {
  readonly scheme: Scheme
  readonly expected: readonly Float64Array[]
  readonly meant: Similarity
  readonly off: number
}

const NONE = new Int32Array(0)

/**
 * Some points of several parts where they would lie, and where those that they became do: 3 x n each.
 * @param maps by part which of `points` each of `expected` became, -1 for none.
 */
export function sampledPairs(
  expected: readonly Float64Array[],
  points: readonly Float64Array[],
  maps: readonly Int32Array[],
): readonly [from: Float64Array, to: Float64Array] {
  const [from, to]: [number[], number[]] = [[], []]
  const all = maps.reduce((sum, map) => sum + map.length, 0)
  const step = Math.max(1, Math.floor(all / MOST_LOOKED_AT))
  maps.forEach((map, part) => {
    for (let point = 0; point < map.length; point += step) {
      const other = map[point]!
      if (other < 0) continue
      for (let axis = 0; axis < 3; axis++) {
        from.push(expected[part]![3 * point + axis]!)
        to.push(points[part]![3 * other + axis]!)
      }
    }
  })
  return [Float64Array.from(from), Float64Array.from(to)]
}

/** @param isSure one a cage: whether what is fitted goes by it. */
export function tryScheme(
  scheme: Scheme,
  cages: readonly StandingCage[],
  maps: readonly Int32Array[],
  isSure: readonly boolean[],
): Try | null {
  const expected = cages.map((cage, at) =>
    transformPoints(
      expectedPoints(cage, scheme, maps[at]!).subarray(0, cage.master.points.length),
      cage.masterWorld,
    ),
  )
  const [from, to] = sampledPairs(
    expected,
    cages.map(({ points }) => points),
    maps.map((map, at) => (isSure[at] ? map : NONE)),
  )
  const meant = meantSimilarity(from, to)
  return meant && { scheme, expected, meant, off: mean(leftOver(from, to, meant)) }
}

/** Clearly less is left than by another way, so that it is not just as well the plainer one. */
const CLEARLY = 0.98
/** Ways that leave no more than so many times as much as the best, or than this share of the size, are told apart by the middles of edges. */
const [AS_GOOD, ROUNDED] = [4, 1e-6]
/** Share of how far off a smooth way would have brought them, up to which they were not moved. */
const UNMOVED = 0.5
/** Points of finer meshes lie so near each other that both ways lay them at about the same places. */
const MOST_POINTS = 300_000
/** Share of the edges' lengths under which a smooth way lays the middles where they are without it. */
const ALIKE = 1e-6

const leastOff = (tries: readonly Try[]): Try => tries.reduce((a, b) => (b.off < a.off * CLEARLY ? b : a))

function expectedEdges(cage: StandingCage, scheme: Scheme, map: Int32Array): ExpectedEdges {
  const { master } = cage
  const points = expectedPoints(cage, scheme, map)
  const triangles = scheme.loop && cage.inTriangles ? masterTriangles(cage, map) : null
  const pointCount = pointCountOf(master)
  if (!triangles) return { points, ...edgesOf(master), firstMiddle: pointCount + faceCountOf(master) }
  const faceOffsets = Uint32Array.from({ length: triangles.length / 3 + 1 }, (_offset, at) => 3 * at)
  return { points, ...edgesOf({ faceOffsets, faceVertices: triangles }), firstMiddle: pointCount }
}

/** Whether the middles of edges are where they lie when nothing is smoothed; null where the smooth way says the same. */
function isLinear(
  cages: readonly StandingCage[],
  maps: readonly Int32Array[],
  { scheme }: Try,
): boolean | null {
  let [meant, came, lengths] = [0, 0, 0]
  if (cages.reduce((sum, { refinedCount }) => sum + refinedCount, 0) > MOST_POINTS) return null
  cages.forEach((cage, at) => {
    const map = maps[at]!
    const found = offMiddles(expectedEdges(cage, scheme, map), cage.points, map, cage.refined())
    meant += found.meant
    came += found.came
    lengths += found.lengths
  })
  return meant <= ALIKE ** 2 * lengths ? null : came < UNMOVED * meant
}

/**
 * The way that leaves the least. Where nothing was smoothed and where all of it was a shape may be the same but for its
 * size (a cube), so where both leave about as much the points in the middle of edges tell.
 */
export function bestTry(
  cages: readonly StandingCage[],
  maps: readonly Int32Array[],
  tries: readonly Try[],
): Try {
  const best = leastOff(tries)
  const smooth = tries.filter(({ scheme }) => scheme.smooth)
  const linear = tries.find(({ scheme }) => !scheme.smooth)
  if (!linear || smooth.length === 0) return best
  const other = best === linear ? leastOff(smooth) : linear
  const size = Math.max(...best.expected.map((points) => diagonalOf(boundsOf(points))))
  if (other.off > Math.max(AS_GOOD * best.off, ROUNDED * best.meant.factor * size)) return best
  const said = isLinear(cages, maps, leastOff(smooth))
  return said === null ? best : said ? linear : leastOff(smooth)
}
