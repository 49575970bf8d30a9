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
  const spans: number[][] = Array.from({ length: height }, () => [])
  const crossings: number[][] = Array.from({ length: height }, () => [])
  for (const loop of turned)
    for (let at = 0; at < loop.length; at += 2) {
      const next = at + 2 < loop.length ? at + 2 : 0
      const ax = loop[at]! + shift[0]
      const ay = loop[at + 1]! + shift[1]
      const bx = loop[next]! + shift[0]
      const by = loop[next + 1]! + shift[1]
      coverSide(spans, height, ax, ay, bx, by, room)
      // where the side passes the middle of a row
      const low = Math.min(ay, by)
      const high = Math.max(ay, by)
      for (let row = Math.max(0, Math.ceil(low - 0.5)); row < height && row + 0.5 < high; row++)
        if (row + 0.5 >= low) crossings[row]!.push(ax + ((row + 0.5 - ay) / (by - ay)) * (bx - ax))
    }
  const rows = new Uint32Array(height + 1)
  const runs: number[] = []
  let cellCount = 0
  for (let row = 0; row < height; row++) {
    const own = spans[row]!
    const at = crossings[row]!.sort((a, b) => a - b)
    for (let k = 0; k + 1 < at.length; k += 2) own.push(at[k]!, at[k + 1]!)
    const order = Array.from({ length: own.length / 2 }, (_, k) => k).sort(
      (a, b) => own[2 * a]! - own[2 * b]!,
    )
    let [from, to] = [0, 0]
    for (const k of order) {
      const begin = Math.max(0, Math.floor(own[2 * k]!))
      const end = Math.min(width, Math.floor(own[2 * k + 1]!) + 1)
      if (begin >= end) continue
      if (to > from && begin <= to) {
        to = Math.max(to, end)
        continue
      }
      if (to > from) {
        runs.push(from, to)
        cellCount += to - from
      }
      ;[from, to] = [begin, end]
    }
    if (to > from) {
      runs.push(from, to)
      cellCount += to - from
    }
    rows[row + 1] = runs.length / 2
  }
  return { width, height, rows, runs: Uint16Array.from(runs), shift, cellCount }
}

/** From where to where a side with `room` about it reaches in each row; in one row that is one stretch. */
function coverSide(
  spans: number[][],
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
    if (from <= to) spans[row]!.push(from, to)
  }
}
