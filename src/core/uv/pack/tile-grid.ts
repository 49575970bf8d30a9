/** Cells of a tile that are taken, and where a mask still fits. */
import type { Mask } from './mask.ts'

export interface TileGrid {
  /** The lowest place for a mask, then the leftmost; null where there is none whose top stays below `below`. */
  readonly find: (mask: Mask, below: number) => { column: number; row: number } | null
  readonly take: (mask: Mask, column: number, row: number) => void
}

/** What an empty grid begins with; made once a size. */
const numbers = new Map<number, Uint16Array>()
function numbersOf(side: number): Uint16Array {
  let own = numbers.get(side)
  if (!own) {
    own = Uint16Array.from({ length: side * side }, (_, at) => at % side)
    numbers.set(side, own)
  }
  return own
}

export function createTileGrid(side: number): TileGrid {
  /** For each cell the next one in its row, itself counted, that is taken; `side` for none. */
  const taken = new Uint16Array(side * side).fill(side)
  /** For each cell where the taken ones that it belongs to end. */
  const free = numbersOf(side).slice()
  const cells = new Uint8Array(side * side)

  return {
    find(mask, below) {
      const { width, height, rows, runs } = mask
      const order = rowOrder(mask)
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
          const end = to < side && cells[base + to] ? free[base + to]! : to
          for (let at = from; at < to; at++) {
            cells[base + at] = 1
            taken[base + at] = at
            free[base + at] = end
          }
          let at = from - 1
          if (at >= 0 && cells[base + at]) for (; at >= 0 && cells[base + at]; at--) free[base + at] = end
          else for (; at >= 0 && !cells[base + at]; at--) taken[base + at] = from
        }
      }
    },
  }
}

/** Rows that hit something soonest come first: the widest, then all others. */
function rowOrder({ height, rows, runs }: Mask): Uint32Array {
  const widths = Float64Array.from({ length: height }, (_, row) => {
    let sum = 0
    for (let run = rows[row]!; run < rows[row + 1]!; run++) sum += runs[2 * run + 1]! - runs[2 * run]!
    return sum
  })
  let widest = 0
  for (let row = 1; row < height; row++) if (widths[row]! > widths[widest]!) widest = row
  const first = [...new Set([widest, 0, height - 1, height >> 1, height >> 2, (3 * height) >> 2])]
  const seen = new Set(first)
  return Uint32Array.from([
    ...first,
    ...Array.from({ length: height }, (_, row) => row).filter((row) => !seen.has(row)),
  ])
}
