/** What the triangles of a net measure on the model, and the matrices that come of it. */
import type { Graph } from '../../base/math/dissection-order.ts'
import type { SparseMatrix } from '../../base/math/sparse-factor.ts'
import type { IslandNet } from './island-net.ts'

/**
 * A triangle is taken for one with area from this share of the mean squared side on: what lies below is a needle or a
 * line, and gets a shape of that size, so that it is never turned over and pulls at nobody.
 */
const LEAST_AREA = 1e-7
/** Weight of a triangle without area, beside one of mean size. */
const FLAT_WEIGHT = 1e-6

export interface TriangleShapes {
  /** 4 x triangle count: the matrix that takes two sides in the plane to coordinates along the triangle's own sides. */
  readonly inverses: Float64Array
  /** Areas, with the triangles' shares. */
  readonly weights: Float64Array
  /** 3 x triangle count: cotangents of the angles at the three corners, with the shares; 0 for those without area. */
  readonly cotangents: Float64Array
  /** 3 x triangle count: angles at the corners. */
  readonly angles: Float64Array
  /** Sum of the weights. */
  readonly area: number
  /** Triangles without area. */
  readonly flatCount: number
}

/** Squares beyond these are rounded away, or no numbers. */
const [TINY_SQUARE, HUGE_SQUARE] = [1e-280, 1e280]

/** As `Math.hypot`, which takes many times as long, wherever squares can be had. */
function lengthOf(x: number, y: number, z: number): number {
  const squared = x * x + y * y + z * z
  return squared > TINY_SQUARE && squared < HUGE_SQUARE ? Math.sqrt(squared) : Math.hypot(x, y, z)
}

/** @param points 3 x pointCount, finite. */
export function triangleShapes(net: IslandNet, points: Float64Array): TriangleShapes {
  const { triangles, shares, vertexPoints } = net
  const count = shares.length
  const inverses = new Float64Array(4 * count)
  const weights = new Float64Array(count)
  const cotangents = new Float64Array(3 * count)
  const angles = new Float64Array(3 * count)
  // sides along x, so that a triangle is (0, 0), (length, 0), (x, y)
  const lengths = new Float64Array(count)
  const xs = new Float64Array(count)
  const ys = new Float64Array(count)
  let area = 0
  let squares = 0
  for (let at = 0; at < count; at++) {
    const p = 3 * vertexPoints[triangles[3 * at]!]!
    const q = 3 * vertexPoints[triangles[3 * at + 1]!]!
    const r = 3 * vertexPoints[triangles[3 * at + 2]!]!
    const ax = points[q]! - points[p]!
    const ay = points[q + 1]! - points[p + 1]!
    const az = points[q + 2]! - points[p + 2]!
    const bx = points[r]! - points[p]!
    const by = points[r + 1]! - points[p + 1]!
    const bz = points[r + 2]! - points[p + 2]!
    const length = lengthOf(ax, ay, az)
    const cross = lengthOf(ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx)
    const x = length > 0 ? (ax * bx + ay * by + az * bz) / length : 0
    const y = length > 0 ? cross / length : 0
    lengths[at] = length
    xs[at] = x
    ys[at] = y
    area += (shares[at]! * cross) / 2
    squares += shares[at]! * (length * length + x * x + y * y)
  }
  const total = shares.reduce((sum, share) => sum + share, 0)
  // where nothing has a size every triangle is one of any size
  const mean = squares > 0 ? squares / (2 * total) : 1
  const side = Math.sqrt(mean)
  const usual = area > 0 ? area / total : mean / 2
  let flatCount = 0
  for (let at = 0; at < count; at++) {
    let length = lengths[at]!
    let x = xs[at]!
    let y = ys[at]!
    const largest = Math.max(length * length, x * x + y * y, (x - length) ** 2 + y * y)
    if (!(length * y > LEAST_AREA * Math.max(largest, LEAST_AREA * mean))) {
      flatCount++
      length = side * 1e-2
      x = side * 5e-3
      y = side * 8e-3
      weights[at] = shares[at]! * usual * FLAT_WEIGHT
      angles.fill(0, 3 * at, 3 * at + 3)
    } else {
      weights[at] = (shares[at]! * length * y) / 2
      const across = length * y
      for (let k = 0; k < 3; k++) {
        const along = k === 0 ? length * x : k === 1 ? length * (length - x) : x * (x - length) + y * y
        cotangents[3 * at + k] = (shares[at]! * along) / across
        angles[3 * at + k] = shares[at]! * Math.atan2(across, along)
      }
    }
    // the inverse of the sides (length, 0) and (x, y) as columns
    inverses[4 * at] = 1 / length
    inverses[4 * at + 1] = -x / (length * y)
    inverses[4 * at + 2] = 0
    inverses[4 * at + 3] = 1 / y
  }
  return { inverses, weights, cotangents, angles, area, flatCount }
}

/** Which vertices share a triangle, and where each triangle's sides stand among the entries. */
export interface NetGraph extends Graph {
  /** 6 x triangle count: entries of the sides opposite to corners 0, 1 and 2, each in both directions. */
  readonly sideEntries: Uint32Array
}

/** @param points 3 x pointCount, finite. */
export function netGraph(
  { triangles, vertexCount, vertexPoints }: IslandNet,
  points: Float64Array,
): NetGraph {
  const count = triangles.length / 3
  // each side in both directions, sorted by where it begins; what stands twice is one
  const starts = new Uint32Array(vertexCount + 1)
  for (const vertex of triangles) starts[vertex + 1]! += 2
  for (let at = 0; at < vertexCount; at++) starts[at + 1]! += starts[at]!
  const ends = starts.slice(0, vertexCount)
  const held = new Uint32Array(starts[vertexCount]!)
  const sideEntries = new Uint32Array(6 * count)
  const put = (from: number, to: number): number => {
    for (let at = starts[from]!; at < ends[from]!; at++) if (held[at] === to) return at
    held[ends[from]!] = to
    return ends[from]!++
  }
  for (let at = 0; at < count; at++)
    for (let k = 0; k < 3; k++) {
      const [i, j] = [triangles[3 * at + ((k + 1) % 3)]!, triangles[3 * at + ((k + 2) % 3)]!]
      sideEntries[6 * at + 2 * k] = put(i, j)
      sideEntries[6 * at + 2 * k + 1] = put(j, i)
    }
  const offsets = new Uint32Array(vertexCount + 1)
  const moved = new Uint32Array(held.length)
  let total = 0
  for (let vertex = 0; vertex < vertexCount; vertex++) {
    for (let at = starts[vertex]!; at < ends[vertex]!; at++) moved[at] = total++
    offsets[vertex + 1] = total
  }
  const neighbours = new Uint32Array(total)
  for (let vertex = 0; vertex < vertexCount; vertex++)
    for (let at = starts[vertex]!; at < ends[vertex]!; at++) neighbours[moved[at]!] = held[at]!
  for (let at = 0; at < sideEntries.length; at++) sideEntries[at] = moved[sideEntries[at]!]!
  const places = new Float64Array(3 * vertexCount)
  for (let vertex = 0; vertex < vertexCount; vertex++)
    for (let axis = 0; axis < 3; axis++) places[3 * vertex + axis] = points[3 * vertexPoints[vertex]! + axis]!
  return { nodeCount: vertexCount, offsets, neighbours, places, sideEntries }
}

/**
 * The stiffness of a net: for each side half of the cotangents opposite to it (Pinkall & Polthier 1993).
 * @param factors triangle count; each triangle's part is multiplied by it.
 * @param least added to every side, relative to the mean, so that triangles without area hang on to something.
 */
export function stiffness(
  { triangles, vertexCount }: IslandNet,
  graph: NetGraph,
  { cotangents }: TriangleShapes,
  factors: ArrayLike<number> | null,
  least = 1e-9,
): SparseMatrix {
  const diagonal = new Float64Array(vertexCount)
  const entries = new Float64Array(graph.neighbours.length)
  let most = 0
  for (let at = 0; at < triangles.length / 3; at++) {
    const factor = factors ? factors[at]! : 1
    if (factor > most) most = factor
    for (let k = 0; k < 3; k++) {
      const weight = (cotangents[3 * at + k]! * factor) / 2
      entries[graph.sideEntries[6 * at + 2 * k]!]! -= weight
      entries[graph.sideEntries[6 * at + 2 * k + 1]!]! -= weight
    }
  }
  const hold = least * Math.max(most, 1e-300)
  for (let at = 0; at < entries.length; at++) entries[at]! -= hold
  for (let vertex = 0; vertex < vertexCount; vertex++) {
    let sum = 0
    for (let at = graph.offsets[vertex]!; at < graph.offsets[vertex + 1]!; at++) sum += entries[at]!
    diagonal[vertex] = -sum
  }
  return { graph, diagonal, entries }
}

/** The same matrix with some nodes cut off from all others, so that what is known of them stays. */
export function withHeld(
  { graph, diagonal, entries }: SparseMatrix,
  isHeld: ArrayLike<number>,
): SparseMatrix {
  const kept = entries.slice()
  const own = diagonal.slice()
  for (let node = 0; node < graph.nodeCount; node++) {
    if (isHeld[node]) own[node] = 1
    for (let at = graph.offsets[node]!; at < graph.offsets[node + 1]!; at++)
      if (isHeld[node] || isHeld[graph.neighbours[at]!]) kept[at] = 0
  }
  return { graph, diagonal: own, entries: kept }
}
