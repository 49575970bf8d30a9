import type { KeptProperty } from './kept.ts'

/**
 * A material as its file wrote it. What the properties mean in one surface model or another is worked out
 * from this when it is asked for, so that a file's own wording survives.
 */
export interface MaterialProperty {
  /** The file's own name of it, such as `Kd`. */
  readonly name: string
  readonly values: readonly number[]
  /** The file's text where it is not a plain list of numbers (a spectral curve, say). */
  readonly text: string | null
  /** The file's words for its type and flags, where it has such. */
  readonly type?: string
  readonly label?: string
  readonly flags?: string
}

/** The parameters that take an image, independent of a format's wording. */
export type Slot =
  | 'ambient'
  | 'baseColor'
  | 'specular'
  | 'emissive'
  | 'shininess'
  | 'opacity'
  | 'bump'
  | 'normal'
  | 'displacement'
  | 'decal'
  | 'occlusion'
  /** What no name tells. */
  | 'other'
  | 'reflection'
  | 'roughness'
  | 'metalness'
  | 'sheen'
  | 'clearcoat'
  | 'clearcoatRoughness'
  | 'anisotropy'
  | 'anisotropyRotation'
  | 'specularWeight'
  | 'ior'
  | 'transmission'
  | 'subsurface'
  | 'subsurfaceColor'
  | 'sheenColor'
  | 'sheenRoughness'
  | 'clearcoatColor'
  | 'clearcoatNormal'
  | 'iridescence'
  | 'iridescenceThickness'
  | 'thickness'
  /** A colour for each material or region. */
  | 'id'

export interface MaterialMap {
  /** The file's own statement, such as `map_Kd`. */
  readonly property: string
  readonly slot: Slot
  /** The path as it stands in the file. */
  readonly file: string
  /** Options in file order: ['-bm', '0.5']. */
  readonly options: readonly (readonly string[])[]
  readonly placement?: MapPlacement
}

/** How a map lies on the surface, where its file tells it apart from the map. */
export interface MapPlacement {
  readonly name: string
  /** Name of the UV set it is laid on; empty: the first. */
  readonly uvSet: string
  readonly wrapU: 'repeat' | 'clamp'
  readonly wrapV: 'repeat' | 'clamp'
  readonly scale: readonly [number, number]
  readonly offset: readonly [number, number]
  /** Where several maps are stacked on one slot: which stack, its place from below, and how it is laid over. */
  readonly stack?: { readonly name: string; readonly blend: number; readonly alpha: number }
  readonly kept: readonly KeptProperty[]
  readonly source?: string
}

export interface Material {
  /** What it is known by from version to version, see ids.ts; empty while it is being made. */
  readonly id: string
  readonly name: string
  readonly model: string
  readonly properties: readonly MaterialProperty[]
  readonly maps: readonly MaterialMap[]
  /** Lines that were not understood, as they came. */
  readonly kept: readonly string[]
  readonly source?: string
}
