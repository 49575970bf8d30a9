import { edgesOf } from '../../../mesh/relations/adjacency.ts'
import { pointCountOf, type Mesh } from '../../../scene/mesh.ts'
import { areJoined, shellsOf, shortestEdges, type Neighbours } from '../neighbours.ts'
import { createNearestPoints, type NearestPoints } from './nearest-points.ts'

/** Share of the shortest edge at a point within which it has to lie of where it is expected. */
const NEAR = 0.35
/** The second nearest has to be so many times as far. */
const LEAST_MARGIN = 1.6
/** Points with the longest edges, as a share: what moved the others past their neighbours moved these by a part of an edge. */
const COARSEST = 0.25
/** Lengths that count as one beside the longer of them. */
const ALIKE = 0.99
/**
 * How many of these have to be found, and how many of the edges between them borne out. Of the points of a lattice that
 * was made anew, seven in ten lie as near to one that they have nothing to do with.
 */
const [LEAST_FOUND, LEAST_BORNE] = [0.8, 0.9]
/**
 * Another shell that lies no more than so many times as far from where a point is expected as the one that is taken, and
 * the share of points at which one has to: then it may as well be that one.
 */
const [BY_FAR, MOST_BESIDE] = [3, 0.4]
/** Points from which moves are carried over to pieces that hang together with nothing that is known. */
const MOST_SAMPLES = 512
/** Pieces beyond which the rest is left open, and points of a piece below which it is. */
const [MOST_PIECES, LEAST_POINTS] = [2000, 4]

/**
 * Points that moved farther than their neighbours lie, where the move is much the same from one to the next: those with
 * the longest edges are found where they lay, and what is known of their moves is carried on along the edges, each time
 * to the point that lies where it is expected. It needs no polygon to be as it was.
 *
 * @param near edges of the master. @param far of the returned side; points without any are not looked at.
 * @returns one a master point, -1 for none, and whether another shell lies about as near; null where the coarsest points are
 * not found where they lay.
 */
export function byCarriedMoves(
  master: Mesh,
  returned: Mesh,
  near: Neighbours,
  far: Neighbours,
): { readonly pairs: Int32Array; readonly guess: boolean } | null {
  const pairs = new Int32Array(pointCountOf(master)).fill(-1)
  const taken = new Uint8Array(pointCountOf(returned))
  const { carrier, used } = carry(master, returned, near, far, pairs, taken)
  const guess = carrier.start(used, () => [0, 0, 0], true)
  if (guess === null) return null
  carryToPieces(carrier, used, pairs, near)
  return bordersAgree(master, returned, pairs) ? { pairs, guess } : null
}

/**
 * The same from pairs that are known: over what is new between, and to pieces of which nothing is known, since what lies
 * beside went about where they went.
 *
 * @param pairs one a master point; changed in place, as is `taken`, one a returned point.
 */
export function carryFromKnown(
  master: Mesh,
  returned: Mesh,
  near: Neighbours,
  far: Neighbours,
  pairs: Int32Array,
  taken: Uint8Array,
): void {
  const { carrier, used } = carry(master, returned, near, far, pairs, taken)
  carrier.carryOn(used.filter((point) => pairs[point]! >= 0))
  carryToPieces(carrier, used, pairs, near)
}

/** @returns with the master's points that have edges. */
function carry(
  master: Mesh,
  returned: Mesh,
  near: Neighbours,
  far: Neighbours,
  pairs: Int32Array,
  taken: Uint8Array,
): { carrier: ReturnType<typeof createCarrier>; used: readonly number[] } {
  const shortest = shortestEdges(master, near)
  const there = createNearestPoints(returned.points, (point) => far.offsets[point + 1]! > far.offsets[point]!)
  return {
    carrier: createCarrier({ master, returned, near, far, shortest, there, pairs, taken }),
    used: Array.from(shortest.keys()).filter((point) => Number.isFinite(shortest[point]!)),
  }
}

function carryToPieces(
  carrier: ReturnType<typeof createCarrier>,
  used: readonly number[],
  pairs: Int32Array,
  near: Neighbours,
): void {
  for (const piece of openPieces(used, pairs, near).slice(0, MOST_PIECES)) {
    if (piece.length < LEAST_POINTS) break
    carrier.start(piece, carrier.moveNear, false)
  }
}

/** Share of the points on a border, on either side, whose pairs lie on one too: of another lattice hardly any does. */
const LEAST_ON_BORDERS = 0.8

function bordersAgree(master: Mesh, returned: Mesh, pairs: Int32Array): boolean {
  const [own, there] = [bordersOf(master), bordersOf(returned)]
  let [either, both] = [0, 0]
  for (let point = 0; point < pairs.length; point++) {
    const other = pairs[point]!
    if (other < 0 || (!own[point] && !there[other])) continue
    either++
    if (own[point] && there[other]) both++
  }
  return both >= either * LEAST_ON_BORDERS
}

/** 1 for points at an edge of one polygon alone. */
function bordersOf(mesh: Mesh): Uint8Array {
  const { edgeCount, edgePoints, edgeSides } = edgesOf(mesh)
  const isBorder = new Uint8Array(pointCountOf(mesh))
  for (let edge = 0; edge < edgeCount; edge++)
    if (edgeSides[edge] === 1) isBorder[edgePoints[2 * edge]!] = isBorder[edgePoints[2 * edge + 1]!] = 1
  return isBorder
}

interface Carrying {
  readonly master: Mesh
  readonly returned: Mesh
  readonly near: Neighbours
  readonly far: Neighbours
  readonly shortest: Float64Array
  readonly there: NearestPoints
  readonly pairs: Int32Array
  readonly taken: Uint8Array
}
type Move = readonly [number, number, number]

function createCarrier({ master, returned, near, far, shortest, there, pairs, taken }: Carrying) {
  const moveOf = (point: number): Move => {
    const other = pairs[point]!
    return [0, 1, 2].map((axis) => returned.points[3 * other + axis]! - master.points[3 * point + axis]!) as [
      number,
      number,
      number,
    ]
  }
  // what lies beside a surface and does not hang together with it is none of it
  const [shells, ownShells] = [shellsOf(far), shellsOf(near)]
  /** The point that lies where one is expected, of a shell where that is known; -1 where none or more than one does. */
  const expectedAt = (point: number, [x, y, z]: Move, shell: number | null): number => {
    const reach = shortest[point]! * NEAR
    const { best, least, second } = there.nearest(
      master.points[3 * point]! + x,
      master.points[3 * point + 1]! + y,
      master.points[3 * point + 2]! + z,
      reach * LEAST_MARGIN,
      shell === null ? undefined : (other) => shells.rootOf(other) === shell,
    )
    return best >= 0 && least <= reach && second > least * LEAST_MARGIN && !taken[best] ? best : -1
  }
  const pair = (point: number, other: number): void => {
    pairs[point] = other
    taken[other] = 1
  }
  /** Whether another shell lies about as near to where a point is expected as its pair does. */
  const liesBeside = (point: number, move: Move): boolean => {
    const other = pairs[point]!
    const place = [0, 1, 2].map((axis) => master.points[3 * point + axis]! + move[axis]!)
    const away = Math.hypot(...place.map((value, axis) => value - returned.points[3 * other + axis]!))
    const [x, y, z] = place as unknown as Move
    const shell = shells.rootOf(other)
    // with the reach of what is expected: each power of two has a grid of its own
    const reach = shortest[point]! * NEAR * LEAST_MARGIN
    return there.nearest(x, y, z, reach, (one) => shells.rootOf(one) !== shell).least <= away * BY_FAR
  }
  /** The mean of the moves of what is known beside it, the nearer the more; null where nothing is. */
  const moveBeside = (point: number): Move | null => {
    const sum = [0, 0, 0]
    let weights = 0
    for (let at = near.offsets[point]!; at < near.offsets[point + 1]!; at++) {
      const other = near.others[at]!
      if (pairs[other]! < 0) continue
      const weight =
        1 /
        (Math.hypot(
          ...[0, 1, 2].map((axis) => master.points[3 * other + axis]! - master.points[3 * point + axis]!),
        ) || 1e-300)
      moveOf(other).forEach((value, axis) => (sum[axis]! += value * weight))
      weights += weight
    }
    return weights > 0 ? [sum[0]! / weights, sum[1]! / weights, sum[2]! / weights] : null
  }
  function carryOn(from: readonly number[]): void {
    const queue = [...from]
    for (let at = 0; at < queue.length; at++)
      for (let edge = near.offsets[queue[at]!]!; edge < near.offsets[queue[at]! + 1]!; edge++) {
        const point = near.others[edge]!
        if (pairs[point]! >= 0) continue
        const move = moveBeside(point)
        const other = move ? expectedAt(point, move, shells.rootOf(pairs[queue[at]!]!)) : -1
        if (other < 0) continue
        pair(point, other)
        queue.push(point)
      }
  }
  let samples: number[] | null = null
  return {
    carryOn,
    /**
     * Finds the coarsest of these points where they are expected, and carries on from them.
     *
     * @param orGuess also where another shell may be meant as well.
     * @returns whether one may; null where it did not carry on.
     */
    start(points: readonly number[], expected: (point: number) => Move, orGuess: boolean): boolean | null {
      const coarsest = coarsestOf(points, shortest)
      // most of each shell tell which one it became
      const votes = new Map<number, Map<number, number>>()
      for (const point of coarsest) {
        const other = expectedAt(point, expected(point), null)
        if (other < 0) continue
        const own = votes.get(ownShells.rootOf(point)) ?? new Map<number, number>()
        own.set(shells.rootOf(other), (own.get(shells.rootOf(other)) ?? 0) + 1)
        votes.set(ownShells.rootOf(point), own)
      }
      const became = new Map([...votes].map(([own, other]) => [own, mostOf(other)]))
      // two that say they became the same one: what moved as far as they lie apart
      const compete = new Set(became.values()).size < became.size
      const found: number[] = []
      for (const point of coarsest) {
        const shell = became.get(ownShells.rootOf(point))
        if (shell === undefined) continue
        const other = expectedAt(point, expected(point), shell)
        if (other < 0) continue
        pair(point, other)
        found.push(point)
      }
      let [known, borne] = [0, 0]
      for (const point of found)
        for (let at = near.offsets[point]!; at < near.offsets[point + 1]!; at++) {
          const other = pairs[near.others[at]!]!
          if (other < 0) continue
          known++
          if (areJoined(far, pairs[point]!, other)) borne++
        }
      const isFound = found.length >= coarsest.length * LEAST_FOUND && borne >= known * LEAST_BORNE
      const guess = isFound && (compete || found.filter((point) => liesBeside(point, expected(point))).length > found.length * MOST_BESIDE) // prettier-ignore
      if (!isFound || (guess && !orGuess)) {
        for (const point of found) {
          taken[pairs[point]!] = 0
          pairs[point] = -1
        }
        return null
      }
      carryOn(found)
      // gathered once: gathering them anew for each of many pieces would take the product of both
      samples?.push(found[0]!)
      return guess
    },
    /** The move of what is known and lies nearest. */
    moveNear(point: number): Move {
      if (!samples) {
        const known = Array.from(pairs.keys()).filter((other) => pairs[other]! >= 0)
        const step = Math.max(1, Math.floor(known.length / MOST_SAMPLES))
        samples = known.filter((_known, at) => at % step === 0)
      }
      let [best, least] = [-1, Infinity]
      for (const sample of samples) {
        let away = 0
        for (let axis = 0; axis < 3; axis++)
          away += (master.points[3 * sample + axis]! - master.points[3 * point + axis]!) ** 2
        if (away >= least) continue
        least = away
        best = sample
      }
      return best < 0 ? [0, 0, 0] : moveOf(best)
    },
  }
}

const mostOf = (votes: ReadonlyMap<number, number>): number =>
  [...votes].reduce((most, one) => (one[1] > most[1] ? one : most))[0]

/** Points with the longest edges; all of those that are alike. */
function coarsestOf(points: readonly number[], shortest: Float64Array): readonly number[] {
  const sorted = Float64Array.from(points, (point) => shortest[point]!).sort()
  const least = sorted[Math.max(0, Math.ceil(sorted.length * (1 - COARSEST)) - 1)]! * ALIKE
  return points.filter((point) => shortest[point]! >= least)
}

/** What hangs together and has no pair yet, the largest first. */
function openPieces(points: readonly number[], pairs: Int32Array, near: Neighbours): number[][] {
  const open = new Set(points)
  const found: number[][] = []
  for (const first of open) {
    open.delete(first)
    const own = [first]
    let known = pairs[first]! >= 0
    for (let at = 0; at < own.length; at++)
      for (let edge = near.offsets[own[at]!]!; edge < near.offsets[own[at]! + 1]!; edge++) {
        const next = near.others[edge]!
        if (!open.delete(next)) continue
        own.push(next)
        known ||= pairs[next]! >= 0
      }
    if (!known) found.push(own)
  }
  return found.sort((a, b) => b.length - a.length)
}
