import type { Material, MaterialMap } from './material.ts'

/** Where a map lies, as far as it says more than the map itself. */
function placementText({ placement }: MaterialMap): unknown {
  if (!placement) return null
  const { uvSet, wrapU, wrapV, scale, offset, stack } = placement
  const says =
    uvSet ||
    stack ||
    wrapU !== 'repeat' ||
    wrapV !== 'repeat' ||
    scale.some((value) => value !== 1) ||
    offset.some(Boolean)
  return says ? [uvSet, wrapU, wrapV, scale, offset, stack ?? null] : null
}

/** A material's parameters and maps as text; equal texts describe equal surfaces. Its name is not part of it. */
export function surfaceText(material: Material): string {
  return JSON.stringify([
    material.model,
    material.properties.map((property) => [property.name, property.values, property.text]),
    material.maps.map((map) => [map.property, map.file, map.options, placementText(map)]),
    material.kept,
  ])
}

/** A material of which no parameter and no map is known; lines that nobody understood describe nothing. */
export const isBare = (material: Material): boolean =>
  material.properties.length === 0 && material.maps.length === 0
