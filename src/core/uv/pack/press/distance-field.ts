/** How far every place about an outline is from it: below 0 within, above 0 without. */
import { turnedBox, type Outline } from '../outline.ts'

export interface DistanceField {
  /** width x height: row after row, in the outline's unit. */
  readonly values: Float32Array
  /** As many: the side that each is the distance to. */
  readonly nearest: Int32Array
  /** 4 x side count: both ends of each. */
  readonly sides: Float64Array
  /** Side count: the one that ends where it begins, the one that begins where it ends. */
  readonly before: Int32Array
  readonly after: Int32Array
  /** Side count: 1 where within is on its left, -1 where on its right. */
  readonly lefts: Int8Array
  readonly width: number
  readonly height: number
  /** Where the first value stands. */
  readonly low: readonly [number, number]
  /** From one value to the next, along both axes. */
  readonly cell: number
}

/** No field has more values; its cells become larger instead. */
const MOST_VALUES = 400_000

/**
 * Between values it is read bilinearly: off by a fraction of a cell where the outline turns, and by half a cell at most where
 * it is thinner than one. Every value is the distance to one of the outline's sides, nearly always the nearest: sides are
 * handed from a value to its neighbours in two passes (after Danielsson, Euclidean distance mapping, 1980).
 *
 * @param room so far beyond the outline's box it reaches at least, and a cell more.
 */
export function distanceField({ loops }: Outline, cell: number, room: number): DistanceField {
  const { low: least, high: most } = turnedBox({ loops }, 0)
  const [wide, tall] = [most[0] - least[0] + 2 * room, most[1] - least[1] + 2 * room]
  let step = cell
  while ((wide / step + 4) * (tall / step + 4) > MOST_VALUES) step *= 1.25
  const [width, height] = [Math.ceil(wide / step) + 3, Math.ceil(tall / step) + 3]
  const low = [
    (least[0] + most[0] - (width - 1) * step) / 2,
    (least[1] + most[1] - (height - 1) * step) / 2,
  ] as const
  const sides = sidesOf(loops)
  const values = new Float32Array(width * height).fill(Infinity)
  const nearest = new Int32Array(width * height).fill(-1)
  const ask = (at: number, column: number, row: number, side: number): void => {
    const own = distanceTo(sides, side, low[0] + column * step, low[1] + row * step)
    if (own >= values[at]!) return
    values[at] = own
    nearest[at] = side
  }
  // what a side passes knows it
  for (let side = 0; 4 * side < sides.length; side++) {
    const [ax, ay, bx, by] = sides.subarray(4 * side, 4 * side + 4) as unknown as number[]
    const count = Math.max(1, Math.ceil(Math.max(Math.abs(bx! - ax!), Math.abs(by! - ay!)) / step))
    for (let k = 0; k <= count; k++) {
      const column = Math.floor((ax! + ((bx! - ax!) * k) / count - low[0]) / step)
      const row = Math.floor((ay! + ((by! - ay!) * k) / count - low[1]) / step)
      for (let y = row; y <= row + 1; y++)
        for (let x = column; x <= column + 1; x++) ask(y * width + x, x, y, side)
    }
  }
  const hand = (at: number, column: number, row: number, from: number): void => {
    const side = nearest[from]!
    if (side >= 0 && side !== nearest[at]) ask(at, column, row, side)
  }
  // twice: what goes round a corner the first time has come past it the second
  for (let pass = 0; pass < 2; pass++) {
    for (let row = 0; row < height; row++) {
      for (let column = 0; column < width; column++) {
        const at = row * width + column
        if (column > 0) hand(at, column, row, at - 1)
        if (row > 0) {
          hand(at, column, row, at - width)
          if (column > 0) hand(at, column, row, at - width - 1)
          if (column + 1 < width) hand(at, column, row, at - width + 1)
        }
      }
      for (let column = width - 2; column >= 0; column--)
        hand(row * width + column, column, row, row * width + column + 1)
    }
    for (let row = height - 1; row >= 0; row--) {
      for (let column = width - 1; column >= 0; column--) {
        const at = row * width + column
        if (column + 1 < width) hand(at, column, row, at + 1)
        if (row + 1 < height) {
          hand(at, column, row, at + width)
          if (column > 0) hand(at, column, row, at + width - 1)
          if (column + 1 < width) hand(at, column, row, at + width + 1)
        }
      }
      for (let column = 1; column < width; column++)
        hand(row * width + column, column, row, row * width + column - 1)
    }
  }
  turnWithin(values, width, height, low, step, sides)
  return { values, nearest, sides, ...roundLoops(loops, sides), width, height, low, cell: step }
}

/** 4 x count: both ends of each side. */
function sidesOf(loops: readonly Float64Array[]): Float64Array {
  const sides = new Float64Array(2 * loops.reduce((sum, loop) => sum + loop.length, 0))
  let into = 0
  for (const loop of loops)
    for (let at = 0; at < loop.length; at += 2) {
      const next = at + 2 < loop.length ? at + 2 : 0
      sides[into++] = loop[at]!
      sides[into++] = loop[at + 1]!
      sides[into++] = loop[next]!
      sides[into++] = loop[next + 1]!
    }
  return sides
}

function roundLoops(
  loops: readonly Float64Array[],
  sides: Float64Array,
): Pick<DistanceField, 'before' | 'after' | 'lefts'> {
  const count = sides.length / 4
  const [before, after, lefts] = [new Int32Array(count), new Int32Array(count), new Int8Array(count)]
  let first = 0
  for (const loop of loops) {
    const own = loop.length / 2
    let longest = first
    const lengthOf = (side: number): number =>
      Math.hypot(sides[4 * side + 2]! - sides[4 * side]!, sides[4 * side + 3]! - sides[4 * side + 1]!)
    for (let k = 0; k < own; k++) {
      before[first + k] = first + ((k + own - 1) % own)
      after[first + k] = first + ((k + 1) % own)
      if (lengthOf(first + k) > lengthOf(longest)) longest = first + k
    }
    // on which side of it one is within: the same all along a border
    const [ax, ay, bx, by] = [0, 1, 2, 3].map((k) => sides[4 * longest + k]!) as [
      number,
      number,
      number,
      number,
    ]
    const [x, y] = [(ax + bx) / 2 - (by - ay) * 1e-6, (ay + by) / 2 + (bx - ax) * 1e-6]
    lefts.fill(liesWithin(loops, x, y) ? 1 : -1, first, first + own)
    first += own
  }
  return { before, after, lefts }
}

/** Past an odd number of sides. */
export function liesWithin(loops: readonly Float64Array[], u: number, v: number): boolean {
  let isWithin = false
  for (const loop of loops)
    for (let at = 0; at < loop.length; at += 2) {
      const next = at + 2 < loop.length ? at + 2 : 0
      const [av, bv] = [loop[at + 1]!, loop[next + 1]!]
      if (av > v === bv > v) continue
      if (u < loop[at]! + ((v - av) / (bv - av)) * (loop[next]! - loop[at]!)) isWithin = !isWithin
    }
  return isWithin
}

/** What was read: distance, and the way out of it (of length 1, in the outline's own directions). */
export const READ = new Float64Array(3)

/**
 * Distance and way out by the sides that the four values about a place are the distances to. @param at of the lowest of these.
 */
export function readBySides(
  { nearest, sides, before, after, lefts, width }: DistanceField,
  at: number,
  x: number,
  y: number,
): void {
  let least = Infinity
  let best = -1
  let share = 0
  let outX = 0
  let outY = 0
  for (let corner = 0; corner < 4; corner++) {
    const own = nearest[at + (corner & 1) + (corner >> 1) * width]!
    if (own === best) continue
    const side = 4 * own
    const ax = sides[side]!
    const ay = sides[side + 1]!
    const dx = sides[side + 2]! - ax
    const dy = sides[side + 3]! - ay
    const px = x - ax
    const py = y - ay
    const squared = dx * dx + dy * dy
    const along = squared > 0 ? Math.max(0, Math.min(1, (px * dx + py * dy) / squared)) : 0
    const ox = px - along * dx
    const oy = py - along * dy
    const off = ox * ox + oy * oy
    if (off >= least) continue
    least = off
    best = own
    share = along
    outX = ox
    outY = oy
  }
  let left = leftOf(sides, best, x, y)
  let by = best
  if (share === 0 || share === 1) {
    // at a corner the side decides that one looks at more squarely
    const other = share === 0 ? before[best]! : after[best]!
    const otherLeft = leftOf(sides, other, x, y)
    if (Math.abs(otherLeft) > Math.abs(left)) {
      left = otherLeft
      by = other
    }
  }
  const distance = Math.sqrt(least)
  const isWithin = left * lefts[by]! > 0
  const times = distance > 0 ? (isWithin ? -1 : 1) / distance : 0
  READ[0] = isWithin ? -distance : distance
  READ[1] = outX * times
  READ[2] = outY * times
}

/** How far a place lies to the left of a side's line. */
function leftOf(sides: Float64Array, own: number, x: number, y: number): number {
  const side = 4 * own
  const dx = sides[side + 2]! - sides[side]!
  const dy = sides[side + 3]! - sides[side + 1]!
  return ((y - sides[side + 1]!) * dx - (x - sides[side]!) * dy) / (Math.sqrt(dx * dx + dy * dy) || 1)
}

function distanceTo(sides: Float64Array, own: number, x: number, y: number): number {
  const side = 4 * own
  const px = x - sides[side]!
  const py = y - sides[side + 1]!
  const dx = sides[side + 2]! - sides[side]!
  const dy = sides[side + 3]! - sides[side + 1]!
  const squared = dx * dx + dy * dy
  const share = squared > 0 ? Math.max(0, Math.min(1, (px * dx + py * dy) / squared)) : 0
  const ex = px - share * dx
  const ey = py - share * dy
  return Math.sqrt(ex * ex + ey * ey)
}

/** Within is what a row comes to after an odd number of sides. */
function turnWithin(
  values: Float32Array,
  width: number,
  height: number,
  low: readonly [number, number],
  step: number,
  sides: Float64Array,
): void {
  const crossings: number[][] = Array.from({ length: height }, () => [])
  for (let at = 0; at < sides.length; at += 4) {
    const [ax, ay, bx, by] = [sides[at]!, sides[at + 1]!, sides[at + 2]!, sides[at + 3]!]
    const first = Math.max(0, Math.floor((Math.min(ay, by) - low[1]) / step))
    const last = Math.min(height - 1, Math.ceil((Math.max(ay, by) - low[1]) / step))
    for (let row = first; row <= last; row++) {
      const y = low[1] + row * step
      if (ay > y !== by > y) crossings[row]!.push(ax + ((y - ay) / (by - ay)) * (bx - ax))
    }
  }
  crossings.forEach((own, row) => {
    own.sort((a, b) => a - b)
    for (let k = 0; k + 1 < own.length; k += 2) {
      const to = Math.min(width - 1, Math.floor((own[k + 1]! - low[0]) / step))
      for (let column = Math.max(0, Math.ceil((own[k]! - low[0]) / step)); column <= to; column++)
        values[row * width + column] = -values[row * width + column]!
    }
  })
}
