/** Islands scaled, turned and packed, those of several meshes into the same tiles. */
import { packOutlines, type Packed } from '../pack/pack-outlines.ts'
import { turnedBox, type Outline } from '../pack/outline.ts'
import { outlineOf, type LaidIsland } from './laid-island.ts'

export interface IslandToPlace {
  readonly island: LaidIsland
  /** What its coordinates are multiplied by before all are scaled alike. */
  readonly scale: number
  /** Which tiles it goes into; islands of one number share them. */
  readonly group: number
}

export interface PlaceOptions {
  readonly padding: number
  readonly turn: 'none' | 'quarter' | 'free'
  /** UV units to one unit of a scaled island; null: as large as each group fits into one tile, the same for all. */
  readonly scale: number | null
  readonly mostScale?: number | null
  /** See `PackOptions`. */
  readonly patience?: number
  /** Outlines that stay where they are, in any tile. */
  readonly locked?: readonly Outline[]
}

export interface PlacedIslands {
  /** As given, with their places. */
  readonly islands: readonly LaidIsland[]
  readonly scale: number
  readonly tileCount: number
  /** See `Packed`; of all tiles. */
  readonly usedShare: number
  readonly boxShare: number
  /** The least that any tile keeps; see `Packed`. */
  readonly padding: number
  readonly overBorder: number
}

/** Tiles in a row of those that have a number. */
const TILES_A_ROW = 10
/** Tiles in which is looked for what stays. */
const MOST_LOCKED_TILES = 100

export function placeIslands(given: readonly IslandToPlace[], options: PlaceOptions): PlacedIslands {
  const groups = [...new Set(given.map(({ group }) => group))].sort((a, b) => a - b)
  const scaled = given.map(({ island, scale }) => {
    const flat = island.flat.map((value) => value * scale)
    return { ...island, flat }
  })
  const membersOf = (group: number): number[] => given.flatMap((one, at) => (one.group === group ? [at] : []))
  const lockedIn = lockedByTile(options.locked ?? [])
  const pack = (group: number, scale: number | null, firstTile: number): Packed =>
    packOutlines(
      membersOf(group).map((at) => outlineOf(scaled[at]!)),
      {
        padding: options.padding,
        turn: options.turn,
        scale,
        mostScale: options.mostScale ?? null,
        ...(options.patience ? { patience: options.patience } : {}),
        locked: (tile) => lockedIn(firstTile + tile),
      },
    )
  const packAll = (scale: number | null, known: readonly Packed[] = []): Packed[] => {
    let firstTile = 0
    return groups.map((group, number) => {
      const before = known[number]
      // beside what stays it may have been found for another tile
      const own = before?.scale === scale && !options.locked?.length ? before : pack(group, scale, firstTile)
      firstTile += own.tileCount
      return own
    })
  }
  let packed = packAll(options.scale)
  // one size for all: the one at which the fullest group fits
  if (options.scale === null && groups.length > 1) {
    const least = packed.reduce((sum, { scale }) => Math.min(sum, scale), Infinity)
    // the fullest stays as it was found: at its size hardly another order fits
    if (packed.some(({ scale }) => scale !== least)) packed = packAll(least, packed)
  }
  const islands: LaidIsland[] = [...scaled]
  let firstTile = 0
  groups.forEach((group, number) => {
    const { placements, scale, tileCount } = packed[number]!
    membersOf(group).forEach((at, own) => {
      const { tile, angle, shiftU, shiftV } = placements[own]!
      const [c, s] = [Math.cos(angle) * scale, Math.sin(angle) * scale]
      const [column, row] = [(firstTile + tile) % TILES_A_ROW, Math.floor((firstTile + tile) / TILES_A_ROW)]
      const { flat } = scaled[at]!
      const placed = new Float64Array(flat.length)
      for (let k = 0; k < flat.length; k += 2) {
        placed[k] = c * flat[k]! - s * flat[k + 1]! + shiftU + column
        placed[k + 1] = s * flat[k]! + c * flat[k + 1]! + shiftV + row
      }
      islands[at] = { ...scaled[at]!, flat: placed }
    })
    firstTile += tileCount
  })
  const tiles = packed.reduce((sum, { tileCount }) => sum + tileCount, 0)
  const mean = (of: (one: Packed) => number): number =>
    tiles > 0 ? packed.reduce((sum, one) => sum + of(one) * one.tileCount, 0) / tiles : 0
  return {
    islands,
    scale: packed[0]?.scale ?? 1,
    tileCount: tiles,
    usedShare: mean(({ usedShare }) => usedShare),
    boxShare: mean(({ boxShare }) => boxShare),
    padding: packed.reduce((least, { padding }) => Math.min(least, padding), options.padding),
    overBorder: packed.reduce((sum, { overBorder }) => sum + overBorder, 0),
  }
}

/** What lies in each tile, in the tile's own square; far tiles are taken for empty, so that there is always one. */
function lockedByTile(locked: readonly Outline[]): (tile: number) => readonly Outline[] {
  const boxes = locked.map((outline) => turnedBox(outline, 0))
  return (tile) => {
    if (tile >= MOST_LOCKED_TILES) return []
    const [column, row] = [tile % TILES_A_ROW, Math.floor(tile / TILES_A_ROW)]
    return locked.flatMap((outline, at) => {
      const { low, high } = boxes[at]!
      if (high[0] <= column || low[0] >= column + 1 || high[1] <= row || low[1] >= row + 1) return []
      return [tile === 0 ? outline : movedBy(outline, -column, -row)]
    })
  }
}

const movedBy = ({ loops }: Outline, u: number, v: number): Outline => ({
  loops: loops.map((loop) => loop.map((value, at) => value + (at % 2 ? v : u))),
})
