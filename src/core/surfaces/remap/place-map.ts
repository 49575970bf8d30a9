/** Which parameter of a target takes a map. */
import type { Slot } from '../../scene/material.ts'
import type { SurfaceModel, SurfaceParameter } from '../model.ts'
import type { MapUse } from './map-use.ts'

/** Where a target has no such slot: the nearest that it may have, and what is not the same about it. */
const NEAREST: Partial<Record<Slot, readonly (readonly [Slot, string])[]>> = {
  specular: [['specularWeight', 'only how strong it is, not its colour']],
  specularWeight: [['specular', 'as grey']],
  reflection: [['specular', 'a picture that is mirrored stands where a colour of the highlight is meant']],
  shininess: [['roughness', 'an exponent is no roughness: its pixels have to be converted']],
  sheen: [['sheenColor', 'as grey']],
  sheenColor: [['sheen', 'only how strong it is, not its colour']],
  bump: [['normal', 'made into normals; an image doesn’t tell how high its bumps are']],
  displacement: [
    ['bump', 'as bumps: the outline stays as it is'],
    [
      'normal',
      'made into normals: the outline stays as it is, and an image doesn’t tell how high it is meant',
    ],
  ],
}

/** @returns null where it has none, nor one that comes near. */
export function placeOf(
  use: MapUse,
  target: SurfaceModel,
): { parameter: SurfaceParameter; note: string } | null {
  const takes = (slot: Slot): SurfaceParameter | undefined =>
    target.parameters.find((parameter) => parameter.mapName !== null && parameter.slot === slot)
  const same = takes(use.slot)
  if (same) return { parameter: same, note: '' }
  for (const [slot, note] of NEAREST[use.slot] ?? []) {
    const near = takes(slot)
    if (near) return { parameter: near, note }
  }
  return null
}

export function withoutPlace(slot: Slot, { title }: SurfaceModel): string {
  if (slot === 'id') return 'tells regions apart; no renderer shows it'
  if (slot === 'occlusion')
    return `${title} has none: light finds it by itself, or it is multiplied into the base colour`
  return `${title} takes no such map`
}
