/** Which point of a cloud is nearest to a place, for some hundred places. */
import { diagonalOf, type Box } from '../../base/math/box.ts'

/** What is near no point counts as lying off by this share of the diagonal. */
const FAR = 0.25
/** Of the 27 cells around a place, counted from the first corner, the one in which it lies. */
const OWN = 13

export interface Nearest {
  /** The number of the nearest point and how far it is; -1 where none is near. */
  readonly of: (x: number, y: number, z: number) => { point: number; away: number }
}

/**
 * Points in cells, those of a cell side by side, so that one after the other lies in the processor's cache.
 *
 * @param points 3 x n.
 * @param box in which they lie.
 * @param cells along each of its sides: what lies farther than such a cell from every point is near none.
 */
export function nearestIn(points: Float64Array, box: Box, cells: number): Nearest {
  const size = Math.max(diagonalOf(box) / cells, Number.MIN_VALUE)
  const [minX, minY, minZ] = box.min
  const cellOf = (away: number): number => Math.min(cells - 1, Math.max(0, Math.floor(away / size)))
  const indexOf = (x: number, y: number, z: number): number => (x * cells + y) * cells + z
  const count = points.length / 3
  const cellsOf = new Int32Array(count)
  const starts = new Int32Array(cells ** 3)
  for (let point = 0; point < count; point++) {
    // what is no number lies in the first, and is near nothing
    const cell =
      indexOf(
        cellOf(points[3 * point]! - minX),
        cellOf(points[3 * point + 1]! - minY),
        cellOf(points[3 * point + 2]! - minZ),
      ) || 0
    cellsOf[point] = cell
    starts[cell]!++
  }
  for (let cell = 1; cell < starts.length; cell++) starts[cell]! += starts[cell - 1]!
  // filled from behind; after that each holds where its own begin, and of points as near the last is met first
  const inCells = new Int32Array(count)
  for (let point = 0; point < count; point++) inCells[--starts[cellsOf[point]!]!] = point
  const places = new Float64Array(3 * count)
  for (let at = 0; at < count; at++) {
    const point = 3 * inCells[at]!
    places[3 * at] = points[point]!
    places[3 * at + 1] = points[point + 1]!
    places[3 * at + 2] = points[point + 2]!
  }
  const farthest = FAR * diagonalOf(box)
  return {
    // asked some hundred thousand times for a model: one loop, and nothing made in it
    of(x, y, z) {
      let point = -1
      // squared
      let nearest = farthest * farthest
      const cx = cellOf(x - minX)
      const cy = cellOf(y - minY)
      const cz = cellOf(z - minZ)
      // how far the cells before and behind its own begin along each axis, squared
      const beforeX = Math.max(0, x - minX - cx * size) ** 2
      const behindX = Math.max(0, (cx + 1) * size - (x - minX)) ** 2
      const beforeY = Math.max(0, y - minY - cy * size) ** 2
      const behindY = Math.max(0, (cy + 1) * size - (y - minY)) ** 2
      const beforeZ = Math.max(0, z - minZ - cz * size) ** 2
      const behindZ = Math.max(0, (cz + 1) * size - (z - minZ)) ** 2
      // its own cell first, then those around it
      for (let turn = -1; turn < 27; turn++) {
        let i = 0
        let j = 0
        let k = 0
        if (turn >= 0) {
          if (turn === OWN) continue
          i = ((turn / 9) | 0) - 1
          j = (((turn / 3) | 0) % 3) - 1
          k = (turn % 3) - 1
          if (cx + i < 0 || cx + i >= cells || cy + j < 0 || cy + j >= cells || cz + k < 0 || cz + k >= cells)
            continue
          const off =
            (i === 0 ? 0 : i < 0 ? beforeX : behindX) +
            (j === 0 ? 0 : j < 0 ? beforeY : behindY) +
            (k === 0 ? 0 : k < 0 ? beforeZ : behindZ)
          if (off >= nearest) continue
        }
        const cell = indexOf(cx + i, cy + j, cz + k)
        const end = cell + 1 < starts.length ? starts[cell + 1]! : count
        for (let at = starts[cell]!; at < end; at++) {
          const dx = places[3 * at]! - x
          const dy = places[3 * at + 1]! - y
          const dz = places[3 * at + 2]! - z
          const away = dx * dx + dy * dy + dz * dz
          if (!(away < nearest)) continue
          point = inCells[at]!
          nearest = away
        }
      }
      return { point, away: Math.sqrt(nearest) }
    },
  }
}
