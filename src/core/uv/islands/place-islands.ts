/** Islands scaled, turned and packed, those of several meshes into the same tiles. */
import { packOutlines, type Packed } from '../pack/pack-outlines.ts'
import type { Outline } from '../pack/outline.ts'
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
}

/** Tiles in a row of those that have a number. */
const TILES_A_ROW = 10

export function placeIslands(given: readonly IslandToPlace[], options: PlaceOptions): PlacedIslands {
  const groups = [...new Set(given.map(({ group }) => group))].sort((a, b) => a - b)
  const scaled = given.map(({ island, scale }) => {
    const flat = island.flat.map((value) => value * scale)
    return { ...island, flat }
  })
  const membersOf = (group: number): number[] => given.flatMap((one, at) => (one.group === group ? [at] : []))
  const pack = (members: readonly number[], scale: number | null): Packed =>
    packOutlines(
      members.map((at) => outlineOf(scaled[at]!)),
      {
        padding: options.padding,
        turn: options.turn,
        scale,
        mostScale: options.mostScale ?? null,
        locked: options.locked ?? [],
      },
    )
  let packed = groups.map((group) => pack(membersOf(group), options.scale))
  // one size for all: the one at which the fullest group fits
  if (options.scale === null && groups.length > 1) {
    const least = packed.reduce((sum, { scale }) => Math.min(sum, scale), Infinity)
    packed = groups.map((group, at) =>
      packed[at]!.scale === least ? packed[at]! : pack(membersOf(group), least),
    )
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
  }
}
