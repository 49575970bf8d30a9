import { boundsOf, diagonalOf } from '../../../base/math/box.ts'
import { fitSimilarity } from '../../whole/similarity.ts'
import { pointCountOf, type Mesh } from '../../../scene/mesh.ts'

/** Numbers that are off by so many are looked at beside the same numbers, in runs of so many points. */
const MOST_SHIFT = 8
const RUN = 16
/** A run that moved so many times as far as the middle one, and as its points lie from one another, was pushed on by more. */
const MUCH_FARTHER = 6
const AS_FAR = 0.5
/** Beside strays, what moved by less than this share of how far its points lie apart is calm, and so much has to be. */
const HARDLY = 0.25
const LEAST_CALM = 0.6
/** What unevenness counts beside distance. */
const UNEVENNESS = 4
/**
 * Shares of such runs up to which the order is believed: of all, and of the last ones. Where a point was added or removed
 * all behind it are such; where something was sculpted here and there they lie scattered.
 */
const MOST_STRAYS = 0.3
const LAST = 0.2
const MOST_STRAYS_AT_LAST = 0.5

/** Points that are looked at for how all of it was sized, turned, mirrored or moved. */
const MOST_LOOKED_AT = 600

/** The master's points where all of it was brought, going by points of the same numbers; else by the two boxes. 3 x n. */
function broughtAlong(master: Mesh, returned: Mesh): Float64Array {
  const both = Math.min(pointCountOf(master), pointCountOf(returned))
  const step = Math.max(1, Math.floor(both / MOST_LOOKED_AT))
  const looked = Array.from({ length: Math.ceil(both / step) }, (_look, at) => at * step)
  const pick = (points: Float64Array): Float64Array =>
    Float64Array.from(looked.flatMap((point) => [...points.subarray(3 * point, 3 * point + 3)]))
  const fit = fitSimilarity(pick(master.points), pick(returned.points))
  if (fit && fit.spread > 0 && fit.factor > 0) {
    const { factor, turn, move } = fit
    const along = new Float64Array(master.points.length)
    for (let at = 0; at < along.length; at += 3)
      for (let axis = 0; axis < 3; axis++)
        along[at + axis] =
          factor *
            (turn[3 * axis]! * master.points[at]! +
              turn[3 * axis + 1]! * master.points[at + 1]! +
              turn[3 * axis + 2]! * master.points[at + 2]!) +
          move[axis]!
    return along
  }
  const [before, after] = [boundsOf(master.points)!, boundsOf(returned.points)!]
  const scale = (diagonalOf(after) || 1) / (diagonalOf(before) || 1)
  return master.points.map((value, at) => (value - before.min[at % 3]!) * scale + after.min[at % 3]!)
}

/**
 * The same numbers, but for runs of them where the numbers beside lie nearer, which are left open: where a point was
 * added or removed, all behind it have moved on, and on a regular lattice the edges bear that out too.
 */
export function byOrder(master: Mesh, returned: Mesh): Int32Array | null {
  const count = pointCountOf(returned)
  const after = boundsOf(returned.points)
  if (!after || pointCountOf(master) === 0) return null
  const expected = broughtAlong(master, returned)
  /** How far the points of a run lie from one to the next. */
  const spacing = (start: number): number => {
    const end = Math.min(start + RUN, pointCountOf(master)) - 1
    let sum = 0
    for (let at = 3 * start; at < 3 * end; at += 3)
      sum += Math.hypot(
        expected[at + 3]! - expected[at]!,
        expected[at + 4]! - expected[at + 1]!,
        expected[at + 5]! - expected[at + 2]!,
      )
    return end > start ? sum / (end - start) : 0
  }
  const { points } = returned
  /**
   * How far a run of points moved to those whose numbers are higher by `shift`, and how unevenly: true moves are much
   * alike from one point to the next, however far they go. Not less than `enough` is as good as infinite.
   */
  const apart = (start: number, shift: number, enough = Infinity): number => {
    let sum = 0
    let compared = 0
    let [lastX, lastY, lastZ] = [0, 0, 0]
    const end = Math.min(start + RUN, pointCountOf(master))
    for (let point = start; point < end; point++) {
      const other = point + shift
      if (other < 0 || other >= count) continue
      const x = expected[3 * point]! - points[3 * other]!
      const y = expected[3 * point + 1]! - points[3 * other + 1]!
      const z = expected[3 * point + 2]! - points[3 * other + 2]!
      sum += Math.sqrt(x * x + y * y + z * z)
      if (compared > 0) {
        const [dx, dy, dz] = [x - lastX, y - lastY, z - lastZ]
        sum += UNEVENNESS * Math.sqrt(dx * dx + dy * dy + dz * dz)
      }
      // of a run at most so many are compared
      if (sum >= enough * RUN) return Infinity
      lastX = x
      lastY = y
      lastZ = z
      compared++
    }
    return compared ? sum / compared : Infinity
  }
  const starts = Array.from({ length: Math.ceil(pointCountOf(master) / RUN) }, (_run, at) => at * RUN)
  const own = starts.map((start) => apart(start, 0))
  const middle = own.slice().sort((a, b) => a - b)[(own.length - 1) >> 1] ?? 0
  const least = (diagonalOf(after) || 1) * 1e-6
  const isStray = starts.map((start, run) => {
    if (own[run]! > Math.max(middle * MUCH_FARTHER, spacing(start) * AS_FAR) + least) return true
    for (let shift = 1; shift <= MOST_SHIFT; shift++)
      if (apart(start, shift, own[run]) < own[run]! || apart(start, -shift, own[run]) < own[run]!) return true
    return false
  })
  const share = (runs: readonly boolean[]): number => runs.filter(Boolean).length / runs.length
  const hasStrays = isStray.some(Boolean)
  const last = isStray.slice(-Math.max(1, Math.ceil(isStray.length * LAST)))
  // beside strays only what hardly moved is believed, and only where that is most of it: else it may be any other order
  const isBelieved = starts.map(
    (start, run) => !hasStrays || (!isStray[run] && own[run]! <= Math.max(spacing(start) * HARDLY, least)),
  )
  if (share(isStray) > MOST_STRAYS || share(isBelieved) < LEAST_CALM) return null
  if (hasStrays && share(last) > MOST_STRAYS_AT_LAST) return null
  const isTaken = createSwapFinder(expected, returned.points)
  return Int32Array.from({ length: pointCountOf(master) }, (_point, at) =>
    at < count && isBelieved[Math.floor(at / RUN)] && !isTaken(at) ? at : -1,
  )
}

/** A number beside it has to lie nearer by this for a point to be left open. */
const MUCH_NEARER = 0.5

/**
 * Whether a point went past the next in the row, or a number beside its own lies much nearer to where the points around it
 * went: where polygons were written in the order of their corners' first use, two may have changed places in a run that is
 * otherwise the same.
 */
function createSwapFinder(expected: Float64Array, points: Float64Array): (point: number) => boolean {
  const count = Math.min(expected.length, points.length) / 3
  const moves = [new Float64Array(RUN), new Float64Array(RUN), new Float64Array(RUN)]
  let moved = { run: -1, by: [0, 0, 0] }
  /** The middle move of a run, axis by axis. */
  const moveOf = (run: number): number[] => {
    if (moved.run === run) return moved.by
    const length = Math.min(RUN, count - run * RUN)
    const by = moves.map((own, axis) => {
      for (let at = 0; at < length; at++) {
        const value = 3 * (run * RUN + at) + axis
        own[at] = points[value]! - expected[value]!
      }
      return own.subarray(0, length).sort()[length >> 1]!
    })
    moved = { run, by }
    return by
  }
  /** Two in a row went past each other. */
  const hasTurned = (point: number): boolean => {
    if (point < 0 || point + 1 >= count) return false
    let [moves, length] = [0, 0]
    for (let at = 3 * point; at < 3 * point + 3; at++) {
      const before = expected[at + 3]! - expected[at]!
      moves += (points[at + 3]! - points[at]! - before) ** 2
      length += before ** 2
    }
    return length > 0 && moves > length
  }
  return (point) => {
    if (hasTurned(point - 1) || hasTurned(point)) return true
    const by = moveOf(Math.floor(point / RUN))
    const x = expected[3 * point]! + by[0]!
    const y = expected[3 * point + 1]! + by[1]!
    const z = expected[3 * point + 2]! + by[2]!
    const away = (other: number): number => {
      const [dx, dy, dz] = [x - points[3 * other]!, y - points[3 * other + 1]!, z - points[3 * other + 2]!]
      return Math.sqrt(dx * dx + dy * dy + dz * dz)
    }
    const own = away(point)
    for (
      let other = Math.max(0, point - MOST_SHIFT);
      other < Math.min(count, point + MOST_SHIFT + 1);
      other++
    )
      if (away(other) < own * MUCH_NEARER) return true
    return false
  }
}
