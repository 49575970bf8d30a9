/** An outline over a grid of cells, with room around it. */
import type { Outline } from './outline.ts'

export interface Mask {
  readonly width: number
  readonly height: number
  /** height + 1 offsets into `runs` / 2. */
  readonly rows: Uint32Array
  /** Cells from and to, one run after another. */
  readonly runs: Uint16Array
  /** What has to be added to a turned and scaled outline for it to lie in the mask's cells, in cells. */
  readonly shift: readonly [number, number]
  readonly cellCount: number
  /** All rows, those first that meet something soonest. */
  readonly order: Uint32Array
}

/**
 * Every cell that lies within `room` of the outline or what it holds. Two masks without a common cell are at least twice
 * that apart.
 *
 * @param scale cells to one unit. @param room cells. @returns null where it is larger than `most` cells a side.
 */
export function maskOf(
  { loops }: Outline,
  angle: number,
  scale: number,
  room: number,
  most: number,
): Mask | null {
  const [c, s] = [Math.cos(angle) * scale, Math.sin(angle) * scale]
  const turned = loops.map((loop) => {
    const own = new Float64Array(loop.length)
    for (let at = 0; at < loop.length; at += 2) {
      own[at] = c * loop[at]! - s * loop[at + 1]!
      own[at + 1] = s * loop[at]! + c * loop[at + 1]!
    }
    return own
  })
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity]
  for (const loop of turned)
    for (let at = 0; at < loop.length; at += 2) {
      u0 = Math.min(u0, loop[at]!)
      u1 = Math.max(u1, loop[at]!)
      v0 = Math.min(v0, loop[at + 1]!)
      v1 = Math.max(v1, loop[at + 1]!)
    }
  const [width, height] = [Math.ceil(u1 - u0 + 2 * room), Math.ceil(v1 - v0 + 2 * room)].map((one) =>
    Math.max(1, one),
  ) as [number, number]
  if (!(width <= most && height <= most)) return null
  // in the middle of its cells
  const shift = [(width - (u1 - u0)) / 2 - u0, (height - (v1 - v0)) / 2 - v0] as const
  const spans = spansByRow(height)
  const crossings = spansByRow(height)
  for (const loop of turned)
    for (let at = 0; at < loop.length; at += 2) {
      const next = at + 2 < loop.length ? at + 2 : 0
      const ax = loop[at]! + shift[0]
      const ay = loop[at + 1]! + shift[1]
      const bx = loop[next]! + shift[0]
      const by = loop[next + 1]! + shift[1]
      coverSide(spans.add, width, height, ax, ay, bx, by, room)
      // where the side passes the middle of a row
      const low = Math.min(ay, by)
      const high = Math.max(ay, by)
      for (let row = Math.max(0, Math.ceil(low - 0.5)); row < height && row + 0.5 < high; row++) {
        if (row + 0.5 < low) continue
        // the first cell whose middle comes behind it
        const column = Math.ceil(ax + ((row + 0.5 - ay) / (by - ay)) * (bx - ax) - 0.5)
        crossings.add(row, Math.min(width, Math.max(0, column)), 0)
      }
    }
  crossings.each((row, keys) => {
    for (let k = 0; k + 1 < keys.length; k += 2) {
      const [from, to] = [keys[k]! >>> 16, keys[k + 1]! >>> 16]
      if (from < to) spans.add(row, from, to)
    }
  })
  const rows = new Uint32Array(height + 1)
  const runs: number[] = []
  const widths = new Uint32Array(height)
  let cellCount = 0
  spans.each((row, keys) => {
    let [from, to] = [0, 0]
    for (const key of keys) {
      const [begin, end] = [key >>> 16, key & 0xffff]
      if (to > from && begin <= to) {
        if (end > to) to = end
        continue
      }
      if (to > from) {
        runs.push(from, to)
        widths[row]! += to - from
      }
      from = begin
      to = end
    }
    if (to > from) {
      runs.push(from, to)
      widths[row]! += to - from
    }
    cellCount += widths[row]!
    rows[row + 1] = runs.length / 2
  })
  return {
    width,
    height,
    rows,
    runs: Uint16Array.from(runs),
    shift,
    cellCount,
    order: rowOrder(widths),
  }
}

interface SpansByRow {
  /** Both below 65536. */
  readonly add: (row: number, from: number, to: number) => void
  /** Every row in order, empty ones too, with its spans as from * 65536 + to, sorted. */
  readonly each: (visit: (row: number, keys: Uint32Array) => void) => void
}

function spansByRow(height: number): SpansByRow {
  let count = 0
  let rowOf = new Uint16Array(4 * height + 64)
  let keyOf = new Uint32Array(rowOf.length)
  return {
    add(row, from, to) {
      if (count === rowOf.length) {
        const [rows, keys] = [rowOf, keyOf]
        rowOf = new Uint16Array(2 * count)
        keyOf = new Uint32Array(2 * count)
        rowOf.set(rows)
        keyOf.set(keys)
      }
      rowOf[count] = row
      keyOf[count++] = ((from << 16) | to) >>> 0
    },
    each(visit) {
      const ends = new Uint32Array(height + 1)
      for (let at = 0; at < count; at++) ends[rowOf[at]! + 1]!++
      for (let row = 0; row < height; row++) ends[row + 1]! += ends[row]!
      const at = ends.slice()
      const sorted = new Uint32Array(count)
      for (let k = 0; k < count; k++) sorted[at[rowOf[k]!]!++] = keyOf[k]!
      for (let row = 0; row < height; row++) {
        const keys = sorted.subarray(ends[row]!, ends[row + 1]!)
        if (keys.length > 24) keys.sort()
        else
          for (let k = 1; k < keys.length; k++) {
            const key = keys[k]!
            let into = k - 1
            for (; into >= 0 && keys[into]! > key; into--) keys[into + 1] = keys[into]!
            keys[into + 1] = key
          }
        visit(row, keys)
      }
    },
  }
}

/** Rows that hit something soonest come first: the widest, then all others. */
export function rowOrder(widths: Uint32Array): Uint32Array {
  const height = widths.length
  if (height === 0) return new Uint32Array(0)
  let widest = 0
  for (let row = 1; row < height; row++) if (widths[row]! > widths[widest]!) widest = row
  const first = [...new Set([widest, 0, height - 1, height >> 1, height >> 2, (3 * height) >> 2])]
  const order = new Uint32Array(height)
  order.set(first)
  let at = first.length
  for (let row = 0; row < height; row++) if (!first.includes(row)) order[at++] = row
  return order
}

/** Cells that a side with `room` about it reaches; in one row that is one stretch. */
function coverSide(
  add: SpansByRow['add'],
  width: number,
  height: number,
  ax: number,
  ay: number,
  bx: number,
  by: number,
  room: number,
): void {
  const dx = bx - ax
  const dy = by - ay
  const length = Math.hypot(dx, dy)
  const nx = length > 0 ? (-dy / length) * room : 0
  const ny = length > 0 ? (dx / length) * room : 0
  const last = Math.min(height - 1, Math.floor(Math.max(ay, by) + room))
  for (let row = Math.max(0, Math.floor(Math.min(ay, by) - room)); row <= last; row++) {
    let from = Infinity
    let to = -Infinity
    // round both ends
    for (let end = 0; end < 2; end++) {
      const x = end ? bx : ax
      const y = end ? by : ay
      const off = y < row ? row - y : y > row + 1 ? y - row - 1 : 0
      if (off > room) continue
      const reach = Math.sqrt(room * room - off * off)
      if (x - reach < from) from = x - reach
      if (x + reach > to) to = x + reach
    }
    // and along both of its sides
    for (let side = -1; side <= 1; side += 2) {
      const y0 = ay + side * ny
      const y1 = by + side * ny
      const x0 = ax + side * nx
      const x1 = bx + side * nx
      if (Math.max(y0, y1) < row || Math.min(y0, y1) > row + 1) continue
      let t0 = 0
      let t1 = 1
      if (y0 !== y1) {
        const low = (row - y0) / (y1 - y0)
        const high = (row + 1 - y0) / (y1 - y0)
        t0 = Math.max(0, Math.min(low, high))
        t1 = Math.min(1, Math.max(low, high))
      }
      const p = x0 + t0 * (x1 - x0)
      const q = x0 + t1 * (x1 - x0)
      from = Math.min(from, p, q)
      to = Math.max(to, p, q)
    }
    if (from > to) continue
    const begin = Math.max(0, Math.floor(from))
    const end = Math.min(width, Math.floor(to) + 1)
    if (begin < end) add(row, begin, end)
  }
}
