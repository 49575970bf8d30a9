/**
 * Roughly how a whole model was sized, turned, mirrored or moved, by where its points lie alone: before anything is known
 * of which is which. Alike pieces and symmetrical shapes are then told apart by where they would stand.
 */
import { ALONG_AXES } from '../../base/math/along-axes.ts'
import { boundsOf, diagonalOf, type Box } from '../../base/math/box.ts'
import { invertAffine, multiplyMatrices, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { remember } from '../../base/remembering/remember.ts'
import { pointCountOf } from '../../scene/mesh.ts'
import { IDENTITY_MATRIX, type Scene } from '../../scene/scene.ts'
import { spaceMatrix } from '../../scene/space.ts'
import { partNodes, worldMatrices } from '../../scene/world.ts'
import type { PartMatch } from '../match/match-parts.ts'
import { determinant, fitSimilarity, similarityMatrix, type Similarity } from './similarity.ts'

/** Points of the master that are looked for in each of the ways. */
const MOST_LOOKED_AT = 500
/** Cells along each side of the box of what came back. */
const CELLS = 64
/** Another way has to bring points so many times nearer than none before it is believed. */
const MUCH_NEARER = 4
/** What is so many times as large or as small can't be where it was, and need be nearer by little. */
const OTHER_SIZE = 1.5
const NEARER = 1.25
/** One that assumes more than another which does has to bring points to this share of its distance. */
const CLEARLY_NEARER = 0.75
/** Points that lie this near, as a share of the diagonal, lie where they lay. */
const IN_PLACE = 1e-6
/** What is near no point counts as lying off by this share of the diagonal. */
const FAR = 0.25
/** Points of which more are looked at in two steps: every so many of those looked at first, and so many ways then. */
const MANY_POINTS = 20_000
const FIRST_LOOK = 8
const MOST_WAYS = 6
/** Rounds of bringing points nearer to those that they came to lie next to. */
const ROUNDS = 8

/** Those that assume least first: turns before mirrors, and of these the smaller ones. */
const WAYS = [...ALONG_AXES].sort(
  (a, b) => determinant(b) - determinant(a) || b[0]! + b[4]! + b[8]! - (a[0]! + a[4]! + a[8]!),
)

interface Nearest {
  /** The number of the nearest point and how far it is; -1 where none is near. */
  readonly of: (x: number, y: number, z: number) => { point: number; away: number }
}

/** Points in cells, chained by counting; 3 x n. */
function nearestIn(points: Float64Array, box: Box): Nearest {
  const size = Math.max(diagonalOf(box) / CELLS, Number.MIN_VALUE)
  const [minX, minY, minZ] = box.min
  const cellOf = (away: number): number => Math.min(CELLS - 1, Math.max(0, Math.floor(away / size)))
  const indexOf = (x: number, y: number, z: number): number => (x * CELLS + y) * CELLS + z
  const heads = new Int32Array(CELLS ** 3).fill(-1)
  const next = new Int32Array(points.length / 3)
  for (let point = 0; point < next.length; point++) {
    const cell = indexOf(
      cellOf(points[3 * point]! - minX),
      cellOf(points[3 * point + 1]! - minY),
      cellOf(points[3 * point + 2]! - minZ),
    )
    next[point] = heads[cell]!
    heads[cell] = point
  }
  const farthest = FAR * diagonalOf(box)
  return {
    of(x, y, z) {
      let point = -1
      // squared
      let nearest = farthest * farthest
      const cx = cellOf(x - minX)
      const cy = cellOf(y - minY)
      const cz = cellOf(z - minZ)
      const look = (i: number, j: number, k: number): void => {
        for (let other = heads[indexOf(i, j, k)]!; other >= 0; other = next[other]!) {
          const dx = points[3 * other]! - x
          const dy = points[3 * other + 1]! - y
          const dz = points[3 * other + 2]! - z
          const off = dx * dx + dy * dy + dz * dz
          if (off >= nearest) continue
          point = other
          nearest = off
        }
      }
      look(cx, cy, cz)
      // how far a cell beside its own begins along an axis
      const beside = (step: number, away: number, cell: number): number =>
        step === 0 ? 0 : Math.max(0, step < 0 ? away - cell * size : (cell + 1) * size - away)
      for (let i = -1; i <= 1; i++) {
        if (cx + i < 0 || cx + i >= CELLS) continue
        const offX = beside(i, x - minX, cx) ** 2
        if (offX >= nearest) continue
        for (let j = -1; j <= 1; j++) {
          if (cy + j < 0 || cy + j >= CELLS) continue
          const offXY = offX + beside(j, y - minY, cy) ** 2
          if (offXY >= nearest) continue
          for (let k = -1; k <= 1; k++) {
            if ((i === 0 && j === 0 && k === 0) || cz + k < 0 || cz + k >= CELLS) continue
            if (offXY + beside(k, z - minZ, cz) ** 2 < nearest) look(cx + i, cy + j, cz + k)
          }
        }
      }
      return { point, away: Math.sqrt(nearest) }
    },
  }
}

const joined = (arrays: readonly Float64Array[]): Float64Array => {
  const all = new Float64Array(arrays.reduce((sum, { length }) => sum + length, 0))
  let at = 0
  for (const array of arrays) {
    all.set(array, at)
    at += array.length
  }
  return all
}

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
}

/** Points that lie off by less than this share of the diagonal, in the mean, are about where they lay. */
const ABOUT_THERE = 0.03
const UNKNOWN: Alignment = { along: null, fits: false }

/** Alignments of a returned scene with a master, by which part is which: recognising and comparing ask for the same. */
const alignments = remember((_returned: Scene) => remember((_master: Scene) => new Map<string, Alignment>()))

/**
 * @param pairs which part is which; others don't count, unless they are most of either side.
 */
export function findAlignment(master: Scene, returned: Scene, pairs: readonly PartMatch[]): Alignment {
  const known = pairs.filter(({ masterNode, returnedNode }) => masterNode >= 0 && returnedNode >= 0)
  const found = alignments(returned)(master)
  const key = known.map(({ masterNode, returnedNode }) => `${masterNode} ${returnedNode}`).sort().join() // prettier-ignore
  let alignment = found.get(key)
  if (!alignment) found.set(key, (alignment = align(master, returned, known)))
  return alignment
}

/** @param known parts of both sides that are the same. */
function align(master: Scene, returned: Scene, known: readonly PartMatch[]): Alignment {
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
  const standing = (scene: Scene, nodes: readonly number[], toMaster: Matrix): Float64Array => {
    const worlds = worldMatrices(scene)
    return joined(
      nodes.map((node) =>
        transformPoints(
          scene.meshes[scene.nodes[node]!.mesh]!.points,
          multiplyMatrices(toMaster, worlds[node]!),
        ),
      ),
    )
  }
  const own = standing(
    master,
    few ? partNodes(master) : known.map(({ masterNode }) => masterNode),
    IDENTITY_MATRIX,
  )
  const other = standing(
    returned,
    few ? partNodes(returned) : known.map(({ returnedNode }) => returnedNode),
    change,
  )
  const [from, to] = [boundsOf(own), boundsOf(other)]
  if (!from || !to || !(diagonalOf(from) > 0) || !(diagonalOf(to) > 0)) return UNKNOWN
  if (!own.every(Number.isFinite) || !other.every(Number.isFinite)) return UNKNOWN
  const [nearest, nearestHome] = [nearestIn(other, to), nearestIn(own, from)]
  const [looked, lookedBack] = [own, other].map((points) => {
    const step = Math.max(1, Math.floor(points.length / 3 / MOST_LOOKED_AT))
    return Float64Array.from(
      { length: 3 * Math.ceil(points.length / 3 / step) },
      (_value, at) => points[3 * step * Math.floor(at / 3) + (at % 3)]!,
    )
  }) as [Float64Array, Float64Array]
  const meanAway = (points: Float64Array, way: Matrix, near: Nearest, box: Box): number => {
    const there = transformPoints(points, way)
    let sum = 0
    for (let at = 0; at < there.length; at += 3)
      sum += near.of(there[at]!, there[at + 1]!, there[at + 2]!).away
    return sum / (there.length / 3) / diagonalOf(box)
  }
  /**
   * How far points lie off the other side's, brought along: of what left to what came back, and the other way round. What
   * was left out spoils the one alone, what is new the other.
   */
  const offBy = (way: Matrix): number => {
    const back = invertAffine(way)
    if (!back) return Infinity
    return Math.sqrt(
      Math.max(meanAway(looked, way, nearest, to), IN_PLACE / 100) *
        Math.max(meanAway(lookedBack, back, nearestHome, from), IN_PLACE / 100),
    )
  }
  /** Of many points some are looked at first, and the ways that bring those nearest are gone into. */
  const likelyWays = (some: boolean): readonly (readonly number[])[] => {
    if (!some) return WAYS
    const few = Float64Array.from(
      { length: 3 * Math.floor(looked.length / 3 / FIRST_LOOK) },
      (_value, at) => looked[3 * FIRST_LOOK * Math.floor(at / 3) + (at % 3)]!,
    )
    const offs = WAYS.map((turn) => meanAway(few, similarityMatrix(boxWay(from, to, turn)), nearest, to))
    const limit = [...offs].sort((a, b) => a - b)[MOST_WAYS]!
    return WAYS.filter((_turn, at) => offs[at]! <= limit)
  }
  const none = similarityMatrix({ factor: 1, turn: ALONG_AXES[0]!, move: [0, 0, 0] })
  const asItStands = offBy(none)
  if (asItStands < IN_PLACE) return { along: null, fits: true }
  const sizes = diagonalOf(to) / diagonalOf(from)
  const isOtherSize = sizes > OTHER_SIZE || sizes < 1 / OTHER_SIZE
  let best = { way: none, off: asItStands / (isOtherSize ? NEARER : MUCH_NEARER) }
  for (const turn of likelyWays(other.length / 3 > MANY_POINTS)) {
    let way = similarityMatrix(boxWay(from, to, turn))
    let off = offBy(way)
    for (let round = 0; round < ROUNDS && off < best.off * 2 && off > IN_PLACE / 10; round++) {
      const nearer = bringNearer(looked, way, other, nearest)
      const nearerOff = nearer ? offBy(nearer) : Infinity
      if (!nearer || nearerOff >= off) break
      way = nearer
      off = nearerOff
    }
    // the first of those that are about as good: what is symmetrical fits in several ways, sculpted a little better in one
    if (off < best.off * (best.way === none ? 1 : CLEARLY_NEARER) - IN_PLACE / 100) best = { way, off }
  }
  return best.way === none
    ? { along: null, fits: asItStands < ABOUT_THERE }
    : { along: invertAffine(best.way), fits: best.off < ABOUT_THERE }
}

/** A way that fits the points next to which the last one has brought them. */
function bringNearer(
  looked: Float64Array,
  way: Matrix,
  other: Float64Array,
  nearest: Nearest,
): Matrix | null {
  const there = transformPoints(looked, way)
  const before: number[] = []
  const after: number[] = []
  for (let at = 0; at < there.length; at += 3) {
    const { point } = nearest.of(there[at]!, there[at + 1]!, there[at + 2]!)
    if (point < 0) continue
    for (let axis = 0; axis < 3; axis++) {
      before.push(looked[at + axis]!)
      after.push(other[3 * point + axis]!)
    }
  }
  const fit = fitSimilarity(Float64Array.from(before), Float64Array.from(after))
  return fit && fit.factor > 0 && fit.spread > 0 ? similarityMatrix(fit) : null
}
