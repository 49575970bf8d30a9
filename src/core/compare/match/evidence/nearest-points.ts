import { createHashGrid, farthestFrom0, type HashGrid } from '../../../base/math/hash-grid.ts'

export interface Nearest {
  /** -1: none within reach. */
  readonly best: number
  readonly least: number
  /** How far the second nearest lies, infinite where none is within reach. */
  readonly second: number
  /** So many lie within reach that the nearest was not looked for. */
  readonly isCrowded: boolean
}

const NONE: Nearest = { best: -1, least: Infinity, second: Infinity, isCrowded: false }

export interface NearestPoints {
  /** The nearest point within reach, more than 0, in the points' unit, of those that fit. */
  nearest(x: number, y: number, z: number, reach: number, fits?: (point: number) => boolean): Nearest
}

/** Points that are looked at for one: in a heap nothing is near in particular. */
const MOST_LOOKED_AT = 2048

/** Points by where they lie, for reaches of any size: each power of two has its own grid, made when it is asked for. */
export function createNearestPoints(
  points: Float64Array,
  counts: (point: number) => boolean = () => true,
): NearestPoints {
  const grids = new Map<number, HashGrid>()
  // cells are as large as a reach or larger: three along an axis
  const slots = new Int32Array(64)
  const farthest = farthestFrom0(points)
  const gridFor = (reach: number): HashGrid => {
    const octave = Math.ceil(Math.log2(reach))
    const known = grids.get(octave)
    if (known) return known
    const grid = createHashGrid(points.length / 3, 2 ** octave, farthest)
    for (let point = 0; point < points.length / 3; point++)
      if (counts(point))
        grid.insert(point, points[3 * point]!, points[3 * point + 1]!, points[3 * point + 2]!)
    grids.set(octave, grid)
    return grid
  }
  return {
    nearest(x, y, z, reach, fits = () => true) {
      if (!(reach > 0) || !Number.isFinite(reach)) return NONE
      const { heads, next, slotOf, cellOf } = gridFor(reach)
      let [best, least, second, looked] = [-1, Infinity, Infinity, 0]
      const [x0, y0, z0] = [cellOf(x - reach), cellOf(y - reach), cellOf(z - reach)]
      const [x1, y1, z1] = [cellOf(x + reach), cellOf(y + reach), cellOf(z + reach)]
      // cells may share a slot, each of which is looked into once
      let count = 0
      for (let cx = x0; cx <= x1; cx++)
        for (let cy = y0; cy <= y1; cy++)
          for (let cz = z0; cz <= z1; cz++) {
            const slot = slotOf(cx, cy, cz)
            let at = 0
            while (at < count && slots[at] !== slot) at++
            if (at === count) slots[count++] = slot
          }
      for (let at = 0; at < count; at++)
        for (let point = heads[slots[at]!]!; point >= 0 && looked < MOST_LOOKED_AT; point = next[point]!) {
          looked++
          const dx = points[3 * point]! - x
          const dy = points[3 * point + 1]! - y
          const dz = points[3 * point + 2]! - z
          const away = Math.sqrt(dx * dx + dy * dy + dz * dz)
          if (away > reach || away >= second || !fits(point)) continue
          if (away < least) [best, least, second] = [point, away, least]
          else second = away
        }
      // among so many the nearest is not known
      if (looked >= MOST_LOOKED_AT) return { ...NONE, isCrowded: true }
      return { best, least, second, isCrowded: false }
    },
  }
}
