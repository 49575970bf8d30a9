/** Outlines laid side by side into tiles, as large as they fit. */
import { chanceOf } from '../../base/math/chance.ts'
import { leastBoxTurn, outlineArea, turnedBox, type Outline } from './outline.ts'
import { maskOf, rowOrder, type Mask } from './mask.ts'
import { packBoxes } from './pack-boxes.ts'
import type { Placement } from './placement.ts'
import { pressOutlines } from './press/press-outlines.ts'
import { createTileGrid, type TileGrid } from './tile-grid.ts'

export interface PackOptions {
  /** Room between two islands, as a share of a tile's side; half of it stays free along the tile's own. */
  readonly padding: number
  /** none: as they are; quarter: by quarters of a circle; free: into their least box, and then by quarters. */
  readonly turn: 'none' | 'quarter' | 'free'
  /** How large one unit becomes; null: as large as all fit into one tile. */
  readonly scale: number | null
  /** With no scale given: not larger than this. */
  readonly mostScale?: number | null
  /** 1 if absent; above it several ways are pressed together, and the best of them about so many times as long. */
  readonly patience?: number
  /** Outlines that stay where they are in the tile of that number, in its own square. */
  readonly locked?: (tile: number) => readonly Outline[]
}

export interface Packed {
  readonly placements: readonly Placement[]
  readonly scale: number
  readonly tileCount: number
  /** Outlines' area by the area of the tiles. */
  readonly usedShare: number
  /** The same of their least boxes, if boxes could fill a tile: no packing by boxes can use more. */
  readonly boxShare: number
  /** Room that is kept between two: less than asked for where so many have no room for it. */
  readonly padding: number
  /** So many are larger than a tile at the given scale, and reach over its border. */
  readonly overBorder: number
}

/** Cells of a tile's side. */
const [COARSE, FINE] = [256, 1024]
/** Beyond so many outlines their boxes are packed. */
const MOST_BY_OUTLINE = 4000
/** Beyond so many the fine grid is left out. */
const MOST_FINE = 1200
/** Up to here all ways of laying them are tried, and eighths and sixteenths of a circle as well. */
const [MOST_BY_ALL_WAYS, MOST_BY_PARTS] = [400, 120]
/** How much larger another way has to be to be taken, and how often in a row. */
const [STEP, MOST_STEPS] = [1.015, 12]
/**
 * Other orders are tried one after the other, so many at most, and as long as no more runs of cells were looked for room than
 * this; each has to give so much more.
 */
const [MOST_ORDERS, MOST_WORK, SMALL_STEP] = [400, 2_000_000, 1.003]
/** Tried so often in vain, one begins again with the best. */
const IN_VAIN = 100
/** How many ways of laying all patience presses together. */
const SEEDS = 5
/** Border points moved while what was laid is pressed together. */
const PRESS_WORK = 2_000_000
/** From so many outlines on all of that work is done; fewer find their places by less of it, by this share at least. */
const [ALL_WORK_FROM, LEAST_WORK] = [60, 0.25]
const MOST_TILES = 100
const QUARTER = Math.PI / 2

interface Laid {
  readonly placements: readonly Placement[]
  readonly scale: number
  readonly tileCount: number
}

interface Way {
  readonly order: readonly number[]
  readonly turns: readonly number[]
}

export function packOutlines(outlines: readonly Outline[], options: PackOptions): Packed {
  const { padding, turn, patience = 1 } = options
  const areas = outlines.map(outlineArea)
  const total = areas.reduce((sum, area) => sum + area, 0)
  const bases = outlines.map((outline) => (turn === 'free' ? leastBoxTurn(outline) : 0))
  const boxes = outlines.map((outline, at) => {
    const { low, high } = turnedBox(outline, bases[at]!)
    return [high[0] - low[0], high[1] - low[1]] as const
  })
  const boxArea = boxes.reduce((sum, [wide, tall]) => sum + wide * tall, 0)
  const done = (found: Laid & { readonly padding?: number }): Packed => ({
    padding,
    overBorder: boxes.filter(([wide, tall]) => Math.max(wide, tall) * found.scale > 1 + 1e-9).length,
    ...found,
    usedShare: (total * found.scale ** 2) / Math.max(1, found.tileCount),
    boxShare: boxArea > 0 ? Math.min(1, total / boxArea) : 0,
  })
  if (outlines.length === 0) return done({ placements: [], scale: options.scale ?? 1, tileCount: 0 })
  const longest = boxes.reduce((most, [wide, tall]) => Math.max(most, wide, tall), 1e-300)
  const byBoxes = (): Packed =>
    done(
      packBoxes(
        boxes,
        outlines.map((outline, at) => turnedBox(outline, bases[at]!).low),
        bases,
        padding,
        options.scale,
      ),
    )
  const lockedIn = options.locked ?? (() => [])
  if (outlines.length > MOST_BY_OUTLINE && !lockedIn(0).length) return byBoxes()
  // large ones first: by what they take along a side, by area, or by both sides together
  const orders = [
    (at: number): number => Math.max(...boxes[at]!),
    (at: number): number => areas[at]!,
    (at: number): number => boxes[at]![0] + boxes[at]![1],
  ].map((sizeOf) =>
    Array.from(outlines, (_, at) => at).sort(
      (a, b) => sizeOf(b) - sizeOf(a) || areas[b]! - areas[a]! || a - b,
    ),
  )
  const turnsOf = (count: number): number[] =>
    Array.from({ length: count }, (_, at) => (at * 4 * QUARTER) / count)
  const ways =
    turn === 'none'
      ? orders.map((order) => ({ order, turns: [0] }))
      : [
          ...orders.map((order) => ({ order, turns: turnsOf(4) })),
          ...(turn === 'free' && outlines.length <= MOST_BY_PARTS
            ? [8, 16].flatMap((count) => orders.map((order) => ({ order, turns: turnsOf(count) })))
            : []),
        ]
  /** Masks of one scale, by outline and sixteenth of a circle: the ways and orders tried at it share them. */
  let masksAt = { side: 0, scale: 0, masks: [] as (Mask | null | undefined)[] }
  const maskAt = (side: number, scale: number, at: number, turned: number): Mask | null => {
    if (masksAt.side !== side || masksAt.scale !== scale) masksAt = { side, scale, masks: [] }
    const own = 16 * at + Math.round((turned * 4) / QUARTER)
    let mask = masksAt.masks[own]
    // null is known too: larger than the tile
    if (mask === undefined)
      masksAt.masks[own] = mask = maskOf(
        outlines[at]!,
        bases[at]! + turned,
        scale * side,
        (padding * side) / 2,
        side,
      )
    return mask
  }
  /** The one for which there was no room left, when packing failed. */
  let leftOver = -1
  /** Runs of cells that were looked for room so far. */
  let work = 0
  const pack = (
    side: number,
    scale: number,
    mostTiles: number,
    { order, turns }: Way,
  ): Placement[] | null => {
    const placements: Placement[] = new Array<Placement>(outlines.length)
    const grids: TileGrid[] = []
    const room = (padding * side) / 2
    const gridOf = (tile: number): TileGrid => {
      const own = grids[tile]
      if (own) return own
      const made = createTileGrid(side)
      for (const locked of lockedIn(tile)) takeLocked(made, locked, side, room)
      return (grids[tile] = made)
    }
    for (const at of order) {
      leftOver = at
      const masks: { mask: Mask; angle: number }[] = []
      for (const quarter of turns) {
        const mask = maskAt(side, scale, at, quarter)
        if (mask) masks.push({ mask, angle: bases[at]! + quarter })
      }
      if (masks.length === 0) return null
      let isPlaced = false
      for (let tile = 0; tile < mostTiles && !isPlaced; tile++) {
        const grid = gridOf(tile)
        let best: { mask: Mask; angle: number; column: number; row: number; top: number } | null = null
        for (const { mask, angle } of masks) {
          work += mask.runs.length
          const found = grid.find(mask, best ? best.top : side)
          if (!found) continue
          const top = found.row + mask.height
          if (!best || top < best.top || (top === best.top && found.column < best.column))
            best = { mask, angle, ...found, top }
        }
        if (!best) continue
        grid.take(best.mask, best.column, best.row)
        placements[at] = {
          tile,
          angle: best.angle,
          shiftU: (best.column + best.mask.shift[0]) / side,
          shiftV: (best.row + best.mask.shift[1]) / side,
        }
        isPlaced = true
      }
      if (!isPlaced) return null
    }
    return placements
  }
  if (options.scale !== null) {
    const { scale } = options
    const fits = longest * scale + padding <= 1
    // one tile, if there is a way
    const inOne = (): Placement[] | null =>
      outlines.length <= MOST_BY_ALL_WAYS
        ? ways.reduce<Placement[] | null>((found, way) => found ?? pack(FINE, scale, 1, way), null)
        : null
    const placements = fits ? (inOne() ?? pack(FINE, scale, MOST_TILES, ways[0]!)) : null
    if (!placements) return byBoxes()
    return done({
      placements,
      scale: options.scale,
      tileCount: 1 + placements.reduce((most, { tile }) => Math.max(most, tile), 0),
    })
  }
  // the largest scale at which all fit, on coarse cells and then on fine ones around it
  let best = null as Laid | null
  const most = Math.min(
    (1 - padding) / longest,
    1 / Math.sqrt(Math.max(total, 1e-300)),
    options.mostScale ?? Infinity,
  )
  let [low, high] = [0, most]
  const attempt = (side: number, scale: number, way: Way): boolean => {
    const placements = pack(side, scale, 1, way)
    if (!placements) return false
    if (!best || scale > best.scale) best = { placements, scale, tileCount: 1 }
    low = Math.max(low, scale)
    return true
  }
  let chosen: Way = ways[0]!
  for (let round = 0; round < 10; round++) {
    const scale = low > 0 ? (low + high) / 2 : high * 0.8
    if (attempt(COARSE, scale, chosen)) continue
    high = scale
    if (low === 0 && scale < 1e-9) break
  }
  // other ways of it, where one is better by as much as can be seen
  if (low > 0 && outlines.length <= MOST_BY_ALL_WAYS)
    for (const way of ways.slice(1))
      for (let step = 0; step < MOST_STEPS && low * STEP <= most && attempt(COARSE, low * STEP, way); step++)
        chosen = way
  /** Other orders of the chosen way: what found no room goes before others. */
  const tryOrders = (mostWork: number, seed: number): void => {
    const next = chanceOf(outlines.length + seed)
    const end = work + mostWork
    let order = [...chosen.order]
    let vain = 0
    for (let round = 0; round < MOST_ORDERS && work < end && low * SMALL_STEP <= most; round++) {
      if (attempt(COARSE, low * SMALL_STEP, { order, turns: chosen.turns })) {
        chosen = { ...chosen, order: [...order] }
        vain = 0
        continue
      }
      if (++vain % IN_VAIN === 0) order = [...chosen.order]
      const from = order.indexOf(leftOver)
      order.splice(from, 1)
      order.splice(Math.floor(from * next()), 0, leftOver)
    }
  }
  /** On fine cells, where nothing is pressed together: room rounded to coarse ones costs some of it. */
  const refine = (ways: readonly Way[]): void => {
    for (const way of new Set(ways)) {
      high = Math.min(most, low * 1.12)
      for (let round = 0; round < 6; round++) {
        const scale = (low + high) / 2
        if (attempt(FINE, scale, way)) chosen = way
        else high = scale
      }
    }
  }
  const press = (from: Laid, mostWork: number): Laid | null => {
    const pressed = pressOutlines(outlines, from.placements, from.scale, {
      padding,
      turn,
      mostScale: most,
      mostWork,
      locked: lockedIn(0),
    })
    return pressed && { ...pressed, tileCount: 1 }
  }
  const effort = Math.max(LEAST_WORK, Math.min(1, outlines.length / ALL_WORK_FROM))
  const triesOrders = low > 0 && outlines.length <= MOST_BY_ALL_WAYS
  const [before, lowBefore, found] = [chosen, low, best]
  let widest = found
  // which order presses best is not to be seen before: patience tries several, and goes on with the best of them
  const seeds = triesOrders && patience > 1 ? SEEDS : 1
  for (let seed = 0; seed < seeds; seed++) {
    ;[chosen, low, best] = [before, lowBefore, found]
    if (triesOrders) tryOrders(effort * MOST_WORK, seed)
    let own = best && press(best, effort * PRESS_WORK)
    if (!own && low > 0 && outlines.length <= MOST_FINE) {
      refine([chosen, before])
      own = best && press(best, effort * PRESS_WORK)
    }
    own ??= best
    if (own && !(widest && widest.scale >= own.scale)) widest = own
  }
  if (widest && patience > 1) widest = press(widest, 4 * effort * PRESS_WORK * patience) ?? widest
  if (widest) return done(widest)
  if (lockedIn(0).length) {
    // no room beside what stays: the next tile
    const beside = packOutlines(outlines, { ...options, locked: (tile) => lockedIn(tile + 1) })
    return {
      ...beside,
      placements: beside.placements.map((placement) => ({ ...placement, tile: placement.tile + 1 })),
      tileCount: beside.tileCount + 1,
    }
  }
  // cells too coarse for so many: their boxes
  return byBoxes()
}

/** Cells that something that stays lies on. */
function takeLocked(grid: TileGrid, outline: Outline, side: number, room: number): void {
  // only what lies in the tile takes any of it
  const { low, high } = turnedBox(outline, 0)
  if (high[0] <= 0 || high[1] <= 0 || low[0] >= 1 || low[1] >= 1) return
  const mask = maskOf(outline, 0, side, room, 4 * side)
  if (!mask) return
  const [column, row] = [Math.round(-mask.shift[0]), Math.round(-mask.shift[1])]
  grid.take(clipped(mask, column, row, side), Math.max(0, column), Math.max(0, row))
}

function clipped(
  { width, height, rows, runs, shift, cellCount }: Mask,
  column: number,
  row: number,
  side: number,
): Mask {
  const [left, bottom] = [Math.max(0, -column), Math.max(0, -row)]
  const [right, top] = [Math.min(width, side - column), Math.min(height, side - row)]
  const kept: number[] = []
  const offsets = [0]
  const widths = new Uint32Array(Math.max(0, top - bottom))
  for (let at = bottom; at < top; at++) {
    for (let run = rows[at]!; run < rows[at + 1]!; run++) {
      const [from, to] = [Math.max(left, runs[2 * run]!), Math.min(right, runs[2 * run + 1]!)]
      if (from >= to) continue
      kept.push(from - left, to - left)
      widths[at - bottom]! += to - from
    }
    offsets.push(kept.length / 2)
  }
  return {
    width: right - left,
    height: Math.max(0, top - bottom),
    rows: Uint32Array.from(offsets),
    runs: Uint16Array.from(kept),
    shift,
    cellCount,
    order: rowOrder(widths),
  }
}
