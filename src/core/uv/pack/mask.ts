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
  const cells = new Uint8Array(width * height)
  const crossings: number[][] = Array.from({ length: height }, () => [])
  for (const loop of turned)
    for (let at = 0; at < loop.length; at += 2) {
      const next = at + 2 < loop.length ? at + 2 : 0
      const [ax, ay] = [loop[at]! + shift[0], loop[at + 1]! + shift[1]]
      const [bx, by] = [loop[next]! + shift[0], loop[next + 1]! + shift[1]]
      coverSide(cells, width, height, ax, ay, bx, by, room)
      // where the side passes the middle of a row
      const [low, high] = ay < by ? [ay, by] : [by, ay]
      for (let row = Math.max(0, Math.ceil(low - 0.5)); row < height && row + 0.5 < high; row++)
        if (row + 0.5 >= low) crossings[row]!.push(ax + ((row + 0.5 - ay) / (by - ay)) * (bx - ax))
    }
  crossings.forEach((at, row) => {
    at.sort((a, b) => a - b)
    for (let k = 0; k + 1 < at.length; k += 2)
      cells.fill(
        1,
        row * width + Math.max(0, Math.floor(at[k]!)),
        row * width + Math.min(width, Math.ceil(at[k + 1]!)),
      )
  })
  const rows = new Uint32Array(height + 1)
  const runs: number[] = []
  let cellCount = 0
  for (let row = 0; row < height; row++) {
    for (let column = 0; column < width;) {
      if (!cells[row * width + column]) {
        column++
        continue
      }
      const from = column
      while (column < width && cells[row * width + column]) column++
      runs.push(from, column)
      cellCount += column - from
    }
    rows[row + 1] = runs.length / 2
  }
  return { width, height, rows, runs: Uint16Array.from(runs), shift, cellCount }
}

/** All cells whose square comes within `room` of a side. */
function coverSide(
  cells: Uint8Array,
  width: number,
  height: number,
  ax: number,
  ay: number,
  bx: number,
  by: number,
  room: number,
): void {
  const [dx, dy] = [bx - ax, by - ay]
  const squared = dx * dx + dy * dy
  const [r0, r1] = [Math.floor(Math.min(ay, by) - room), Math.floor(Math.max(ay, by) + room)]
  for (let row = Math.max(0, r0); row <= r1 && row < height; row++) {
    // the part of the side that comes near the row
    let [from, to] = [0, 1]
    if (dy !== 0) {
      const [t0, t1] = [(row - room - ay) / dy, (row + 1 + room - ay) / dy]
      from = Math.max(0, Math.min(t0, t1))
      to = Math.min(1, Math.max(t0, t1))
      if (from > to) continue
    }
    const [xa, xb] = [ax + from * dx, ax + to * dx]
    const [c0, c1] = [Math.floor(Math.min(xa, xb) - room), Math.floor(Math.max(xa, xb) + room)]
    for (let column = Math.max(0, c0); column <= c1 && column < width; column++) {
      const at = row * width + column
      if (cells[at]) continue
      if (squaredToSquare(column, row, ax, ay, dx, dy, squared) <= room * room) cells[at] = 1
    }
  }
}

/** From a cell's square to a side; 0 where they meet. */
function squaredToSquare(
  column: number,
  row: number,
  ax: number,
  ay: number,
  dx: number,
  dy: number,
  squared: number,
): number {
  // the side may pass through
  let [from, to] = [0, 1]
  let passes = true
  for (const [start, step, low] of [
    [ax, dx, column],
    [ay, dy, row],
  ] as const) {
    if (step === 0) {
      if (start < low || start > low + 1) passes = false
      continue
    }
    const [t0, t1] = [(low - start) / step, (low + 1 - start) / step]
    from = Math.max(from, Math.min(t0, t1))
    to = Math.min(to, Math.max(t0, t1))
  }
  if (passes && from <= to) return 0
  let least = Infinity
  const outside = (x: number, y: number): number => {
    const ox = x < column ? column - x : x > column + 1 ? x - column - 1 : 0
    const oy = y < row ? row - y : y > row + 1 ? y - row - 1 : 0
    return ox * ox + oy * oy
  }
  least = Math.min(least, outside(ax, ay), outside(ax + dx, ay + dy))
  if (squared > 0)
    for (const [x, y] of [
      [column, row],
      [column + 1, row],
      [column, row + 1],
      [column + 1, row + 1],
    ] as const) {
      const share = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / squared))
      least = Math.min(least, (ax + share * dx - x) ** 2 + (ay + share * dy - y) ** 2)
    }
  return least
}
