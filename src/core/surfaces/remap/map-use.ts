/** A map on a parameter: which file, what of it, and what has to be done to its pixels first. */
import type { MapPlacement, MaterialMap, Slot } from '../../scene/material.ts'

export type MapChannel = 'rgb' | 'r' | 'g' | 'b' | 'a'

export interface MapUse {
  /** Its path; tiles stand as `<UDIM>` or `<UVTILE>` in it. */
  readonly file: string
  readonly slot: Slot
  readonly channel: MapChannel
  /** The file's other channels show something else. */
  readonly isPart: boolean
  /** Its pixels show the opposite of what the parameter takes. */
  readonly inverted: boolean
  /** Share of the map, 1 for all of it. */
  readonly amount: number
  /** The share that is drawn into its pixels already, where the target has no way of saying one. */
  readonly drawnShare?: number
  /** Whether its numbers are colours for the eye, or plain. */
  readonly colorSpace: 'sRGB' | 'linear'
  /** The value that its pixels are multiplied by already, where the target's map takes the value's place. */
  readonly drawnTimes?: number | readonly number[]
  /** The value that a share of it is drawn over already. */
  readonly drawnOver?: number | readonly number[]
  /** What is drawn over what, where a share or a value is to be drawn: one of each a channel. */
  readonly mix?: { readonly share: readonly number[]; readonly ground: readonly number[] }
  /** Which way green points in a map of normals; null: not known. */
  readonly direction: 'up' | 'down' | null
  readonly from: 'folder' | 'material' | 'rule'
  /** Its pixels are multiplied by the value beside it; absent: they take its place. */
  readonly isTimesValue?: boolean
  /** What it is made of, where it is no longer the file that it was found as. */
  readonly source?: { readonly file: string; readonly channel: MapChannel; readonly inverted: boolean }
  /** Name of the UV set that it lies on; empty: the first. */
  readonly uvSet: string
  /** How it lies there; absent: once over the square from 0 to 1, and again beyond it. */
  readonly placement?: Placement
  /** Where its file lays it over others of its slot: how, and how much of it. */
  readonly stack?: { readonly blend: number; readonly alpha: number }
}

/** UVs are multiplied by `scale`, then moved by `offset`. */
export type Placement = Pick<MapPlacement, 'wrapU' | 'wrapV' | 'scale' | 'offset'>

export const PLAIN_PLACEMENT: Placement = { wrapU: 'repeat', wrapV: 'repeat', scale: [1, 1], offset: [0, 0] }

/**
 * How a map lies on the surface, by its placement or by the options of its statement; null for as it is. UVs times the
 * scale plus the offset, as three's and assimp's readers take both formats; `-clamp`: MTL specification.
 */
export function placementOf({ placement, options }: MaterialMap): Placement | null {
  const numbers = (key: string): number[] =>
    (options.find(([name]) => name === key) ?? []).slice(1).map(Number).filter(Number.isFinite)
  const [scaleU = 1, scaleV = 1] = numbers('-s')
  const [offsetU = 0, offsetV = 0] = numbers('-o')
  const wrap = options.some(([name, value]) => name === '-clamp' && value === 'on') ? 'clamp' : 'repeat'
  const found: Placement = placement ?? {
    wrapU: wrap,
    wrapV: wrap,
    scale: [scaleU, scaleV],
    offset: [offsetU, offsetV],
  }
  const { wrapU, wrapV, scale, offset } = found
  const isPlain =
    wrapU === 'repeat' &&
    wrapV === 'repeat' &&
    scale.every((one) => one === 1) &&
    offset.every((one) => one === 0)
  return isPlain ? null : { wrapU, wrapV, scale, offset }
}

/** Where one channel of a made image comes from; a number stands for a constant, 0 to 1. */
export type ChannelSource =
  | {
      readonly file: string
      readonly channel: 'r' | 'g' | 'b' | 'a'
      readonly inverted: boolean
      /** Only so much of it, over a value (of light, where the image is a colour). */
      readonly mix?: { readonly share: number; readonly ground: number }
    }
  | number

/** Slots whose maps are colours for the eye; all others are plain numbers (common practice). */
const COLOR_SLOTS: ReadonlySet<Slot> = new Set<Slot>([
  'baseColor',
  'ambient',
  'emissive',
  'specular',
  'reflection',
  'decal',
  'sheenColor',
  'subsurfaceColor',
  'clearcoatColor',
  'id',
])

export const colorSpaceOf = (slot: Slot): 'sRGB' | 'linear' => (COLOR_SLOTS.has(slot) ? 'sRGB' : 'linear')

/** What one channel of a map is mixed with. */
export const mixOf = (
  { mix }: Pick<MapUse, 'mix'>,
  channel: number,
): Pick<Exclude<ChannelSource, number>, 'mix'> =>
  mix
    ? {
        mix: {
          share: mix.share[channel] ?? mix.share[0]!,
          ground: mix.ground[channel] ?? mix.ground[0]!,
        },
      }
    : {}

/** Slots whose strength is a number of the target, or bends what is there. */
export const HAS_STRENGTH: ReadonlySet<Slot | null> = new Set<Slot | null>([
  'bump',
  'normal',
  'clearcoatNormal',
  'displacement',
])
