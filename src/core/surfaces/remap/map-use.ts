/** A map on a parameter: which file, what of it, and what has to be done to its pixels first. */
import type { Slot } from '../../scene/material.ts'

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
  /** Whether its numbers are colours for the eye, or plain. */
  readonly colorSpace: 'sRGB' | 'linear'
  /** Which way green points in a map of normals; null: not known. */
  readonly direction: 'up' | 'down' | null
  readonly from: 'folder' | 'material' | 'rule'
  /** What it is made of, where it is no longer the file that it was found as. */
  readonly source?: { readonly file: string; readonly channel: MapChannel; readonly inverted: boolean }
  /** Name of the UV set that it lies on; empty: the first. */
  readonly uvSet: string
}

/** Where one channel of a made image comes from; a number stands for a constant, 0 to 1. */
export type ChannelSource =
  { readonly file: string; readonly channel: 'r' | 'g' | 'b' | 'a'; readonly inverted: boolean } | number

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
