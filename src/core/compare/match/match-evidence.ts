/**
 * Which point is which where the polygons are not the same ones any more and points have moved: from everything that a
 * file still has. Each kind of evidence (the order of points, their UVs, their places, how they hang together nearby)
 * gives pairs; what the edges of both sides don't bear out is dropped; what is left is grown from polygon to polygon.
 */
import { pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { bestStart } from './best-start.ts'
import { byCarriedMoves, carryFromKnown } from './evidence/by-carried-moves.ts'
import { byNearness } from './evidence/by-nearness.ts'
import { byCornerOrder } from './evidence/by-corner-order.ts'
import { byOrder } from './evidence/by-order.ts'
import { byUvs } from './evidence/by-uvs.ts'
import { keepCoherent } from './evidence/keep-coherent.ts'
import { keepShells } from './evidence/keep-shells.ts'
import { mendShifts } from './evidence/mend-shifts.ts'
import { settleByMoves } from './evidence/settle-by-moves.ts'
import { settlePairs } from './evidence/settle-pairs.ts'
import { createSupport, type SupportOf } from './evidence/support.ts'
import { createGrower, type Grower } from './grow-pairs.ts'
import { areJoined, neighboursOf, type Neighbours } from './neighbours.ts'
import { pointsApart } from './points-apart.ts'

/** Kinds of evidence, in the order in which they are believed where they are borne out alike. */
export type Evidence = 'uv' | 'order' | 'position' | 'near' | 'carried' | 'start'

export interface EvidenceMatch {
  /** One a master point; the returned point, -1 for none. Each returned point stands once at most. */
  readonly pointToReturned: Int32Array
  /** The kinds that agreed with what was found, those first that gave most. */
  readonly by: readonly Evidence[]
  /** Another answer fits as well, but that it moves points farther or less evenly. */
  readonly guess: boolean
}

/** Edges of a point that have to be borne out, as a share of those whose other end has a counterpart. */
const LEAST_SUPPORT = 0.5
/** Rounds of dropping what is not borne out: each takes away what hung on the last one's. */
const PRUNING_ROUNDS = 4
/** Of a kind of evidence at least this share of its pairs has to be borne out for any of it to be believed. */
const LEAST_BELIEVED = 0.6

/** Drops pairs that the edges don't bear out. @returns how many were given, and how many are left. */
function prune(pairs: Int32Array, supportOf: SupportOf): { given: number; left: number } {
  const count = (): number => {
    let sum = 0
    for (let point = 0; point < pairs.length; point++) if (pairs[point]! >= 0) sum++
    return sum
  }
  const given = count()
  for (let round = 0; round < PRUNING_ROUNDS; round++) {
    const { known, borne } = supportOf(pairs)
    let dropped = 0
    for (let point = 0; point < pairs.length; point++) {
      if (pairs[point]! < 0) continue
      // one that has no neighbour with a counterpart is held by nothing
      if (known[point]! > 0 && borne[point]! >= known[point]! * LEAST_SUPPORT) continue
      pairs[point] = -1
      dropped++
    }
    if (dropped === 0) break
  }
  return { given, left: count() }
}

interface KnownPairs {
  readonly kind: Evidence
  readonly pairs: Int32Array
  readonly left: number
  /** The lower, the earlier it speaks. */
  readonly rank: number
}

/** Nearness is believed where it covers nearly all, and nearly all of that is borne out. */
const NEAR_COVERS = 0.8
const SURE_NEAR = 0.95
/** Share of the points from which on another kind of evidence speaks in its place. */
const SPEAKS = 0.3

/** Mean moves beside mean edges from which on an order is held against what lies near. */
const FAR_MOVES = 0.5

/** How far pairs go in the mean, and how long the edges between their points are. */
function movesOf(
  master: Mesh,
  returned: Mesh,
  pairs: Int32Array,
  { offsets, others }: Neighbours,
): { mean: number; meanEdge: number } {
  let [moves, count, edges, edgeCount] = [0, 0, 0, 0]
  for (let point = 0; point < pairs.length; point++) {
    if (pairs[point]! < 0) continue
    moves += pointsApart(master, point, returned, pairs[point]!)
    count++
    for (let at = offsets[point]!; at < offsets[point + 1]!; at++) {
      edges += pointsApart(master, point, master, others[at]!)
      edgeCount++
    }
  }
  return { mean: moves / Math.max(1, count), meanEdge: edges / Math.max(1, edgeCount) }
}

/** An order that is borne out to this share by so many points is no chance. */
const SURE_ORDER = 0.97
const SURE_POINTS = 12

/**
 * @param byPosition pairs that lie where they lay, one a master point, -1 for none.
 * @param numbersCount points were not split and joined again: their order may be the master's.
 * @returns null where nothing is borne out.
 */
export function matchByEvidence(
  master: Mesh,
  returned: Mesh,
  byPosition: Int32Array,
  numbersCount = true,
): EvidenceMatch | null {
  const neighbours = neighboursOf(master)
  const far = neighboursOf(returned)
  const supportOf = createSupport(neighbours, far)
  const pointCount = pointCountOf(master)
  let madeGrower: Grower | null = null
  const grower = (): Grower => (madeGrower ??= createGrower(master, returned))
  /** Whether pairs go farther than points lie apart, while nearly all have something else that lies near. */
  const isContradicted = (pairs: Int32Array): boolean => {
    const moves = movesOf(master, returned, pairs, neighbours)
    if (moves.mean <= moves.meanEdge * FAR_MOVES) return false
    const nearest = byNearness(master, returned, neighbours)
    const { given, left } = prune(nearest, supportOf)
    if (given < pointCount * NEAR_COVERS || left < given * SURE_NEAR) return false
    let [both, differ] = [0, 0]
    for (let point = 0; point < pointCount; point++) {
      if (nearest[point]! < 0 || pairs[point]! < 0) continue
      both++
      if (nearest[point] !== pairs[point]) differ++
    }
    return differ > both * (1 - SURE_NEAR)
  }
  const known: KnownPairs[] = []
  let isCarriedGuess = false as boolean
  const carried = (): Int32Array | null => {
    const found = byCarriedMoves(master, returned, neighbours, far)
    isCarriedGuess = found?.guess ?? false
    return found?.pairs ?? null
  }
  /** By the order of polygons, and where that leaves points open by their own. */
  const byAnyOrder = (): Int32Array | null => {
    const corners = byCornerOrder(master, returned)
    if (!numbersCount || (corners && !corners.includes(-1))) return corners
    const numbers = byOrder(master, returned)
    if (!corners || !numbers) return corners ?? numbers
    const used = new Set(corners)
    return corners.map((other, point) => (other < 0 && !used.has(numbers[point]!) ? numbers[point]! : other))
  }
  const kinds: readonly (readonly [Evidence, () => Int32Array | null])[] = [
    ['uv', () => byUvs(master, returned)],
    ['position', () => byPosition.slice()],
    ['order', byAnyOrder],
    ['near', () => byNearness(master, returned, neighbours)],
    // where nothing else speaks
    ['carried', () => (known.length ? null : carried())],
  ]
  for (const [rank, [kind, find]] of kinds.entries()) {
    const pairs = find()
    if (!pairs) continue
    const { given, left } = prune(pairs, supportOf)
    if (left === 0 || left < given * LEAST_BELIEVED) continue
    // what moved farther than its neighbours lie comes near to others, which bear each other out
    if (kind === 'near' && (given < pairs.length * NEAR_COVERS || left < given * SURE_NEAR)) continue
    // where others speak, what moved is reached from them: there the nearest may be another
    if (kind === 'near' && known.some((other) => other.left >= pointCount * SPEAKS)) continue
    // an order that holds by halves may be that of a symmetrical other: places speak before it
    const sure = kind !== 'order' || (left >= given * SURE_ORDER && left >= SURE_POINTS)
    // points numbered anew may stand in the order of a symmetrical other, which moves them far
    if (kind === 'order' && isContradicted(pairs)) continue
    known.push({ kind, pairs, left, rank: sure ? rank : kinds.length })
    // nobody speaks before what is said of every point, and nothing is left to be said after it
    if (sure && left === pointCount) break
  }
  known.sort((a, b) => a.rank - b.rank)
  const pointToReturned = new Int32Array(pointCount).fill(-1)
  const taken = new Uint8Array(pointCountOf(returned))
  const by: { kind: Evidence; added: number }[] = []
  for (const { kind, pairs } of known) {
    let added = 0
    const before = by.length ? pointToReturned.slice() : null
    pairs.forEach((other, point) => {
      if (other < 0 || pointToReturned[point]! >= 0 || taken[other]) return
      // it has to fit what other evidence says, where it touches that; its own pairs bear each other out already
      let touching = 0
      let fitting = 0
      for (let at = neighbours.offsets[point]!; before && at < neighbours.offsets[point + 1]!; at++) {
        const next = before[neighbours.others[at]!]!
        if (next < 0) continue
        touching++
        if (areJoined(far, other, next)) fitting++
      }
      if (touching > 0 && fitting < touching * LEAST_SUPPORT) return
      pointToReturned[point] = other
      taken[other] = 1
      added++
    })
    if (added) by.push({ kind, added })
  }
  keepShells(pointToReturned, taken, neighbours, far)
  const isOpen = (): boolean => pointToReturned.includes(-1)
  let guess: boolean = isCarriedGuess && by.some(({ kind }) => kind === 'carried')
  if (by.length) {
    if (isOpen()) grower().grow(pointToReturned, taken, 0)
  } else {
    const start = bestStart(master, returned, neighbours, grower())
    if (!start) return null
    guess = start.guess
    pointToReturned.set(start.pairs)
    for (const other of start.pairs) if (other >= 0) taken[other] = 1
    by.push({ kind: 'start', added: 1 })
  }
  settlePairs(master, returned, pointToReturned, taken, neighbours, far, supportOf)
  const [mostly] = by.sort((a, b) => b.added - a.added)
  const isByPlaces = mostly!.kind === 'near' || mostly!.kind === 'carried' || mostly!.kind === 'start'
  settleByMoves(master, returned, pointToReturned, taken, neighbours, far, supportOf, isByPlaces)
  if (isOpen()) {
    grower().grow(pointToReturned, taken, 0)
    if (isOpen()) carryFromKnown(master, returned, neighbours, far, pointToReturned, taken)
    settleByMoves(master, returned, pointToReturned, taken, neighbours, far, supportOf, isByPlaces)
  }
  if (isOpen() && mendShifts(master, returned, pointToReturned, taken, neighbours, far, grower()))
    guess = true
  if (isByPlaces) keepCoherent(master, returned, pointToReturned, taken, neighbours)
  prune(pointToReturned, supportOf)
  return { pointToReturned, by: by.map(({ kind }) => kind), guess }
}
