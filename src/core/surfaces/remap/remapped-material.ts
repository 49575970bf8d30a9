/** A material as it is in another surface model: what is there, what it becomes, where it comes from. */
import type { Slot } from '../../scene/material.ts'
import type { SurfaceModel, SurfaceValue } from '../model.ts'
import type { RecognisedSurface } from '../recognise-surface.ts'
import type { MapUse } from './map-use.ts'
import type { ReflectanceMaps } from './reflectance-maps.ts'

/** A map that is laid over another by its own opacity. */
export interface MapLayer {
  readonly use: MapUse
  /** How, by the number that FBX has for it (`BlendModes` of a layered texture). */
  readonly blend: number
  /** Share of it. */
  readonly alpha: number
  /** A decal: without an opacity of its own it says where the map below it shows (MTL specification, `decal`). */
  readonly isDecal: boolean
}

export interface RemappedParameter {
  readonly parameter: string
  readonly slot: Slot | null
  /** Null for a parameter that takes a map alone. */
  readonly value: SurfaceValue | null
  /** What the value is without the map, where it has one; absent: the same. */
  readonly withoutMap?: SurfaceValue
  readonly map: MapUse | null
  /** Maps that lie over it, from below; only drawing them together shows them. */
  readonly layers?: readonly MapLayer[]
  readonly how: 'exact' | 'approximate' | 'none'
  readonly note: string
  /** Where it comes from: what the material said, a map of the folder, a rule, or the model's standard. */
  readonly from: 'material' | 'folder' | 'rule' | 'standard'
}

export interface RemappedMaterial {
  readonly name: string
  readonly recognised: RecognisedSurface
  readonly target: SurfaceModel
  readonly parameters: readonly RemappedParameter[]
  /** What the material had and the target has no place for: parameters by the source's words, maps by what they are for. */
  readonly lost: readonly Lost[]
  /** Names of the materials that it was drawn from; absent: it is one of the model's own. */
  readonly drawnFrom?: readonly string[]
  /** Name of the UV set that its maps are drawn into, and how many squares of it. */
  readonly drawnInto?: { readonly set: string; readonly tileCount: number }
  /** Maps that have to be computed first; absent: each goes into the target as it is. */
  readonly reflectance?: ReflectanceMaps
}

export interface Lost {
  readonly what: string
  readonly note: string
  /** A map that lies over another: it is there again where both are drawn into one. */
  readonly isLayer?: boolean
}
