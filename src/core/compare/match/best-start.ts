import { createUnion } from '../../mesh/relations/adjacency.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Grower } from './grow-pairs.ts'
import { refineLabels } from './refine-labels.ts'
import { pointsApart } from './points-apart.ts'
import { neighboursOf, type Neighbours } from './neighbours.ts'

/** Starts that are tried for one piece at most, and points walked over in all of them: large meshes get fewer. */
const MOST_STARTS = 24
const MOST_STEPS = 2_000_000
/** Rounds of labels: what was edited farther away than so many edges changes none. */
const LABEL_ROUNDS = 5
/** Labels that stand at more points than this say too little. */
const RARE = 6
/** A start has to reach this share of its piece to count. */
const LEAST_COVERAGE = 0.5
/** Starts that reach as much as this beside the best are told apart by how little they move. */
const AS_GOOD = 0.995
/** Points of a piece whose surroundings are looked at on the other side, and of those how many. */
const LOOKED_FROM = 5
const LOOKED_AT = 3

/** Mean squares of moves beside the least from which on another answer is out of the question. */
const MUCH_MORE = 2.5

interface Answer {
  readonly pairs: Int32Array
  readonly reached: number
  /** Mean square of the moves of paired points. */
  readonly moved: number
}
interface Start {
  readonly edge: readonly [number, number]
  readonly other: readonly [number, number]
  /** Its surroundings are there once on either side. */
  readonly sure: boolean
}

/**
 * Where nothing else speaks: edges that hang together alike on both sides, or lie near each other the same way, are tried
 * as starts in both windings, piece by piece, each grown as far as it goes. The one that reaches most of its piece is
 * taken; of several, which are symmetrical to each other, the one that moves points least, if it moves them much less:
 * else the piece stays undecided.
 *
 * @returns one a master point, -1 for none; null where no start reaches far.
 */
export function bestStart(master: Mesh, returned: Mesh, near: Neighbours, grower: Grower): Int32Array | null {
  const far = neighboursOf(returned)
  const [own, others] = [master, returned].map((mesh) => refineLabels(mesh, LABEL_ROUNDS, 'both'))
  const pairs = new Int32Array(pointCountOf(master)).fill(-1)
  const taken = new Uint8Array(pointCountOf(returned))
  let steps = MOST_STEPS
  for (const piece of piecesOf(master)) {
    if (steps <= 0) break
    const answers: Answer[] = []
    const starts = [
      ...labelledStarts(piece, [own!, others!], near, far, taken),
      ...nearStarts(piece, master, returned, near, far, taken),
    ]
    let settledBy = -1
    for (const { edge, other, sure } of starts.slice(0, MOST_STARTS)) {
      // surroundings that are there once on either side, and reach all of it, need no others beside them
      if (settledBy >= 0 && edge[0] !== settledBy) break
      for (const winding of [1, -1] as const) {
        if (steps <= 0) break
        const tried = pairs.slice()
        const used = taken.slice()
        edge.forEach((point, end) => {
          tried[point] = other[end]!
          used[other[end]!] = 1
        })
        grower.grow(tried, used, winding)
        let reached = 0
        let moved = 0
        for (const point of piece) {
          const to = tried[point]!
          if (to < 0) continue
          reached++
          for (let axis = 0; axis < 3; axis++)
            moved += (master.points[3 * point + axis]! - returned.points[3 * to + axis]!) ** 2
        }
        moved /= Math.max(1, reached)
        steps -= reached + pairs.length / 3 + 16
        if (reached < piece.length * LEAST_COVERAGE) continue
        answers.push({ pairs: tried, reached, moved })
        if (sure && reached >= piece.length * AS_GOOD) settledBy = edge[0]
      }
    }
    const best = theOne(answers, piece)
    if (!best) continue
    pairs.set(best.pairs)
    for (const to of pairs) if (to >= 0) taken[to] = 1
  }
  return pairs.some((other) => other >= 0) ? pairs : null
}

/** The answer that reaches most, and of those alike the one that moves least; null where another is nearly as good. */
function theOne(answers: readonly Answer[], piece: readonly number[]): Answer | null {
  const most = answers.reduce((sum, { reached }) => Math.max(sum, reached), 0)
  const [best, ...others] = answers
    .filter(({ reached }) => reached >= most * AS_GOOD)
    .sort((a, b) => a.moved - b.moved)
  if (!best) return null
  const isOther = ({ pairs }: Answer): boolean =>
    piece.filter(
      (point) => pairs[point]! >= 0 && best.pairs[point]! >= 0 && pairs[point] !== best.pairs[point],
    ).length >
    piece.length * (1 - AS_GOOD)
  return others.some((other) => other.moved < best.moved * MUCH_MORE && isOther(other)) ? null : best
}

/** Points that hang together over polygons, the largest pieces first. */
function piecesOf(mesh: Mesh): number[][] {
  const union = createUnion(pointCountOf(mesh))
  const used = new Uint8Array(pointCountOf(mesh))
  for (let face = 0; face < faceCountOf(mesh); face++)
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
      used[mesh.faceVertices[corner]!] = 1
      union.join(mesh.faceVertices[mesh.faceOffsets[face]!]!, mesh.faceVertices[corner]!)
    }
  const pieces = new Map<number, number[]>()
  for (let point = 0; point < used.length; point++) {
    if (!used[point]) continue
    const root = union.rootOf(point)
    const held = pieces.get(root)
    if (held) held.push(point)
    else pieces.set(root, [point])
  }
  return [...pieces.values()].sort((a, b) => b.length - a.length)
}

const edgesFrom = ({ offsets, others }: Neighbours, point: number): Uint32Array =>
  others.subarray(offsets[point]!, offsets[point + 1]!)

/** Edges whose ends have rare labels, the rarest first, with those of the other side that have the same. */
function labelledStarts(
  piece: readonly number[],
  [a, b]: readonly [Uint32Array, Uint32Array],
  near: Neighbours,
  far: Neighbours,
  taken: Uint8Array,
): Start[] {
  const pointsOf = (labels: Uint32Array, points: Iterable<number>): Map<number, number[]> => {
    const found = new Map<number, number[]>()
    for (const point of points) {
      const held = found.get(labels[point]!)
      if (!held) found.set(labels[point]!, [point])
      else if (held.length <= RARE) held.push(point)
    }
    return found
  }
  const inReturned = pointsOf(
    b,
    Array.from(b.keys()).filter((point) => !taken[point]),
  )
  const rare = [...pointsOf(a, piece)]
    .flatMap(([label, points]) => {
      const others = inReturned.get(label)
      return others && points.length <= RARE && others.length <= RARE
        ? [{ point: points[0]!, others, candidates: points.length * others.length }]
        : []
    })
    .sort((x, y) => x.candidates - y.candidates)
  const starts: Start[] = []
  for (const { point, others, candidates } of rare) {
    const [next] = edgesFrom(near, point)
    if (next === undefined) continue
    for (const other of others)
      for (const beyond of edgesFrom(far, other))
        if (b[beyond] === a[next])
          starts.push({ edge: [point, next], other: [other, beyond], sure: candidates === 1 })
    if (starts.length >= MOST_STARTS / 2) break
  }
  return starts
}

/** Edges with those that lie nearest on the other side and run about the same way. */
function nearStarts(
  piece: readonly number[],
  master: Mesh,
  returned: Mesh,
  near: Neighbours,
  far: Neighbours,
  taken: Uint8Array,
): Start[] {
  const starts: { start: Start; off: number }[] = []
  const between = (mesh: Mesh, from: number, to: number): [number, number, number] => [
    mesh.points[3 * to]! - mesh.points[3 * from]!,
    mesh.points[3 * to + 1]! - mesh.points[3 * from + 1]!,
    mesh.points[3 * to + 2]! - mesh.points[3 * from + 2]!,
  ]
  for (let look = 0; look < LOOKED_FROM; look++) {
    const point = piece[Math.floor(((look + 0.5) * piece.length) / LOOKED_FROM)]!
    const nearest: { other: number; away: number }[] = []
    for (let other = 0; other < pointCountOf(returned); other++) {
      if (taken[other]) continue
      const away = pointsApart(returned, other, master, point)
      if (nearest.length === LOOKED_AT && away >= nearest[LOOKED_AT - 1]!.away) continue
      nearest.push({ other, away })
      nearest.sort((a, b) => a.away - b.away)
      nearest.length = Math.min(nearest.length, LOOKED_AT)
    }
    const [next] = edgesFrom(near, point)
    if (next === undefined) continue
    const along = between(master, point, next)
    const length = Math.hypot(...along) || 1
    for (const { other, away } of nearest)
      for (const beyond of edgesFrom(far, other)) {
        const there = between(returned, other, beyond)
        const off = Math.hypot(there[0] - along[0], there[1] - along[1], there[2] - along[2]) / length
        if (off < 0.5)
          starts.push({
            start: { edge: [point, next], other: [other, beyond], sure: false },
            off: off + away / length,
          })
      }
  }
  return starts.sort((a, b) => a.off - b.off).map(({ start }) => start)
}
