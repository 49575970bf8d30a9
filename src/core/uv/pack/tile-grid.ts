/** Cells of a tile that are taken, and where a mask still fits. */
import type { Mask } from './mask.ts'

export interface TileGrid {
  /** The lowest place for a mask, then the leftmost; null where there is none whose top stays below `below`. */
  readonly find: (mask: Mask, below: number) => { column: number; row: number } | null
  readonly take: (mask: Mask, column: number, row: number) => void
}

/** Columns of a row; made once a size. */
const known = new Map<number, Uint16Array>()
function numbersOf(side: number): Uint16Array {
  let own = known.get(side)
  if (!own) {
    own = Uint16Array.from({ length: side }, (_, at) => at)
    known.set(side, own)
  }
  return own
}

export function createTileGrid(side: number): TileGrid {
  /** For each cell the next one in its row, itself counted, that is taken; `side` for none. */
  const taken = new Uint16Array(side * side).fill(side)
  /** For each cell where the taken ones that it belongs to end. */
  const free = new Uint16Array(side * side)
  const numbers = numbersOf(side)

  return {
    find(mask, below) {
      const { width, height, rows, runs, order } = mask
      const lastRow = Math.min(side, below) - height
      for (let row = 0; row <= lastRow; row++) {
        for (let column = 0; column + width <= side;) {
          let blocked = -1
          for (const own of order) {
            const base = (row + own) * side
            for (let run = rows[own]!; run < rows[own + 1]!; run++) {
              const from = column + runs[2 * run]!
              const next = taken[base + from]!
              if (next >= column + runs[2 * run + 1]!) continue
              // it fits nowhere before the run begins behind what is in its way
              blocked = Math.max(blocked, free[base + next]! - runs[2 * run]!)
            }
            if (blocked >= 0) break
          }
          if (blocked < 0) return { column, row }
          column = Math.max(column + 1, blocked)
        }
      }
      return null
    },
    take({ height, rows, runs }, column, row) {
      for (let own = 0; own < height; own++) {
        const base = (row + own) * side
        for (let run = rows[own]!; run < rows[own + 1]!; run++) {
          const from = column + runs[2 * run]!
          const to = column + runs[2 * run + 1]!
          const end = to < side && taken[base + to] === to ? free[base + to]! : to
          taken.set(numbers.subarray(from, to), base + from)
          free.fill(end, base + from, base + to)
          let at = from - 1
          if (at >= 0 && taken[base + at] === at)
            for (; at >= 0 && taken[base + at] === at; at--) free[base + at] = end
          else {
            for (; at >= 0 && taken[base + at] !== at; at--);
            taken.fill(from, base + at + 1, base + from)
          }
        }
      }
    },
  }
}
