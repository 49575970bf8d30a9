import { createUnion } from '../../mesh/relations/adjacency.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { MOST_STRETCH, type Grower } from './grow-pairs.ts'
import { AS_GOOD, isOther, speaksAgainst, theOne, type Answer } from './judge-answers.ts'
import { refineLabels } from './refine-labels.ts'
import { pointsApart } from './points-apart.ts'
import { neighboursOf, shellsOf, shortestEdges, type Neighbours } from './neighbours.ts'

/** Starts that are tried for one piece at most, and points walked over in all of them: large meshes get fewer. */
const MOST_STARTS = 24
const MOST_STEPS = 2_000_000
/** Rounds of labels: what was edited farther away than so many edges changes none. */
const LABEL_ROUNDS = 5
/** Labels that stand at more points than this say too little. */
const RARE = 6
/** A start has to reach this share of its piece to count: a loop that was cut in all round parts it in two or more. */
const LEAST_COVERAGE = 0.3
/** Points of a piece whose surroundings are looked at on the other side, and of those how many. */
const LOOKED_FROM = 5
const LOOKED_AT = 3

/** Points of a piece with the longest edges, as a share: they are the last to be mistaken for their neighbours. */
const COARSEST = 0.25
/** Share of their shortest edge within which they have to lie of what they are paired with, and how many of them. */
const NEAR_ENOUGH = 0.5
const MOST_OF_THEM = 0.8

/** How often what lies beside an answer is looked at: each time it may lead one on. */
const ROUNDS_ASIDE = 8
/** Edges of an answer whose counterparts are moved aside. */
const LOOKED_ASIDE = 3

interface Start {
  readonly edge: readonly [number, number]
  readonly other: readonly [number, number]
  /** Its surroundings are there once on either side. */
  readonly sure: boolean
}

/**
 * Where nothing else speaks: edges that hang together alike on both sides, or lie near each other the same way, are tried
 * as starts in both windings, piece by piece, each grown as far as it goes. The one that reaches most of its piece is
 * taken; of several, which are symmetrical to each other, the one that moves points least and most evenly, if it does so by
 * much: else the piece stays undecided.
 *
 * @returns one a master point, -1 for none, and whether another answer fits as well for some piece, but for how it moves;
 * null where no start reaches far.
 */
export function bestStart(
  master: Mesh,
  returned: Mesh,
  near: Neighbours,
  grower: Grower,
): { readonly pairs: Int32Array; readonly guess: boolean } | null {
  const far = neighboursOf(returned)
  const [own, others] = [master, returned].map((mesh) => refineLabels(mesh, LABEL_ROUNDS, 'both'))
  const pairs = new Int32Array(pointCountOf(master)).fill(-1)
  const taken = new Uint8Array(pointCountOf(returned))
  const spacing = shortestEdges(master, near)
  const shells = shellsOf(far)
  let steps = MOST_STEPS
  let guess = false
  for (const piece of piecesOf(master)) {
    if (steps <= 0) break
    const coarsest = coarsestOf(piece, spacing)
    const answers: Answer[] = []
    const starts = [
      ...labelledStarts(piece, [own!, others!], near, far, taken),
      ...nearStarts(piece, coarsest, master, returned, near, far, taken, shells),
    ]
    let settledBy = -1
    const isNear = (answer: Answer): boolean => liesNear(answer, coarsest, spacing, master, returned)
    const attempt = ({ edge, other, sure }: Start): Answer[] =>
      ([1, -1] as const).flatMap((winding) => {
        if (steps <= 0) return []
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
        moved *= unevennessOf(tried, piece, master, returned, near) / Math.max(1, reached)
        steps -= reached + pairs.length / 3 + 16
        return reached < piece.length * LEAST_COVERAGE ? [] : [{ pairs: tried, reached, moved, sure }]
      })
    for (const start of starts.slice(0, MOST_STARTS)) {
      // surroundings that are there once on either side, reach all of it and lie near need no others beside them; an edit
      // can make them of what was there twice
      if (settledBy >= 0 && start.edge[0] !== settledBy) break
      const found = attempt(start)
      answers.push(...found)
      const isSettled = (answer: Answer): boolean =>
        answer.sure && answer.reached >= piece.length * AS_GOOD && isNear(answer)
      if (found.some(isSettled)) settledBy = start.edge[0]
    }
    let best = theOne(answers, piece)
    // one that goes by nothing but how little it moves has to be near where that can be told, or lie among others of which
    // each moves much more
    if (best && !isNear(best)) {
      for (let round = 0; round < ROUNDS_ASIDE && best; round++) {
        const aside: Answer[] = startsAside(best.pairs, coarsest, master, returned, near, far).flatMap(
          attempt,
        )
        answers.push(...aside)
        // where no others were found, or not all could be tried, only what is there once is believed
        const isTold: boolean = best.sure || (steps > 0 && aside.length > 0)
        const next: Answer | null = isTold ? theOne(answers, piece) : null
        if (next === best) break
        best = round + 1 < ROUNDS_ASIDE ? next : null
      }
    }
    if (!best) continue
    const chosen = best
    guess ||= answers.some((other) => speaksAgainst(other, chosen, piece) && isOther(chosen, other, piece))
    pairs.set(best.pairs)
    for (const to of pairs) if (to >= 0) taken[to] = 1
  }
  return pairs.some((other) => other >= 0) ? { pairs, guess } : null
}

/** Starts that are one edge beside an answer: what it would be if a symmetrical shape had been taken one step too far. */
function startsAside(
  pairs: Int32Array,
  coarsest: readonly number[],
  master: Mesh,
  returned: Mesh,
  near: Neighbours,
  far: Neighbours,
): Start[] {
  const known = coarsest.filter((point) => pairs[point]! >= 0)
  const starts: Start[] = []
  const step = Math.max(1, Math.floor(known.length / LOOKED_ASIDE))
  for (let at = 0; at < known.length && at < LOOKED_ASIDE * step; at += step) {
    const point = known[at]!
    const next = Array.from(edgesFrom(near, point)).find((other) => pairs[other]! >= 0)
    if (next === undefined) continue
    const length = pointsApart(master, point, master, next) || 1
    for (const other of edgesFrom(far, pairs[point]!))
      for (const beyond of edgesFrom(far, other)) {
        const ratio = pointsApart(returned, other, returned, beyond) / length
        if (ratio > 1 / MOST_STRETCH && ratio < MOST_STRETCH)
          starts.push({ edge: [point, next], other: [other, beyond], sure: false })
      }
  }
  return starts
}

/** The points of a piece with the longest edges, the longest first. */
function coarsestOf(piece: readonly number[], spacing: Float64Array): number[] {
  const sorted = piece
    .filter((point) => Number.isFinite(spacing[point]!))
    .sort((a, b) => spacing[b]! - spacing[a]! || a - b)
  return sorted.slice(0, Math.max(1, Math.ceil(sorted.length * COARSEST)))
}

/** Unevenness of moves that are all the same: they are told apart by how far they go. */
const LEAST_UNEVENNESS = 1e-12

/** Mean square of the difference of moves over edges, in the edge's length. */
function unevennessOf(
  pairs: Int32Array,
  piece: readonly number[],
  master: Mesh,
  returned: Mesh,
  near: Neighbours,
): number {
  let [sum, count] = [0, 0]
  for (const point of piece) {
    const own = pairs[point]!
    if (own < 0) continue
    for (const next of edgesFrom(near, point)) {
      const other = pairs[next]!
      if (other < 0 || next < point) continue
      let [apart, length] = [0, 0]
      for (let axis = 0; axis < 3; axis++) {
        const before = master.points[3 * next + axis]! - master.points[3 * point + axis]!
        const after = returned.points[3 * other + axis]! - returned.points[3 * own + axis]!
        apart += (after - before) ** 2
        length += before ** 2
      }
      if (!(length > 0)) continue
      sum += apart / length
      count++
    }
  }
  return LEAST_UNEVENNESS + sum / Math.max(1, count)
}

function liesNear(
  { pairs }: Answer,
  points: readonly number[],
  spacing: Float64Array,
  master: Mesh,
  returned: Mesh,
): boolean {
  let [known, near] = [0, 0]
  for (const point of points) {
    const other = pairs[point]!
    if (other < 0) continue
    known++
    if (pointsApart(master, point, returned, other) <= spacing[point]! * NEAR_ENOUGH) near++
  }
  return known > 0 && near >= known * MOST_OF_THEM
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

/**
 * Edges with those that lie nearest on the other side and run about the same way: of points all over the piece and of
 * those with the longest edges, whose nearest is the likeliest to be the one.
 */
function nearStarts(
  piece: readonly number[],
  coarsest: readonly number[],
  master: Mesh,
  returned: Mesh,
  near: Neighbours,
  far: Neighbours,
  taken: Uint8Array,
  shells: ReturnType<typeof shellsOf>,
): Start[] {
  const starts: { start: Start; off: number }[] = []
  const between = (mesh: Mesh, from: number, to: number): [number, number, number] => [
    mesh.points[3 * to]! - mesh.points[3 * from]!,
    mesh.points[3 * to + 1]! - mesh.points[3 * from + 1]!,
    mesh.points[3 * to + 2]! - mesh.points[3 * from + 2]!,
  ]
  const spread = (points: readonly number[]): number[] =>
    Array.from(
      { length: LOOKED_FROM },
      (_look, at) => points[Math.floor(((at + 0.5) * points.length) / LOOKED_FROM)]!,
    )
  /** The nearest points, and the nearest one of each of the nearest shells: of what is made alike others may be meant. */
  const nearestOf = (point: number): { other: number; away: number }[] => {
    const all: { other: number; away: number }[] = []
    const byShell = new Map<number, { other: number; away: number }>()
    const keep = (held: { other: number; away: number }[], one: { other: number; away: number }): void => {
      if (held.length === LOOKED_AT && one.away >= held[LOOKED_AT - 1]!.away) return
      held.push(one)
      held.sort((a, b) => a.away - b.away)
      held.length = Math.min(held.length, LOOKED_AT)
    }
    for (let other = 0; other < pointCountOf(returned); other++) {
      // nothing starts where there is no edge
      if (taken[other] || far.offsets[other] === far.offsets[other + 1]) continue
      const away = pointsApart(returned, other, master, point)
      if (all.length < LOOKED_AT || away < all[LOOKED_AT - 1]!.away) keep(all, { other, away })
      const shell = shells.rootOf(other)
      const held = byShell.get(shell)
      if (!held) byShell.set(shell, { other, away })
      else if (away < held.away) {
        held.other = other
        held.away = away
      }
    }
    const others: { other: number; away: number }[] = []
    for (const one of byShell.values()) keep(others, one)
    return [...all, ...others.filter((one) => !all.some(({ other }) => other === one.other))]
  }
  for (const point of new Set([...(coarsest.length ? spread(coarsest) : []), ...spread(piece)])) {
    const nearest = nearestOf(point)
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
