/** The surface that every reader of the format knows. Source: OpenUSD, “UsdPreviewSurface specification” 2.6. */
import type { Material, MaterialMap, MaterialProperty } from '../../scene/material.ts'
import type { MapChannel } from '../../surfaces/remap/map-use.ts'
import { surfaceModelNamed } from '../../surfaces/registry.ts'
import { asItWas, inWordsOf, type Worded } from '../notes/worded-material.ts'

export const PREVIEW = surfaceModelNamed('usd-preview')

export const isPreview = ({ model }: Material): boolean => model === PREVIEW.materialModel

/** Values that a surface has a place for: not of what has a map, and a normal is a map or nothing. */
export function saidValues({ properties, maps }: Material): MaterialProperty[] {
  const mapped = new Set(maps.map(({ property }) => property))
  const names = new Set(
    PREVIEW.parameters.flatMap(({ name, mapName }) => (name && !mapped.has(mapName ?? '') ? name : [])),
  )
  return properties.filter(({ name, values }) => names.has(name) && values.length > 0)
}

/** The channel that a map's own statement takes out of it (MTL specification, `-imfchan`: m is the matte). */
const statedChannel = ({ options }: MaterialMap): MapChannel => {
  const word = options.find(([key]) => key === '-imfchan')?.[1] ?? ''
  return word === 'm' ? 'a' : /^[rgb]$/.test(word) ? (word as MapChannel) : 'rgb'
}

export const inPreviewWords = (material: Material): Worded =>
  isPreview(material)
    ? {
        material,
        leftMaps: [],
        channels: new Map(material.maps.map((map) => [map.property, statedChannel(map)])),
      }
    : inWordsOf(PREVIEW, material)

/** The material that a note tells of, where the surface is still what was made of it; else the one given. */
export const asItWasBefore = (note: unknown, material: Material): Material =>
  asItWas(note, material, inPreviewWords, saidValues)
