/**
 * How a whole model was sized, turned or mirrored by what tools do: by one of their factors, by quarters of a circle, about the
 * file's own middle. For what came back in part and of other polygons, of which neither boxes nor points say how it stands.
 */
import { ALONG_AXES } from '../../base/math/along-axes.ts'
import { boundsOf, diagonalOf, type Box } from '../../base/math/box.ts'
import { buildBvh, type Bvh } from '../../base/math/bvh.ts'
import { invertAffine, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { remember } from '../../base/remembering/remember.ts'
import { IDENTITY_MATRIX, type Scene } from '../../scene/scene.ts'
import { spaceMatrix } from '../../scene/space.ts'
import { partNodes } from '../../scene/world.ts'
import { MEANT_FACTORS } from './point-pairs.ts'
import { determinant, similarityMatrix } from './similarity.ts'
import { gatherPolygons } from './surfaces-apart.ts'

/** Points of what came back that are looked for on the master's surface, at first and then. */
const [FIRST_LOOK, MOST_LOOKED_AT] = [48, 600]
/** Ways that are gone into. */
const MOST_WAYS = 12
/** So many of the points have to lie nearer than this, as a share of the diagonal of what came back. */
const [MOST, ON_SURFACE] = [0.8, 0.008]
/** Of two ways one is the way where it brings them to this share of what the other does. */
const CLEARLY_NEARER = 0.5

/** Those that assume least first: no other size, then no mirror, then the smaller turns. */
const WAYS: readonly Matrix[] = [1, ...new Set(MEANT_FACTORS)]
  .filter((factor, at) => at === 0 || factor !== 1)
  .flatMap((factor) =>
    [...ALONG_AXES]
      .sort((a, b) => determinant(b) - determinant(a) || b[0]! + b[4]! + b[8]! - (a[0]! + a[4]! + a[8]!))
      .map((turn) => similarityMatrix({ factor, turn, move: [0, 0, 0] })),
  )

/** Most of the points lie nearer to the surface than this; Infinity where too many lie off its box by more than `most`. */
function mostDistance(
  points: Float64Array,
  back: Matrix,
  tree: Bvh,
  { min, max }: Box,
  most: number,
): number {
  const there = transformPoints(points, back)
  const count = there.length / 3
  let outside = 0
  for (let at = 0; at < there.length; at += 3)
    if (
      [0, 1, 2].some((axis) => there[at + axis]! < min[axis]! - most || there[at + axis]! > max[axis]! + most)
    )
      outside++
  if (outside > count * (1 - MOST)) return Infinity
  const distances = Float64Array.from(
    { length: count },
    (_value, at) =>
      tree.nearest(there[3 * at]!, there[3 * at + 1]!, there[3 * at + 2]!)?.distance ?? Infinity,
  )
  return distances.sort()[Math.floor(count * MOST)] ?? Infinity
}

/**
 * @returns from where the returned parts stand, in the master's space, to where the master's do; null where no such way brings
 * them on to its surface.
 */
export const findToolWay = (master: Scene, returned: Scene): Matrix | null => found(returned)(master).way

const found = remember((returned: Scene) => remember((master: Scene) => ({ way: look(master, returned) })))

function look(master: Scene, returned: Scene): Matrix | null {
  const own = gatherPolygons(master, partNodes(master), IDENTITY_MATRIX)
  const other = gatherPolygons(returned, partNodes(returned), spaceMatrix(returned.space, master.space))
  const box = boundsOf(other.points)
  const ownBox = boundsOf(own.points)
  if (!box || !ownBox || !(diagonalOf(box) > 0) || own.faceOffsets.length < 2) return null
  // where something is nowhere nothing says how the whole stands
  if (!other.points.every(Number.isFinite) || !own.points.every(Number.isFinite)) return null
  const tree = buildBvh(own)
  const some = (count: number): Float64Array => {
    const step = Math.max(1, Math.floor(other.points.length / 3 / count))
    return other.points.filter((_value, at) => Math.floor(at / 3) % step === 0)
  }
  const [few, many] = [some(FIRST_LOOK), some(MOST_LOOKED_AT)]
  const backs = WAYS.map((way) => invertAffine(way)!)
  // by the size that it has there: what is made small lies near anything
  const sizeOf = (back: Matrix): number => diagonalOf(box) * Math.hypot(back[0]!, back[1]!, back[2]!)
  const off = (points: Float64Array, back: Matrix): number =>
    mostDistance(points, back, tree, ownBox, ON_SURFACE * sizeOf(back)) / sizeOf(back)
  const looked = backs.map((back) => off(few, back))
  const limit = [...looked].sort((a, b) => a - b)[MOST_WAYS - 1]!
  const fitting = backs
    .flatMap((back, at) =>
      looked[at]! <= limit ? [{ back, off: off(many, back), isTurned: at % ALONG_AXES.length > 0 }] : [],
    )
    .filter((one) => one.off < ON_SURFACE)
    .sort((a, b) => a.off - b.off)
  const alike = fitting.filter((one) => one.off * CLEARLY_NEARER <= fitting[0]!.off)
  // one that turns nothing assumes least; of several that do none is known
  const straight = alike.find(({ isTurned }) => !isTurned)
  return straight?.back ?? (alike.length === 1 ? alike[0]!.back : null)
}
