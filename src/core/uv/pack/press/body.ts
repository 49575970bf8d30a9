/** An outline made ready to be pushed about: its border as points, how far any place is from it, and places all over it. */
import { leastBoxTurn, outlineArea, turnedBox, type Outline } from '../outline.ts'
import { distanceField, type DistanceField } from './distance-field.ts'

/** All lengths in tiles, at the size it had when it was made; about the middle of its box. */
export interface Body {
  /** Where its middle lies in the outline. */
  readonly middle: readonly [number, number]
  /** 2 x count: along its borders, and a few deep within, for what lies on it border by border to be felt. */
  readonly border: Float64Array
  /** Runs of border points: middle and how far they reach from it, 3 x count. */
  readonly runs: Float64Array
  readonly field: DistanceField
  /** 2 x count: some of the border and some within. */
  readonly places: Float64Array
  readonly area: number
  /** How far its border is from its middle, in the mean of squares: a turn by one over it moves it by about one. */
  readonly reach: number
  /** Nearly as large as its least box: it stays straight. */
  readonly isBox: boolean
}

/** Border points of a run. */
export const RUN = 12
/** A tile's side in border points and in values of fields. */
const [POINTS_A_SIDE, VALUES_A_SIDE] = [128, 512]
/** So much of its least box makes a box of it. */
const BOX_SHARE = 0.92
/** A corner that lies off a line by less makes no difference, in tiles. */
const UNSEEN = 5e-5
/** Places on its border and within. */
const [PLACES_ON, PLACES_WITHIN] = [40, 60]
/** Parts of a side of its box, each of which has one place deep within. */
const PARTS = 3

/** @param room how far from its border it is felt. */
export function bodyOf(outline: Outline, scale: number, room: number): Body {
  const { low, high } = turnedBox(outline, 0)
  const middle = [(low[0] + high[0]) / 2, (low[1] + high[1]) / 2] as const
  const loops = outline.loops.map((loop) => loop.map((one, at) => (one - middle[at % 2]!) * scale))
  const own = { loops }
  const area = outlineArea(own)
  const around = loops.reduce((sum, loop) => sum + lengthOf(loop), 0)
  // what is thin needs more points to be felt
  const thin = around > 0 ? (2 * area) / around : 0
  const field = distanceField(own, 1 / VALUES_A_SIDE, 2 * room)
  const along = pointsAlong(loops, Math.max(1 / (8 * POINTS_A_SIDE), Math.min(1 / POINTS_A_SIDE, thin * 3)))
  const border = Float64Array.from([...along, ...deepest(field)])
  let squares = 0
  for (const one of border) squares += one * one
  const turned = turnedBox(own, leastBoxTurn(own))
  return {
    middle,
    border,
    runs: runsOf(border),
    field,
    places: placesOf(border, field),
    area,
    reach: Math.max(1e-9, Math.sqrt((2 * squares) / Math.max(1, border.length))),
    isBox: area > BOX_SHARE * (turned.high[0] - turned.low[0]) * (turned.high[1] - turned.low[1]),
  }
}

function lengthOf(loop: Float64Array): number {
  let sum = 0
  for (let at = 0; at < loop.length; at += 2) {
    const next = at + 2 < loop.length ? at + 2 : 0
    sum += Math.hypot(loop[next]! - loop[at]!, loop[next + 1]! - loop[at + 1]!)
  }
  return sum
}

/** Points no farther apart than `step` along the loops; all corners but those that the line passes anyway. */
function pointsAlong(loops: readonly Float64Array[], step: number): Float64Array {
  const points: number[] = []
  for (const loop of loops) {
    const corners = cornersOf(loop)
    corners.forEach((at, number) => {
      const next = corners[(number + 1) % corners.length]!
      const [x, y] = [loop[2 * at]!, loop[2 * at + 1]!]
      const [dx, dy] = [loop[2 * next]! - x, loop[2 * next + 1]! - y]
      const count = Math.max(1, Math.ceil(Math.hypot(dx, dy) / step))
      for (let k = 0; k < count; k++) points.push(x + (dx * k) / count, y + (dy * k) / count)
    })
  }
  return Float64Array.from(points)
}

/** Corners without which no side would lie farther off than `UNSEEN` (Douglas & Peucker 1973), in order. */
function cornersOf(loop: Float64Array): number[] {
  const count = loop.length / 2
  const kept = new Uint8Array(count)
  // the first, and what is farthest from it
  let far = 0
  for (let at = 1; at < count; at++)
    if (
      Math.hypot(loop[2 * at]! - loop[0]!, loop[2 * at + 1]! - loop[1]!) >
      Math.hypot(loop[2 * far]! - loop[0]!, loop[2 * far + 1]! - loop[1]!)
    )
      far = at
  kept[0] = kept[far] = 1
  const open: [number, number][] = [
    [0, far],
    [far, count],
  ]
  while (open.length) {
    const [from, to] = open.pop()!
    const [ax, ay] = [loop[2 * from]!, loop[2 * from + 1]!]
    const end = to % count
    const [dx, dy] = [loop[2 * end]! - ax, loop[2 * end + 1]! - ay]
    const squared = dx * dx + dy * dy
    let [most, farthest] = [UNSEEN, -1]
    for (let at = from + 1; at < to; at++) {
      const [px, py] = [loop[2 * at]! - ax, loop[2 * at + 1]! - ay]
      const share = squared > 0 ? Math.max(0, Math.min(1, (px * dx + py * dy) / squared)) : 0
      const off = Math.hypot(px - share * dx, py - share * dy)
      if (off > most) [most, farthest] = [off, at]
    }
    if (farthest < 0) continue
    kept[farthest] = 1
    open.push([from, farthest], [farthest, to])
  }
  return Array.from({ length: count }, (_, at) => at).filter((at) => kept[at])
}

/** Where it is farthest from its border, in each part of its box. */
function deepest({ values, width, height, low, cell }: DistanceField): number[] {
  const found: number[] = []
  for (let part = 0; part < PARTS * PARTS; part++) {
    const [fromU, toU] = [part % PARTS, (part % PARTS) + 1].map((one) =>
      Math.floor((one * width) / PARTS),
    ) as [number, number]
    const [fromV, toV] = [Math.floor(part / PARTS), Math.floor(part / PARTS) + 1].map((one) =>
      Math.floor((one * height) / PARTS),
    ) as [number, number]
    let [least, at] = [0, -1]
    for (let row = fromV; row < toV; row++)
      for (let column = fromU; column < toU; column++) {
        const value = values[row * width + column]!
        if (value < least) [least, at] = [value, row * width + column]
      }
    if (at >= 0) found.push(low[0] + (at % width) * cell, low[1] + Math.floor(at / width) * cell)
  }
  return found
}

function runsOf(border: Float64Array): Float64Array {
  const runs: number[] = []
  for (let from = 0; from < border.length; from += 2 * RUN) {
    const own = border.subarray(from, from + 2 * RUN)
    const { low, high } = turnedBox({ loops: [own] }, 0)
    const [x, y] = [(low[0] + high[0]) / 2, (low[1] + high[1]) / 2]
    let reach = 0
    for (let at = 0; at < own.length; at += 2)
      reach = Math.max(reach, Math.hypot(own[at]! - x, own[at + 1]! - y))
    runs.push(x, y, reach)
  }
  return Float64Array.from(runs)
}

function placesOf(border: Float64Array, { values, width, height, low, cell }: DistanceField): Float64Array {
  const places: number[] = []
  const every = 2 * Math.max(1, Math.floor(border.length / 2 / PLACES_ON))
  for (let at = 0; at < border.length; at += every) places.push(border[at]!, border[at + 1]!)
  const step = Math.max(1, Math.floor(Math.sqrt((width * height) / PLACES_WITHIN)))
  for (let row = step >> 1; row < height; row += step)
    for (let column = step >> 1; column < width; column += step)
      if (values[row * width + column]! < -cell) places.push(low[0] + column * cell, low[1] + row * cell)
  return Float64Array.from(places)
}
