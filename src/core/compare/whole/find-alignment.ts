/**
 * Roughly how a whole model was sized, turned, mirrored or moved, by where its points lie alone: before anything is known
 * of which is which. Alike pieces and symmetrical shapes are then told apart by where they would stand.
 */
import { ALONG_AXES } from '../../base/math/along-axes.ts'
import { boundsOf, diagonalOf, type Box } from '../../base/math/box.ts'
import { joinNumbers } from '../../base/math/join-numbers.ts'
import { invertAffine, multiplyMatrices, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { remember } from '../../base/remembering/remember.ts'
import { pointCountOf } from '../../scene/mesh.ts'
import { IDENTITY_MATRIX, type Scene } from '../../scene/scene.ts'
import { spaceMatrix } from '../../scene/space.ts'
import { partNodes, worldMatrices } from '../../scene/world.ts'
import type { PartMatch } from '../match/match-parts.ts'
import { closenessOf, IN_PLACE } from './closeness.ts'
import { MEANT_FACTORS } from './point-pairs.ts'
import { determinant, similarityMatrix, type Similarity } from './similarity.ts'
import { gatherPolygons, surfacesApart } from './surfaces-apart.ts'
import { momentsOf, placeTurns } from './turned-ways.ts'

/** Another way has to bring points so many times nearer than none before it is believed. */
const MUCH_NEARER = 4
/** What is so many times as large or as small can't be where it was, and need be nearer by little. */
const OTHER_SIZE = 1.5
const NEARER = 1.25
/** One that assumes more than another which does has to bring points to this share of its distance. */
export const CLEARLY_NEARER = 0.75
/** And a mirror image to this share of what a turn does: what is nearly symmetrical is nearly its own. */
export const MIRROR_NEARER = 0.5
/** A size lies this near to one that tools have. */
const NEAR_MEANT = 0.2
/** Points of which more are looked at in two steps: every so many of those looked at first, and so many ways then. */
const MANY_POINTS = 20_000
const MOST_WAYS = 6
/** Rounds of bringing points nearer to those that they came to lie next to. */
const ROUNDS = 8
/** And from a turn that is only about the right one; cells then, along each side of the boxes, to begin with. */
const MANY_ROUNDS = 30
const COARSE = 12
/** Where points lie no farther off than this share of the diagonal along an axis, no other turn is looked for. */
const WELL_THERE = 0.015
/** And along one of so many other turns they have to lie this near: small shapes lie about alike in some of them. */
const TURNED_THERE = 0.0125
const LEAST_POINTS = 200

/** Those that assume least first: turns before mirrors, and of these the smaller ones. */
const WAYS = [...ALONG_AXES].sort(
  (a, b) => determinant(b) - determinant(a) || b[0]! + b[4]! + b[8]! - (a[0]! + a[4]! + a[8]!),
)

const middleOf = ({ min, max }: Box): number[] => min.map((value, axis) => (value + max[axis]!) / 2)

/** One box brought onto another: to its size, turned or mirrored along the axes, round its middle. */
function boxWay(from: Box, to: Box, turn: readonly number[]): Similarity {
  const factor = (diagonalOf(to) || 1) / (diagonalOf(from) || 1)
  const [middle, there] = [middleOf(from), middleOf(to)]
  return {
    factor,
    turn,
    move: [0, 1, 2].map(
      (row) =>
        there[row]! -
        factor * [0, 1, 2].reduce((sum, column) => sum + turn[3 * row + column]! * middle[column]!, 0),
    ) as [number, number, number],
  }
}

/** Whether the parts that are not among these have more points than those that are. */
function missMost(scene: Scene, nodes: readonly number[]): boolean {
  const count = (of: readonly number[]): number =>
    of.reduce((sum, node) => sum + pointCountOf(scene.meshes[scene.nodes[node]!.mesh]!), 0)
  return 2 * count(nodes) < count(partNodes(scene))
}

export interface Alignment {
  /** From where the returned parts stand, in the master's space, to about where the master's do; null: they stand there. */
  readonly along: Matrix | null
  /** Points lie about where they lay then, and not only nearer than otherwise. */
  readonly fits: boolean
  /** Other ways that bring points about as near, as `along`. */
  readonly others: readonly Matrix[]
}

/** Whether a way is one of a mirror image. */
export const mirrors = (way: Matrix): boolean =>
  determinant([way[0]!, way[4]!, way[8]!, way[1]!, way[5]!, way[9]!, way[2]!, way[6]!, way[10]!]) < 0

interface Tried {
  readonly way: Matrix
  readonly off: number
}

/** Points that lie off by less than this share of the diagonal, in the mean, are about where they lay. */
const ABOUT_THERE = 0.03
/** Points that lie off farther, up to here, are about there where their surfaces lie off by less than this share. */
const PERHAPS_THERE = 0.12
const SURFACES_THERE = 0.01
const MOST_PERHAPS = 3
/** Nothing is known of how it stands. */
export const UNKNOWN_ALIGNMENT: Alignment = { along: null, fits: false, others: [] }

/** Alignments of a returned scene with a master, by which part is which: recognising and comparing ask for the same. */
const alignments = remember((_returned: Scene) => remember((_master: Scene) => new Map<string, Alignment>()))

/**
 * @param pairs which part is which; others don't count, unless they are most of either side.
 * @param anyAngle turns by any angle are looked for as well, by surfaces alone: where nothing else says which is which, for
 *   what is symmetrical lies alike in several.
 */
export function findAlignment(
  master: Scene,
  returned: Scene,
  pairs: readonly PartMatch[],
  anyAngle = false,
): Alignment {
  const known = pairs.filter(({ masterNode, returnedNode }) => masterNode >= 0 && returnedNode >= 0)
  const found = alignments(returned)(master)
  const key = (anyAngle ? 'any ' : '') + known.map(({ masterNode, returnedNode }) => `${masterNode} ${returnedNode}`).sort().join() // prettier-ignore
  let alignment = found.get(key)
  if (!alignment) found.set(key, (alignment = align(master, returned, known, anyAngle)))
  return alignment
}

/** Parts of two scenes, and a way from the one to the other. */
interface Brought {
  readonly master: Scene
  readonly returned: Scene
  readonly nodes: { readonly own: readonly number[]; readonly other: readonly number[] }
  /** From the returned scene's space to the master's. */
  readonly change: Matrix
  readonly way: Matrix
}

/** How far the surfaces of parts lie apart. */
const apartBy = ({ master, returned, nodes: { own, other }, change, way }: Brought): number =>
  surfacesApart(gatherPolygons(master, own, IDENTITY_MATRIX), gatherPolygons(returned, other, change), way)

/**
 * Whether it fits costs two trees, and is asked where it matters; what is remembered for that is no more than is given.
 *
 * @param off by points: few of them lie farther off than the surfaces that they are of.
 */
function lazily(off: number, brought: Brought, known: Omit<Alignment, 'fits'>): Alignment {
  let fits: boolean | null = null
  return {
    ...known,
    get fits() {
      return (fits ??= off < ABOUT_THERE || (off < PERHAPS_THERE && apartBy(brought) < SURFACES_THERE))
    },
  }
}

/** @param known parts of both sides that are the same. */
function align(master: Scene, returned: Scene, known: readonly PartMatch[], anyAngle: boolean): Alignment {
  const change = spaceMatrix(returned.space, master.space)
  const few =
    missMost(
      master,
      known.map(({ masterNode }) => masterNode),
    ) ||
    missMost(
      returned,
      known.map(({ returnedNode }) => returnedNode),
    )
  const pointsOf = (scene: Scene, nodes: readonly number[], toMaster: Matrix): Float64Array => {
    const worlds = worldMatrices(scene)
    return joinNumbers(
      nodes.map((node) =>
        transformPoints(
          scene.meshes[scene.nodes[node]!.mesh]!.points,
          multiplyMatrices(toMaster, worlds[node]!),
        ),
      ),
    )
  }
  const nodes = {
    own: few ? partNodes(master) : known.map(({ masterNode }) => masterNode),
    other: few ? partNodes(returned) : known.map(({ returnedNode }) => returnedNode),
  }
  const own = pointsOf(master, nodes.own, IDENTITY_MATRIX)
  const other = pointsOf(returned, nodes.other, change)
  const [from, to] = [boundsOf(own), boundsOf(other)]
  if (!from || !to || !(diagonalOf(from) > 0) || !(diagonalOf(to) > 0)) return UNKNOWN_ALIGNMENT
  if (!own.every(Number.isFinite) || !other.every(Number.isFinite)) return UNKNOWN_ALIGNMENT
  const near = closenessOf({ points: own, box: from }, { points: other, box: to })
  const apart = (way: Matrix): number => apartBy({ master, returned, nodes, change, way })
  /** Of many points some are looked at first, and the ways that bring those nearest are gone into. */
  const likely = (ways: readonly Matrix[], some: boolean, by = near): readonly Matrix[] => {
    if (!some) return ways
    const offs = ways.map((way) => by.firstLook(way))
    const limit = [...offs].sort((a, b) => a - b)[MOST_WAYS] ?? Infinity
    return ways.filter((_way, at) => offs[at]! <= limit)
  }
  const none = similarityMatrix({ factor: 1, turn: ALONG_AXES[0]!, move: [0, 0, 0] })
  const asItStands = near.offBy(none)
  if (asItStands < IN_PLACE) return { along: null, fits: true, others: [] }
  const sizes = diagonalOf(to) / diagonalOf(from)
  const isOtherSize = sizes > OTHER_SIZE || sizes < 1 / OTHER_SIZE
  const standing = { way: none, off: asItStands / (isOtherSize ? NEARER : MUCH_NEARER) }
  const tried: Tried[] = []
  const alongAxes = WAYS.map((turn) => similarityMatrix(boxWay(from, to, turn)))
  // what was pulled out or left away changes a box: tools turn, mirror and size about the file's own middle
  const meant = [1, ...MEANT_FACTORS].find((factor) => Math.abs(sizes / factor - 1) < NEAR_MEANT)
  const aboutOrigin = meant === undefined ? [] : WAYS.map((turn) => similarityMatrix({ factor: meant, turn, move: [0, 0, 0] })) // prettier-ignore
  let nearest = standing.off
  for (const way of likely([...alongAxes, ...aboutOrigin], other.length / 3 > MANY_POINTS)) {
    tried.push(near.brought(way, ROUNDS, nearest * 2))
    nearest = Math.min(nearest, tried.at(-1)!.off)
  }
  const hasEnough = Math.min(own.length, other.length) / 3 >= LEAST_POINTS
  const isWellThere = (): boolean => Math.min(asItStands, ...tried.map(({ off }) => off)) <= WELL_THERE
  if (anyAngle && hasEnough && !isWellThere()) {
    const placing = placeTurns(
      momentsOf(master, nodes.own, IDENTITY_MATRIX),
      momentsOf(returned, nodes.other, change),
    )
    // a point astray spoils a box, and no surface
    tried.push(...placing(WAYS).map((way) => near.brought(way, ROUNDS)))
    const roughly = closenessOf({ points: own, box: from }, { points: other, box: to }, COARSE)
    for (const mirrored of isWellThere() ? [] : [false, true]) {
      const found = likely(placing(null, mirrored), true, roughly).map((way) =>
        near.brought(roughly.brought(way, MANY_ROUNDS).way, MANY_ROUNDS),
      )
      const there = found.filter(({ off }) => off < TURNED_THERE)
      const nearest = [...found].sort((one, two) => one.off - two.off).slice(0, MOST_PERHAPS)
      const perhaps = there.length ? [] : nearest.filter(({ off, way }) => off < PERHAPS_THERE && apart(way) < SURFACES_THERE) // prettier-ignore
      tried.push(...there, ...perhaps)
    }
  }
  // the first of those that are about as good: what is symmetrical fits in several ways, sculpted a little better in one
  const nearerThan = (found: Tried, other: Tried): number =>
    other === standing ? 1 : mirrors(found.way) && !mirrors(other.way) ? MIRROR_NEARER : CLEARLY_NEARER
  let best: Tried = standing
  for (const found of tried) if (found.off < best.off * nearerThan(found, best) - IN_PLACE / 100) best = found
  const stands = best === standing
  const off = stands ? asItStands : best.off
  const others = tried.filter(
    (found) => found !== best && found.off < Math.min(off / CLEARLY_NEARER, ABOUT_THERE),
  )
  return lazily(
    off,
    { master, returned, nodes, change, way: best.way },
    {
      along: stands ? null : invertAffine(best.way),
      others: others.flatMap(({ way }) => {
        const back = invertAffine(way)
        return back ? [back] : []
      }),
    },
  )
}
