/** Which point of a cloud is nearest to a place, for some hundred places. */
import { diagonalOf, type Box } from '../../base/math/box.ts'

/** What is near no point counts as lying off by this share of the diagonal. */
const FAR = 0.25

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
    of(x, y, z) {
      let point = -1
      // squared
      let nearest = farthest * farthest
      const cx = cellOf(x - minX)
      const cy = cellOf(y - minY)
      const cz = cellOf(z - minZ)
      const look = (i: number, j: number, k: number): void => {
        const cell = indexOf(i, j, k)
        const end = cell + 1 < starts.length ? starts[cell + 1]! : count
        for (let at = starts[cell]!; at < end; at++) {
          const dx = places[3 * at]! - x
          const dy = places[3 * at + 1]! - y
          const dz = places[3 * at + 2]! - z
          const off = dx * dx + dy * dy + dz * dz
          if (!(off < nearest)) continue
          point = inCells[at]!
          nearest = off
        }
      }
      look(cx, cy, cz)
      // how far a cell beside its own begins along an axis
      const beside = (step: number, away: number, cell: number): number =>
        step === 0 ? 0 : Math.max(0, step < 0 ? away - cell * size : (cell + 1) * size - away)
      for (let i = -1; i <= 1; i++) {
        if (cx + i < 0 || cx + i >= cells) continue
        const offX = beside(i, x - minX, cx) ** 2
        for (let j = -1; j <= 1; j++) {
          if (cy + j < 0 || cy + j >= cells) continue
          const offXY = offX + beside(j, y - minY, cy) ** 2
          if (offXY >= nearest) continue
          for (let k = -1; k <= 1; k++) {
            if ((i === 0 && j === 0 && k === 0) || cz + k < 0 || cz + k >= cells) continue
            if (offXY + beside(k, z - minZ, cz) ** 2 < nearest) look(cx + i, cy + j, cz + k)
          }
        }
      }
      return { point, away: Math.sqrt(nearest) }
    },
  }
}
