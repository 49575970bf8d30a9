/** Cells of a tile that are taken, and where a mask still fits. */
import type { Mask } from './mask.ts'

export interface TileGrid {
  /** The lowest place for a mask, then the leftmost; null where there is none whose top stays below `below`. */
  readonly find: (mask: Mask, below: number) => { column: number; row: number } | null
  readonly take: (mask: Mask, column: number, row: number) => void
}

export function createTileGrid(side: number): TileGrid {
  /** For each cell the next one in its row, itself counted, that is taken; `side` for none. */
  const taken = new Uint16Array(side * side).fill(side)
  /** For each cell how far the taken ones that it belongs to go on. */
  const free = new Uint16Array(side * side)
  for (let row = 0; row < side; row++)
    for (let column = 0; column < side; column++) free[row * side + column] = column
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
        for (let run = rows[own]!; run < rows[own + 1]!; run++)
          cells.fill(1, base + column + runs[2 * run]!, base + column + runs[2 * run + 1]!)
        let next = side
        let end = side
        for (let at = side - 1; at >= 0; at--) {
          if (cells[base + at]) {
            if (next !== at + 1 || at + 1 === side) end = at + 1
            next = at
          }
          taken[base + at] = next
          free[base + at] = cells[base + at] ? end : at
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
