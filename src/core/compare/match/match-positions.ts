import { createHashGrid, farthestFrom0, type HashGrid } from '../../base/math/hash-grid.ts'

/** How many points of one cell are looked at for one match. */
const LONGEST_SEARCH = 512

/** So many points are looked for before all are: where few of them stand at the very same place, most don't. */
const SAMPLES = 256
const ENOUGH = 0.5

/** Of the bits of a place; 0 and -0 are one place. */
function hashPlace(bits: Int32Array, point: number): number {
  let hash = 0
  for (let at = 6 * point; at < 6 * point + 6; at += 2) {
    const low = bits[at]!
    const high = low === 0 && bits[at + 1] === -2147483648 ? 0 : bits[at + 1]!
    hash = Math.imul(hash ^ low, 0x9e3779b1)
    hash = Math.imul((hash >>> 15) ^ hash ^ high, 0x85ebca6b)
  }
  return hash ^ (hash >>> 13)
}
const bitsOf = (points: Float64Array): Int32Array =>
  new Int32Array(points.buffer, points.byteOffset, 2 * points.length)
const isSamePlace = (a: Float64Array, one: number, b: Float64Array, other: number): boolean =>
  a[3 * one] === b[3 * other] && a[3 * one + 1] === b[3 * other + 1] && a[3 * one + 2] === b[3 * other + 2]

/** Points by where they stand, to the last bit; of one place the lowest first. @param points 3 x n. @param pointOf which of them are meant, `count` in rising order. */
function byPlace(points: Float64Array, count: number, pointOf: (at: number) => number) {
  const bits = bitsOf(points)
  let size = 16
  while (size < 2 * count) size *= 2
  const heads = new Int32Array(size).fill(-1)
  const next = new Int32Array(count)
  for (let at = count - 1; at >= 0; at--) {
    const slot = hashPlace(bits, pointOf(at)) & (size - 1)
    next[at] = heads[slot]!
    heads[slot] = at
  }
  return { heads, next, mask: size - 1 }
}

/** Whether many points stand at the very same place on both sides, as far as a few tell. */
function areManySame(master: Float64Array, returned: Float64Array): boolean {
  const masterCount = master.length / 3
  const count = Math.min(SAMPLES, masterCount)
  const sample = (at: number): number => Math.floor((at * masterCount) / count)
  const { heads, next, mask } = byPlace(master, count, sample)
  const bits = bitsOf(returned)
  const isMet = new Uint8Array(count)
  let met = 0
  for (let point = 0; point < returned.length / 3; point++)
    for (let at = heads[hashPlace(bits, point) & mask]!; at >= 0; at = next[at]!) {
      if (isMet[at] || !isSamePlace(master, sample(at), returned, point)) continue
      isMet[at] = 1
      if (++met >= ENOUGH * count) return true
    }
  return false
}

/**
 * Pairs what stands at the very same place on both sides: nothing can be nearer, and one look finds it where a search
 * has to look into several cells.
 *
 * @param matched one a master point, @param taken one a returned point: what is found is noted in both.
 * @returns how many were found.
 */
function pairSamePlaces(
  master: Float64Array,
  returned: Float64Array,
  matched: Int32Array,
  taken: Uint8Array,
): number {
  if (!areManySame(master, returned)) return 0
  const { heads, next, mask } = byPlace(returned, taken.length, (at) => at)
  const bits = bitsOf(master)
  let found = 0
  for (let point = 0; point < matched.length; point++) {
    const slot = hashPlace(bits, point) & mask
    let before = -1
    for (let other = heads[slot]!; other >= 0; before = other, other = next[other]!) {
      if (!isSamePlace(master, point, returned, other)) continue
      // it leaves its chain, so that a heap of coincident points stays linear
      if (before < 0) heads[slot] = next[other]!
      else next[before] = next[other]!
      matched[point] = other
      taken[other] = 1
      found++
      break
    }
  }
  return found
}

/** Sides of cells in reaches, where few points lie in each: a search looks into two of them, not into eight. */
const WIDE = 8
/** Points a cell, on the mean, from which on smaller ones are quicker. */
const CROWDED = 4

/** Points that are not taken yet; null where more than so many share a cell. A chain starts with its lowest point, so that of coincident points the lowest is met first. */
function gridOver(points: Float64Array, taken: Uint8Array, cell: number, most: number): HashGrid | null {
  const grid = createHashGrid(taken.length, cell, farthestFrom0(points))
  let filled = 0
  let count = 0
  for (let point = taken.length - 1; point >= 0; point--) {
    if (taken[point]) continue
    grid.insert(point, points[3 * point]!, points[3 * point + 1]!, points[3 * point + 2]!)
    if (grid.next[point]! < 0) filled++
    count++
  }
  return count > most * filled ? null : grid
}

/**
 * Pairs points of two clouds that lie within a distance of each other, by a hashed grid.
 *
 * @param master 3 x n, @param returned 3 x m, both in the same space.
 * @param reach absolute distance in that space; more than it is no match.
 * @returns one a master point: the nearest returned point not taken yet, -1 for none. Of coincident points
 * the first goes with the first, so that unwelded doubles keep their order.
 */
export function matchPositions(master: Float64Array, returned: Float64Array, reach: number): Int32Array {
  const masterCount = master.length / 3
  const returnedCount = returned.length / 3
  const matched = new Int32Array(masterCount).fill(-1)
  if (!(reach > 0) || returnedCount === 0) return matched
  const taken = new Uint8Array(returnedCount)
  if (pairSamePlaces(master, returned, matched, taken) === masterCount) return matched
  const { heads, next, slotOf, cellOf } =
    gridOver(returned, taken, reach * WIDE, CROWDED) ?? gridOver(returned, taken, reach * 2, Infinity)!
  const reachSquared = reach * reach
  for (let point = 0; point < masterCount; point++) {
    if (matched[point]! >= 0) continue
    const x = master[3 * point]!
    const y = master[3 * point + 1]!
    const z = master[3 * point + 2]!
    const x0 = cellOf(x - reach)
    const x1 = cellOf(x + reach)
    const y0 = cellOf(y - reach)
    const y1 = cellOf(y + reach)
    const z0 = cellOf(z - reach)
    const z1 = cellOf(z + reach)
    let best = -1
    let bestSquared = reachSquared
    for (let cx = x0; cx <= x1; cx++)
      for (let cy = y0; cy <= y1; cy++)
        for (let cz = z0; cz <= z1; cz++) {
          const slot = slotOf(cx, cy, cz)
          let steps = 0
          let before = -1
          for (let other = heads[slot]!; other >= 0 && bestSquared > 0; other = next[other]!) {
            if (taken[other]) {
              // taken points leave their chain, so that a heap of coincident points stays linear
              if (before < 0) heads[slot] = next[other]!
              else next[before] = next[other]!
              continue
            }
            before = other
            // a heap of points that lie closer than the reach is not searched to its end
            if (++steps > LONGEST_SEARCH) break
            const dx = returned[3 * other]! - x
            const dy = returned[3 * other + 1]! - y
            const dz = returned[3 * other + 2]! - z
            const squared = dx * dx + dy * dy + dz * dz
            if (squared < bestSquared || (squared === bestSquared && (best < 0 || other < best))) {
              best = other
              bestSquared = squared
            }
          }
        }
    if (best >= 0) {
      matched[point] = best
      taken[best] = 1
    }
  }
  return matched
}
