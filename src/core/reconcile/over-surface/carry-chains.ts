/**
 * Creased and hard edges whose points have no counterpart, or between whose points other edges run now: chains of them are
 * led along the edges of the new polygons, as near as these run, or not at all.
 */
import { buildBvh } from '../../base/math/bvh.ts'
import { once } from '../../base/remembering/once.ts'
import { createHeap } from '../../base/math/heap.ts'
import { distanceToSegment } from '../../base/math/segment.ts'
import { edgeKey } from '../../mesh/relations/adjacency.ts'
import { edgesOfPoints } from '../../mesh/relations/edge-paths.ts'
import { createMeshFacts } from '../../mesh/relations/mesh-facts.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { placeOf } from './find-places.ts'

/** Edges of a mesh with a value each, as pairs of points. */
export interface ValuedEdges {
  readonly points: ArrayLike<number>
  readonly values: ArrayLike<number>
}

export interface LedEdges {
  /** Of the target: pairs of points, and a value each; the greater one where several came together. */
  readonly edges: ReadonlyMap<number, { readonly a: number; readonly b: number; readonly value: number }>
  /** Edges of the master that are there again: as they are, or led along. */
  readonly found: number
  readonly total: number
  /** The point of the target at which a point of the master lies: its counterpart, or the nearest; -1 for none near enough. */
  readonly pointOf: (point: number) => number
}

/** A chain may run off its way by so many lengths of the target's edges there. */
const MOST_OFF = 1
/** A way may be so many times as long as its chain; along edges that lie askew it is up to the square root of two. */
const MOST_LONGER = 1.6
/** What being off the way costs, beside the way's own length. */
const OFF_COST = 4
/** Edges of a chain that are led in one go: ways are looked for near all of them. */
const MOST_AT_ONCE = 48
/** Of more edges than this that have to be led none is: where nearly all edges are hard there are no chains to follow. */
const MOST_LED = 200_000

type Place = readonly [number, number, number]
const apart = (a: Place, b: Place): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])

/** Points in a row, each next to the one before; the first is the last in a ring. */
type Chain = number[]

/**
 * Chains of edges of one value, from one end, fork or known point to the next.
 *
 * @param ends points at which a chain ends in any case.
 */
function chainsOf(edges: readonly (readonly [number, number])[], ends: (point: number) => boolean): Chain[] {
  const around = new Map<number, number[]>()
  const put = (a: number, b: number): unknown => (around.has(a) ? around.get(a)!.push(b) : around.set(a, [b]))
  for (const [a, b] of edges) {
    put(a, b)
    put(b, a)
  }
  const used = new Set<number>()
  const stops = (point: number): boolean => ends(point) || around.get(point)!.length !== 2
  const walk = (from: number, to: number): Chain => {
    const chain = [from, to]
    used.add(edgeKey(from, to))
    while (!stops(chain.at(-1)!) && chain.at(-1) !== from) {
      const [at, before] = [chain.at(-1)!, chain.at(-2)!]
      const next = around.get(at)!.find((point) => point !== before && !used.has(edgeKey(at, point)))
      if (next === undefined) break
      used.add(edgeKey(at, next))
      chain.push(next)
    }
    return chain
  }
  const chains: Chain[] = []
  for (const [point, others] of around)
    if (stops(point))
      for (const other of others) if (!used.has(edgeKey(point, other))) chains.push(walk(point, other))
  // what is left are rings
  for (const [a, b] of edges) if (!used.has(edgeKey(a, b))) chains.push(walk(a, b))
  return chains
}

/**
 * @param moved the master with its points where those of them came back that are known again.
 * @param sourcePoints for each point of the master its counterpart, -1 for none.
 */
export function leadEdges(
  moved: Mesh,
  target: Mesh,
  sourcePoints: Int32Array,
  valued: ValuedEdges,
): LedEdges {
  const facts = createMeshFacts(target)
  const { edgePoints, edgeCount } = facts.edges()
  const known = new Set<number>()
  for (let edge = 0; edge < edgeCount; edge++)
    known.add(edgeKey(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!))
  const led = new Map<number, { a: number; b: number; value: number }>()
  const lay = (a: number, b: number, value: number): void => {
    const key = edgeKey(a, b)
    const before = led.get(key)
    if (!before || before.value < value) led.set(key, { a, b, value })
  }
  const total = valued.values.length
  let found = 0
  const left = new Map<number, [number, number][]>()
  for (let edge = 0; edge < total; edge++) {
    const ends = [valued.points[2 * edge]!, valued.points[2 * edge + 1]!] as [number, number]
    const [a, b] = [sourcePoints[ends[0]]!, sourcePoints[ends[1]]!]
    const value = valued.values[edge]!
    if (a >= 0 && a === b) found++
    else if (a >= 0 && b >= 0 && known.has(edgeKey(a, b))) {
      found++
      lay(a, b, value)
    } else if (left.has(value)) left.get(value)!.push(ends)
    else left.set(value, [ends])
  }
  const { offsets, list } = edgesOfPoints(facts)
  const edgesOf = (point: number): Uint32Array => list.subarray(offsets[point], offsets[point + 1])
  const lengthOf = (edge: number): number =>
    apart(placeOf(target, edgePoints[2 * edge]!), placeOf(target, edgePoints[2 * edge + 1]!))
  /** The mean length of the edges at a point of the target. */
  const spanAt = (point: number): number => {
    const own = edgesOf(point)
    return own.length ? own.reduce((sum, edge) => sum + lengthOf(edge), 0) / own.length : 0
  }
  const tree = once(() => buildBvh(target))
  /** The nearest corner of the polygon that is nearest. */
  const nearestPoint = (place: Place): number => {
    const found = place.every(Number.isFinite) ? tree().nearest(...place) : null
    if (!found) return -1
    const [start, end] = [target.faceOffsets[found.face]!, target.faceOffsets[found.face + 1]!]
    let best = -1
    let least = Infinity
    for (const point of target.faceVertices.subarray(start, end)) {
      const distance = apart(place, placeOf(target, point))
      if (distance < least) [best, least] = [point, distance]
    }
    return best
  }
  const anchors = new Map<number, number>()
  /** The point of the target at which a point of a chain lies; -1 where none is near enough. */
  const anchorOf = (point: number): number => {
    if (sourcePoints[point]! >= 0) return sourcePoints[point]!
    let anchor = anchors.get(point)
    if (anchor === undefined) {
      const place = placeOf(moved, point)
      anchor = nearestPoint(place)
      if (anchor >= 0 && apart(place, placeOf(target, anchor)) > MOST_OFF * spanAt(anchor)) anchor = -1
      anchors.set(point, anchor)
    }
    return anchor
  }
  for (const [value, edges] of left) {
    if (edges.length > MOST_LED) continue
    for (const chain of chainsOf(edges, (point) => sourcePoints[point]! >= 0)) {
      const isRing = chain[0] === chain.at(-1)
      const length = chain.length - 1
      // a ring is led in three pieces at least, or it would fall together
      const pieces = Math.max(isRing ? 3 : 1, Math.ceil(length / MOST_AT_ONCE))
      const ways: number[][] = []
      let whole = true
      for (let piece = 0; piece < pieces && whole; piece++) {
        const points = chain.slice(
          Math.floor((piece * length) / pieces),
          Math.floor(((piece + 1) * length) / pieces) + 1,
        )
        if (points.length < 2) continue
        const [from, to] = [anchorOf(points[0]!), anchorOf(points.at(-1)!)]
        const way =
          from < 0 || to < 0
            ? null
            : leadAlong(
                points.map((point) => placeOf(moved, point)),
                from,
                to,
              )
        if (way) ways.push(way)
        else whole = false
      }
      // a chain that is shorter than any edge there has nowhere to go
      if (!whole || ways.every((way) => way.length === 0)) continue
      found += length
      for (const edge of ways.flat()) lay(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!, value)
    }
  }
  return { edges: led, found, total, pointOf: anchorOf }

  /** Edges of the target from one point to another, near a line of places; null where none run so. */
  function leadAlong(line: readonly Place[], from: number, to: number): number[] | null {
    if (from === to) return []
    const length = line.slice(1).reduce((sum, place, at) => sum + apart(place, line[at]!), 0)
    const span = Math.max(spanAt(from), spanAt(to))
    const off = (place: Place): number => {
      let least = Infinity
      for (let at = 0; at + 1 < line.length; at++)
        least = Math.min(least, distanceToSegment(place, line[at]!, line[at + 1]!))
      return least
    }
    const costs = new Map<number, number>([[from, 0]])
    const ways = new Map<number, number>([[from, 0]])
    const by = new Map<number, number>()
    const done = new Set<number>()
    const heap = createHeap()
    heap.push(0, from)
    for (;;) {
      const point = heap.pop()
      if (point < 0) return null
      if (done.has(point)) continue
      if (point === to) break
      done.add(point)
      const here = placeOf(target, point)
      for (const edge of edgesOf(point)) {
        const other = edgePoints[2 * edge]! === point ? edgePoints[2 * edge + 1]! : edgePoints[2 * edge]!
        if (done.has(other)) continue
        const there = placeOf(target, other)
        const own = apart(here, there)
        const astray = off(there)
        if (other !== to && astray > MOST_OFF * Math.max(span, own)) continue
        const middle = off(
          [0, 1, 2].map((axis) => (here[axis]! + there[axis]!) / 2) as [number, number, number],
        )
        const cost = costs.get(point)! + own + OFF_COST * (astray + middle)
        if (cost >= (costs.get(other) ?? Infinity)) continue
        costs.set(other, cost)
        ways.set(other, ways.get(point)! + own)
        by.set(other, edge)
        heap.push(cost, other)
      }
    }
    if (ways.get(to)! > MOST_LONGER * length + span) return null
    const path: number[] = []
    for (let point = to; point !== from;) {
      const edge = by.get(point)!
      path.push(edge)
      point = edgePoints[2 * edge]! === point ? edgePoints[2 * edge + 1]! : edgePoints[2 * edge]!
    }
    return path
  }
}
