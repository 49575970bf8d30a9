/**
 * Items by the cell of space that they lie in: a hashed grid, for finding what is near in time that does not
 * grow with the number of items.
 *
 * The arrays are open so that a search runs without a call an item. Cells that share a slot share its chain, so
 * a candidate's distance decides, never its cell.
 */
export interface HashGrid {
  /** Side of a cell, in the items' unit. */
  readonly cellSize: number
  /** The first item of each slot's chain, -1 for none. */
  readonly heads: Int32Array
  /** One an item; the next of its chain, -1 at its end. */
  readonly next: Int32Array
  /** The slot of a cell, by the cell's whole numbers along the axes. */
  readonly slotOf: (cellX: number, cellY: number, cellZ: number) => number
  /** The number of the cell that a coordinate lies in. */
  readonly cellOf: (coordinate: number) => number
  /** Puts an item in front of its chain. */
  readonly insert: (item: number, x: number, y: number, z: number) => void
}

/** Cells from 0 on along an axis: beyond 2^53 a search would step from a cell to the next and stay where it is. */
const MOST_CELLS = 2 ** 50

/** Finer cells tell nothing apart: so many fit between 0 and the farthest coordinate. */
const FINEST = 2 ** -40

/** How far from 0 the farthest finite coordinate lies. */
export function farthestFrom0(points: ArrayLike<number>): number {
  let farthest = 0
  for (let at = 0; at < points.length; at++) {
    const away = Math.abs(points[at]!)
    if (away > farthest && away < Infinity) farthest = away
  }
  return farthest
}

/**
 * An empty grid.
 *
 * @param itemCount how many items it may hold, numbered from 0.
 * @param finest more than 0, in the items' unit: cells are no smaller.
 * @param farthest of the items' coordinates from 0: cells are so large that they tell these apart. What lies farther
 * off than 2^50 cells shares the last.
 */
export function createHashGrid(itemCount: number, finest: number, farthest: number): HashGrid {
  // the last so large that one over it is a number
  const cellSize = Math.max(finest, farthest * FINEST, Number.MIN_VALUE * 2 ** 60)
  let tableSize = 16
  while (tableSize < itemCount * 2) tableSize *= 2
  const mask = tableSize - 1
  const heads = new Int32Array(tableSize).fill(-1)
  const next = new Int32Array(itemCount).fill(-1)
  const inverse = 1 / cellSize
  // primes of Teschner et al., "Optimized Spatial Hashing for Collision Detection of Deformable Objects", 2003
  const slotOf = (x: number, y: number, z: number): number =>
    (Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791)) & mask
  const cellOf = (coordinate: number): number => {
    const cell = Math.floor(coordinate * inverse)
    return cell > MOST_CELLS ? MOST_CELLS : cell < -MOST_CELLS ? -MOST_CELLS : cell
  }
  return {
    cellSize,
    heads,
    next,
    slotOf,
    cellOf,
    insert(item, x, y, z) {
      const slot = slotOf(cellOf(x), cellOf(y), cellOf(z))
      next[item] = heads[slot]!
      heads[slot] = item
    },
  }
}

/**
 * The nearest of the points in a grid to a place.
 *
 * @param points 3 x itemCount, as they were inserted.
 * @param takes whether a point may be the answer.
 * @returns -1 where none lies within `reach`; null where more than `most` would have to be looked at.
 */
export function nearestWithin(
  { heads, next, slotOf, cellOf }: HashGrid,
  points: ArrayLike<number>,
  [x, y, z]: readonly [number, number, number],
  reach: number,
  most: number,
  takes: (item: number) => boolean,
): number | null {
  let best = -1
  let nearest = reach * reach
  let looked = 0
  for (let cx = cellOf(x - reach); cx <= cellOf(x + reach); cx++)
    for (let cy = cellOf(y - reach); cy <= cellOf(y + reach); cy++)
      for (let cz = cellOf(z - reach); cz <= cellOf(z + reach); cz++)
        for (let item = heads[slotOf(cx, cy, cz)]!; item >= 0; item = next[item]!) {
          if (++looked > most) return null
          const away =
            (points[3 * item]! - x) ** 2 + (points[3 * item + 1]! - y) ** 2 + (points[3 * item + 2]! - z) ** 2
          if (away > nearest || !takes(item)) continue
          best = item
          nearest = away
        }
  return best
}
