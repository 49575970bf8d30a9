/**
 * Which point is which where the polygons are not the same ones any more and points have moved: from everything that a
 * file still has. Each kind of evidence (the order of points, their UVs, their places, how they hang together nearby)
 * gives pairs; what the edges of both sides don't bear out is dropped; what is left is grown from polygon to polygon.
 */
import { edgeKey, edgesOf } from '../../mesh/relations/adjacency.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { createHashGrid } from '../../base/math/hash-grid.ts'
import { bestStart } from './best-start.ts'
import { createGrower } from './grow-pairs.ts'
import { neighboursOf, type Neighbours } from './neighbours.ts'

/** Kinds of evidence, in the order in which they are believed where they are borne out alike. */
export type Evidence = 'uv' | 'order' | 'position' | 'near' | 'start'

export interface EvidenceMatch {
  /** One a master point; the returned point, -1 for none. Each returned point stands once at most. */
  readonly pointToReturned: Int32Array
  /** The kinds that agreed with what was found, those first that gave most. */
  readonly by: readonly Evidence[]
}

/** Edges of a point that have to be borne out, as a share of those whose other end has a counterpart. */
const LEAST_SUPPORT = 0.5
/** Rounds of dropping what is not borne out: each takes away what hung on the last one's. */
const PRUNING_ROUNDS = 4
/** Of a kind of evidence at least this share of its pairs has to be borne out for any of it to be believed. */
const LEAST_BELIEVED = 0.6

/** Edges as pairs of points, for asking whether two points are joined by one. */
export function edgeSet(mesh: Mesh): Set<number> {
  const { edgeCount, edgePoints } = edgesOf(mesh)
  const known = new Set<number>()
  for (let edge = 0; edge < edgeCount; edge++)
    known.add(edgeKey(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!))
  return known
}

/** Pairs whose values stand at one point alone on either side; of a point with several values most have to agree. */
function pairUnique(
  valuesA: ReadonlyMap<number, number>,
  valuesB: ReadonlyMap<number, number>,
  count: number,
): Int32Array {
  const pairs = new Int32Array(count).fill(-1)
  /** Votes of the few points whose values don't agree. */
  const votes = new Map<number, Map<number, number>>()
  const agreed = new Uint16Array(count)
  for (const [value, point] of valuesA) {
    const other = point < 0 ? undefined : valuesB.get(value)
    if (other === undefined || other < 0) continue
    const held = votes.get(point)
    if (held) held.set(other, (held.get(other) ?? 0) + 1)
    else if (pairs[point] === -1 || pairs[point] === other) {
      pairs[point] = other
      agreed[point]!++
    } else
      votes.set(
        point,
        new Map([
          [pairs[point]!, agreed[point]!],
          [other, 1],
        ]),
      )
  }
  for (const [point, candidates] of votes) {
    const [best, next] = [...candidates].sort((x, y) => y[1] - x[1])
    pairs[point] = best![1] > next![1] ? best![0] : -1
  }
  return eachOnce(pairs)
}

/** A returned point that two master points claim goes with neither. */
function eachOnce(pairs: Int32Array): Int32Array {
  const claims = new Uint8Array(pairs.reduce((most, other) => Math.max(most, other), -1) + 1)
  for (const other of pairs) if (other >= 0 && claims[other]! < 2) claims[other]!++
  return pairs.map((other) => (other >= 0 && claims[other] === 1 ? other : -1))
}

/** Units of V, of which 2 ** 27 millionths stand between two values of U. */
const FARTHEST_V = 60

/** UVs of the first sets that both have, by the point they stand at; -1 where one stands at several points. */
function uvPoints(mesh: Mesh, at: number): Map<number, number> {
  const set = mesh.uvSets[at]!
  const points = new Map<number, number>()
  for (let corner = 0; corner < mesh.faceVertices.length; corner++) {
    const uv = set.indices[corner]!
    if (uv < 0) continue
    // six digits of text survive; a layout that was not touched has no other rounding
    const key = Math.round(set.values[2 * uv]! * 1e6) * 2 ** 27 + Math.round(set.values[2 * uv + 1]! * 1e6)
    // so far out that two UVs could give one key
    if (!Number.isSafeInteger(key) || Math.abs(set.values[2 * uv + 1]!) > FARTHEST_V) continue
    const point = mesh.faceVertices[corner]!
    const known = points.get(key)
    points.set(key, known === undefined || known === point ? point : -1)
  }
  return points
}

function byUvs(master: Mesh, returned: Mesh): Int32Array | null {
  if (master.uvSets.length === 0 || returned.uvSets.length === 0) return null
  return pairUnique(uvPoints(master, 0), uvPoints(returned, 0), pointCountOf(master))
}

/** Numbers that are off by so many are looked at beside the same numbers, in runs of so many points. */
const MOST_SHIFT = 8
const RUN = 16
/** A run that moved so many times as far as the middle one was pushed on by more than that. */
const MUCH_FARTHER = 6
/** What unevenness counts beside distance. */
const UNEVENNESS = 4
/** Share of such runs up to which the order is believed. */
const MOST_STRAYS = 0.02

/**
 * The same numbers, unless there are runs of them where the numbers beside lie nearer: where a point was added or
 * removed, all behind it have moved on, and on a regular lattice the edges bear that out too.
 */
function byOrder(master: Mesh, returned: Mesh): Int32Array | null {
  const count = pointCountOf(returned)
  const [before, after] = [boundsOf(master.points), boundsOf(returned.points)]
  if (!before || !after) return null
  const scale = (diagonalOf(before) || 1) / (diagonalOf(after) || 1)
  /**
   * How far a run of points moved to those whose numbers are higher by `shift`, and how unevenly: true moves are much
   * alike from one point to the next, however far they go.
   */
  const apart = (start: number, shift: number): number => {
    let sum = 0
    let uneven = 0
    let compared = 0
    let last: readonly number[] | null = null
    for (let point = start; point < Math.min(start + RUN, pointCountOf(master)); point++) {
      const other = point + shift
      if (other < 0 || other >= count) continue
      const move = [0, 1, 2].map(
        (axis) =>
          master.points[3 * point + axis]! -
          before.min[axis]! -
          (returned.points[3 * other + axis]! - after.min[axis]!) * scale,
      )
      sum += Math.hypot(move[0]!, move[1]!, move[2]!)
      if (last) uneven += Math.hypot(move[0]! - last[0]!, move[1]! - last[1]!, move[2]! - last[2]!)
      last = move
      compared++
    }
    return compared ? (sum + UNEVENNESS * uneven) / compared : Infinity
  }
  const starts = Array.from({ length: Math.ceil(pointCountOf(master) / RUN) }, (_run, at) => at * RUN)
  const own = starts.map((start) => apart(start, 0))
  const middle = own.slice().sort((a, b) => a - b)[own.length >> 1] ?? 0
  const least = (diagonalOf(before) || 1) * 1e-6
  const strays = starts.filter((start, run) => {
    if (own[run]! > middle * MUCH_FARTHER + least) return true
    for (let shift = 1; shift <= MOST_SHIFT; shift++)
      if (apart(start, shift) < own[run]! || apart(start, -shift) < own[run]!) return true
    return false
  })
  // one that is cut or pushed on anywhere is not the master's order
  if (strays.length > starts.length * MOST_STRAYS) return null
  return Int32Array.from({ length: pointCountOf(master) }, (_point, at) => (at < count ? at : -1))
}

/** Drops pairs that the edges don't bear out. @returns how many were given, and how many are left. */
function prune(
  pairs: Int32Array,
  { offsets, others }: Neighbours,
  returnedEdges: ReadonlySet<number>,
): { given: number; left: number } {
  const count = (): number => pairs.reduce((sum, other) => sum + (other >= 0 ? 1 : 0), 0)
  const given = count()
  for (let round = 0; round < PRUNING_ROUNDS; round++) {
    const dropped: number[] = []
    for (let point = 0; point < pairs.length; point++) {
      if (pairs[point]! < 0) continue
      let known = 0
      let borne = 0
      for (let at = offsets[point]!; at < offsets[point + 1]!; at++) {
        const other = pairs[others[at]!]!
        if (other < 0) continue
        known++
        if (returnedEdges.has(edgeKey(pairs[point]!, other))) borne++
      }
      // one that has no neighbour with a counterpart is held by nothing
      if (known === 0 || borne < known * LEAST_SUPPORT) dropped.push(point)
    }
    for (const point of dropped) pairs[point] = -1
    if (dropped.length === 0) break
  }
  return { given, left: count() }
}

/** Mean corners of a polygon beside the master's from which on the returned ones were not cut. */
const STILL_WHOLE = 0.9
const faceSizeOf = (mesh: Mesh): number => mesh.faceVertices.length / Math.max(1, faceCountOf(mesh))

/** Rounds in which points look for a better counterpart than they have. */
const SETTLING_ROUNDS = 3

/**
 * A point that is not joined to all counterparts of its neighbours looks among the points round those for one that is
 * joined to all of them: the top of something that was pulled out has the UVs of its base, and fewer of its edges.
 */
function settle(
  master: Mesh,
  returned: Mesh,
  pairs: Int32Array,
  taken: Uint8Array,
  near: Neighbours,
  far: Neighbours,
  returnedEdges: ReadonlySet<number>,
): void {
  const edgesBorne = (point: number, candidate: number): number => {
    let borne = 0
    for (let at = near.offsets[point]!; at < near.offsets[point + 1]!; at++) {
      const other = pairs[near.others[at]!]!
      if (other >= 0 && other !== candidate && returnedEdges.has(edgeKey(candidate, other))) borne++
    }
    return borne
  }
  for (let round = 0; round < SETTLING_ROUNDS; round++) {
    let changed = false
    for (let point = 0; point < pairs.length; point++) {
      const own = pairs[point]!
      if (own < 0) continue
      let known = 0
      for (let at = near.offsets[point]!; at < near.offsets[point + 1]!; at++)
        if (pairs[near.others[at]!]! >= 0) known++
      let best = own
      let most = edgesBorne(point, own)
      if (most === known) continue
      for (let at = near.offsets[point]!; at < near.offsets[point + 1]!; at++) {
        const other = pairs[near.others[at]!]!
        if (other < 0) continue
        for (let beside = far.offsets[other]!; beside < far.offsets[other + 1]!; beside++) {
          const candidate = far.others[beside]!
          if (taken[candidate]) continue
          const borne = edgesBorne(point, candidate)
          // it has to lie nearer too
          if (
            borne <= most ||
            distance(master, point, returned, candidate) >= distance(master, point, returned, own)
          )
            continue
          most = borne
          best = candidate
        }
      }
      if (best === own || most < known) continue
      taken[own] = 0
      taken[best] = 1
      pairs[point] = best
      changed = true
    }
    if (!changed) return
  }
}

/** Share of the shortest edge at a point within which the nearest returned point may be it, moved. */
const NEAR = 0.35

/** Nearness is believed where it covers nearly all, and nearly all of that is borne out. */
const NEAR_COVERS = 0.8
const SURE_NEAR = 0.95
/** Share of the points from which on another kind of evidence speaks in its place. */
const SPEAKS = 0.3

/** Points that are each other's nearest, and nearer than any neighbour: moved a little. */
function byNearness(master: Mesh, returned: Mesh, { offsets, others }: Neighbours): Int32Array {
  const pairs = new Int32Array(pointCountOf(master)).fill(-1)
  const reach = new Float64Array(pairs.length)
  let longest = 0
  for (let point = 0; point < pairs.length; point++) {
    let shortest = Infinity
    for (let at = offsets[point]!; at < offsets[point + 1]!; at++) {
      const other = others[at]!
      shortest = Math.min(shortest, distance(master, point, master, other))
    }
    reach[point] = Number.isFinite(shortest) ? shortest * NEAR : 0
    longest = Math.max(longest, reach[point]!)
  }
  if (!(longest > 0)) return pairs
  const { heads, next, slotOf, cellOf, insert } = createHashGrid(pointCountOf(returned), longest * 2)
  for (let point = 0; point < pointCountOf(returned); point++)
    insert(
      point,
      returned.points[3 * point]!,
      returned.points[3 * point + 1]!,
      returned.points[3 * point + 2]!,
    )
  const nearestTo = new Map<number, number>()
  for (let point = 0; point < pairs.length; point++) {
    if (reach[point] === 0) continue
    let best = -1
    let least = reach[point]!
    const ends = [0, 1, 2].map((axis) => {
      const at = master.points[3 * point + axis]!
      return [cellOf(at - least), cellOf(at + least)] as const
    })
    let looked = 0
    for (let cx = ends[0]![0]; cx <= ends[0]![1]; cx++)
      for (let cy = ends[1]![0]; cy <= ends[1]![1]; cy++)
        for (let cz = ends[2]![0]; cz <= ends[2]![1]; cz++)
          for (let other = heads[slotOf(cx, cy, cz)]!; other >= 0; other = next[other]!) {
            if (++looked > MOST_NEAR) break
            const away = distance(master, point, returned, other)
            if (away >= least) continue
            least = away
            best = other
          }
    if (best < 0) continue
    pairs[point] = best
    const rival = nearestTo.get(best)
    if (rival === undefined || distance(master, rival, returned, best) > least) nearestTo.set(best, point)
  }
  return pairs.map((other, point) => (other >= 0 && nearestTo.get(other) === point ? other : -1))
}

/** Points that are looked at for one: in a heap nothing is near in particular. */
const MOST_NEAR = 256

function distance(a: Mesh, pointA: number, b: Mesh, pointB: number): number {
  return Math.hypot(
    a.points[3 * pointA]! - b.points[3 * pointB]!,
    a.points[3 * pointA + 1]! - b.points[3 * pointB + 1]!,
    a.points[3 * pointA + 2]! - b.points[3 * pointB + 2]!,
  )
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
  if (faceCountOf(master) === 0 || faceCountOf(returned) === 0) return null
  const neighbours = neighboursOf(master)
  const returnedEdges = edgeSet(returned)
  const grower = createGrower(master, returned)
  const kinds: readonly (readonly [Evidence, () => Int32Array | null])[] = [
    ['uv', () => byUvs(master, returned)],
    ['position', () => byPosition.slice()],
    ['order', () => (numbersCount ? byOrder(master, returned) : null)],
    ['near', () => byNearness(master, returned, neighbours)],
  ]
  const known = kinds
    .flatMap(([kind, find], rank) => {
      const pairs = find()
      if (!pairs) return []
      const { given, left } = prune(pairs, neighbours, returnedEdges)
      if (left === 0 || left < given * LEAST_BELIEVED) return []
      // what moved farther than its neighbours lie comes near to others, which bear each other out
      if (kind === 'near' && (given < pairs.length * NEAR_COVERS || left < given * SURE_NEAR)) return []
      // an order that holds by halves may be that of a symmetrical other: places speak before it
      const sure = kind !== 'order' || (left >= given * SURE_ORDER && left >= SURE_POINTS)
      return [{ kind, pairs, left, rank: sure ? rank : kinds.length }]
    })
    // where others speak, what moved is reached from them: there the nearest may be another
    .filter(
      ({ kind }, _at, all) =>
        kind !== 'near' ||
        all.every((other) => other.kind === 'near' || other.left < (master.points.length / 3) * SPEAKS),
    )
    .sort((a, b) => a.rank - b.rank)
  const pointToReturned = new Int32Array(pointCountOf(master)).fill(-1)
  const taken = new Uint8Array(pointCountOf(returned))
  const by: { kind: Evidence; added: number }[] = []
  for (const { kind, pairs } of known) {
    let added = 0
    const before = pointToReturned.slice()
    pairs.forEach((other, point) => {
      if (other < 0 || pointToReturned[point]! >= 0 || taken[other]) return
      // it has to fit what other evidence says, where it touches that; its own pairs bear each other out already
      let touching = 0
      let fitting = 0
      for (let at = neighbours.offsets[point]!; at < neighbours.offsets[point + 1]!; at++) {
        const next = before[neighbours.others[at]!]!
        if (next < 0) continue
        touching++
        if (returnedEdges.has(edgeKey(other, next))) fitting++
      }
      if (touching > 0 && fitting < touching * LEAST_SUPPORT) return
      pointToReturned[point] = other
      taken[other] = 1
      added++
    })
    if (added) by.push({ kind, added })
  }
  if (by.length) grower.grow(pointToReturned, taken, 0)
  else {
    const start = bestStart(master, returned, neighbours, grower)
    if (!start) return null
    pointToReturned.set(start)
    for (const other of start) if (other >= 0) taken[other] = 1
    by.push({ kind: 'start', added: 1 })
  }
  // over polygons that were cut, diagonals are edges more and prove nothing
  if (faceSizeOf(returned) > faceSizeOf(master) * STILL_WHOLE)
    settle(master, returned, pointToReturned, taken, neighbours, neighboursOf(returned), returnedEdges)
  grower.grow(pointToReturned, taken, 0)
  prune(pointToReturned, neighbours, returnedEdges)
  return { pointToReturned, by: by.sort((a, b) => b.added - a.added).map(({ kind }) => kind) }
}
