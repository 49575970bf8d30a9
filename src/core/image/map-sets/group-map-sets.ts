/** Map files as sets: the maps of one material, tiles put together. */
import type { Slot } from '../../scene/material.ts'
import { parseMapNames, type MapName } from './parse-map-name.ts'
import type { ChannelMeaning } from './map-words.ts'

export interface SetMap {
  /** One file, or one a tile. */
  readonly files: readonly { readonly file: string; readonly tile: string | null }[]
  readonly slot: Slot
  readonly inverted: boolean
  readonly packed: readonly ChannelMeaning[] | null
  readonly direction: 'up' | 'down' | null
  readonly colorSpace: 'sRGB' | 'linear' | null
  /** Why it needs a person's eye; null where nothing speaks against it. */
  readonly doubt: 'one-letter' | 'two-meanings' | 'loose-word' | null
  readonly alsoMeans: Slot | null
}

export interface MapSet {
  /** As its files spell it, in small letters. */
  readonly name: string
  readonly maps: readonly SetMap[]
}

export interface MapSets {
  readonly sets: readonly MapSet[]
  /** Files whose names say nothing of what they are for. */
  readonly unknown: readonly { readonly file: string; readonly setName: string }[]
  /** Files of one set, slot and tile: the one that was taken, and the others. */
  readonly doubled: readonly { readonly taken: string; readonly left: readonly string[] }[]
}

/** Of two files that say the same, the newer version, the larger, the finer; then the first by name. */
const rank = (a: MapName, b: MapName): number =>
  (b.version ?? 0) - (a.version ?? 0) ||
  (b.bits ?? 0) - (a.bits ?? 0) ||
  (b.resolution ?? 0) - (a.resolution ?? 0) ||
  // a second copy has a longer name
  a.file.length - b.file.length ||
  (a.file < b.file ? -1 : 1)

/** Where a word for a whole map would be: what a packed one is listed under. */
const PACKED: Slot = 'other'

export function groupMapSets(files: readonly string[]): MapSets {
  const names = parseMapNames([...files].sort())
  const bySet = new Map<string, MapName[]>()
  const unknown: { file: string; setName: string }[] = []
  for (const name of names)
    if (!name.meaning && !name.packed) unknown.push({ file: name.file, setName: name.setName })
    else bySet.set(name.setName, [...(bySet.get(name.setName) ?? []), name])
  const doubled: { taken: string; left: string[] }[] = []
  const sets: MapSet[] = []
  for (const [set, members] of bySet) {
    const letters = members.filter(({ byLetter }) => byLetter).length
    const byUse = new Map<string, MapName[]>()
    for (const member of members) {
      const key = `${member.meaning?.slot ?? PACKED} ${member.meaning?.inverted ?? false} ${JSON.stringify(member.packed)}`
      byUse.set(key, [...(byUse.get(key) ?? []), member])
    }
    const maps = [...byUse.values()].map((same): SetMap => {
      const byTile = new Map<string, MapName[]>()
      for (const one of same) byTile.set(one.tile ?? '', [...(byTile.get(one.tile ?? '') ?? []), one])
      const taken = [...byTile.entries()]
        .sort(([a], [b]) => (a < b ? -1 : 1))
        .map(([, alike]) => {
          const [best, ...left] = [...alike].sort(rank)
          if (left.length) doubled.push({ taken: best!.file, left: left.map(({ file }) => file) })
          return best!
        })
      const [first] = taken
      return {
        files: taken.map(({ file, tile }) => ({ file, tile })),
        slot: first!.meaning?.slot ?? PACKED,
        inverted: first!.meaning?.inverted ?? false,
        packed: first!.packed,
        direction: first!.direction,
        colorSpace: first!.colorSpace,
        doubt:
          first!.byLetter && letters < 2
            ? 'one-letter'
            : first!.alsoMeans
              ? 'two-meanings'
              : first!.byLooseWord
                ? 'loose-word'
                : null,
        alsoMeans: first!.alsoMeans?.slot ?? null,
      }
    })
    sets.push({ name: set, maps })
  }
  return { sets, unknown, doubled }
}

/** Tiles that lie between others of a map, or that another map of the set has and this one has not. */
export function missingTiles(set: MapSet): { file: string; tiles: string[] }[] {
  const all = new Set(set.maps.flatMap(({ files }) => files.flatMap(({ tile }) => tile ?? [])))
  return set.maps.flatMap(({ files }) => {
    const own = new Set(files.flatMap(({ tile }) => tile ?? []))
    if (own.size === 0) return []
    const tiles = [...all].filter((tile) => !own.has(tile)).sort()
    return tiles.length ? [{ file: files[0]!.file, tiles }] : []
  })
}
