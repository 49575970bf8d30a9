/** The maps of a set, and of a material as it came, as uses: one a slot, packed maps taken apart by channel. */
import type { SetMap } from '../../image/map-sets/group-map-sets.ts'
import type { Material, MaterialMap, Slot } from '../../scene/material.ts'
import { colorSpaceOf, placementOf, type MapChannel, type MapUse } from './map-use.ts'

const CHANNELS: readonly MapChannel[] = ['r', 'g', 'b', 'a']

/** A set's file as a path of one map: a word in place of the tile's label where there are tiles. */
export function tiledPath({ files }: SetMap): string {
  const [first] = files
  if (!first?.tile) return first?.file ?? ''
  const word = first.tile.startsWith('u') ? '<UVTILE>' : '<UDIM>'
  const at = first.file.toLowerCase().lastIndexOf(first.tile)
  return `${first.file.slice(0, at)}${word}${first.file.slice(at + first.tile.length)}`
}

export function usesOfSetMap(map: SetMap): MapUse[] {
  const file = tiledPath(map)
  const base = {
    file,
    amount: 1,
    direction: map.direction,
    from: 'folder',
    uvSet: '',
  } as const
  if (!map.packed)
    return [
      {
        ...base,
        slot: map.slot,
        channel: colorSpaceOf(map.slot) === 'sRGB' || isVector(map.slot) ? 'rgb' : 'r',
        isPart: false,
        inverted: map.inverted,
        colorSpace: map.colorSpace ?? colorSpaceOf(map.slot),
      },
    ]
  return map.packed.flatMap((meaning, at) =>
    meaning
      ? [
          {
            ...base,
            slot: meaning.slot,
            channel: CHANNELS[at]!,
            isPart: true,
            inverted: meaning.inverted === true,
            colorSpace: 'linear' as const,
          },
        ]
      : [],
  )
}

const isVector = (slot: Slot): boolean => slot === 'normal' || slot === 'clearcoatNormal'

/** The share that a statement's options give a bump; 1 where they say nothing. */
function amountOf({ options }: MaterialMap): number {
  const amount = Number(options.find(([key]) => key === '-bm')?.[1] ?? 1)
  return Number.isFinite(amount) ? amount : 1
}

/** The channel that a statement takes out of its image (MTL specification, `-imfchan`: m is the matte). */
const STATED_CHANNELS: Readonly<Record<string, MapChannel>> = { r: 'r', g: 'g', b: 'b', m: 'a' }
const statedChannel = ({ options }: MaterialMap): MapChannel | null =>
  STATED_CHANNELS[options.find(([key]) => key === '-imfchan')?.[1] ?? ''] ?? null

function placed(map: MaterialMap): Pick<MapUse, 'placement' | 'stack'> {
  const placement = placementOf(map)
  const stack = map.placement?.stack
  return {
    ...(placement ? { placement } : {}),
    ...(stack ? { stack: { blend: stack.blend, alpha: stack.alpha } } : {}),
  }
}

/** What a material as it came has, by the model's words: the slot that its map has there, and whether it is the opposite. */
export function usesOfMaterial(
  material: Material,
  isInverted: (map: MaterialMap) => boolean,
  channelOf: (map: MaterialMap) => MapChannel | null,
): MapUse[] {
  return material.maps.map((map) => {
    const channel = statedChannel(map) ?? channelOf(map)
    return {
      ...placed(map),
      file: map.file,
      slot: map.slot,
      channel: channel ?? (colorSpaceOf(map.slot) === 'sRGB' || isVector(map.slot) ? 'rgb' : 'r'),
      isPart: channel !== null,
      inverted: isInverted(map),
      amount: amountOf(map),
      colorSpace: colorSpaceOf(map.slot),
      direction: null,
      from: 'material',
      uvSet: map.placement?.uvSet ?? '',
    }
  })
}
