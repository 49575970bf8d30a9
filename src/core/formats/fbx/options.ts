import type { ZlibCodec } from '../../base/bytes/zlib.ts'
import type { Axis } from '../../scene/scene.ts'

/** The scale that a file's crease weights are on: weight = scale x (sharpness / 10) ^ exponent. */
export interface CreaseScale {
  readonly creaseScale: number
  readonly creaseExponent: number
}

export interface FbxReadOptions extends CreaseScale {
  /** Metres in one unit, where it is known better than the file says; null: as the file says. */
  readonly unitMeters: number | null
  readonly upAxis: Axis | null
  readonly frontAxis: Axis | null
  readonly mirrored: boolean | null
  readonly codec: ZlibCodec | null
}

export interface FbxWriteOptions extends CreaseScale {
  readonly version: 7400 | 7500
  readonly form: 'binary' | 'text'
  readonly normals: boolean
  /** Tangents and binormals by MikkTSpace on the first UV set; else those that came with the model. */
  readonly tangents: boolean
  readonly uvs: boolean
  /** New names of the UV sets in their order, parted by commas; empty: their own. */
  readonly uvSetNames: string
  readonly smoothing: boolean
  /** By edge: a flag an edge; by polygon: a mask of groups a polygon; own: as the part stores it. */
  readonly smoothingForm: 'own' | 'edges' | 'polygons'
  readonly creases: boolean
  readonly colors: boolean
  readonly groups: boolean
  /** FBX has no named sets of faces: as numbered sets with their names beside, or in place of the materials. */
  readonly groupsAs: 'sets' | 'materials'
  readonly materials: 'full' | 'names' | 'none'
  /** Copy the maps' images beside the file. */
  readonly maps: boolean
  /** Put the maps' images into the file. */
  readonly embedMaps: boolean
  /** Blend shapes and skin weights. */
  readonly shapes: boolean
  readonly cameras: boolean
  readonly lights: boolean
  /** Node indices to write, with what they hang under; null: all. */
  readonly selection: readonly number[] | null
  readonly visibleOnly: boolean
  readonly triangulate: boolean
  /** Metres in one unit of the file; null: the scene's own. */
  readonly unitMeters: number | null
  /** Where a change of unit goes: the numbers stay and the file states the scene's own; a scale on the roots; the points. */
  readonly unitAs: 'metadata' | 'roots' | 'points'
  /** Null: the scene's own. */
  readonly upAxis: Axis | null
  readonly frontAxis: Axis | null
  readonly mirrored: boolean | null
  /** Where a change of axes goes: the numbers stay and the file states the scene's own; the points. */
  readonly axesAs: 'metadata' | 'points'
  /** Pack every array, also those that hardly become smaller by it. */
  readonly packAll: boolean
  /** Makes everything larger by this, on the roots or in the points as `unitAs` has it (metadata: in the unit that is stated). */
  readonly scale: number
  readonly codec: ZlibCodec | null
}

export const FBX_READ_DEFAULTS: FbxReadOptions = {
  unitMeters: null,
  upAxis: null,
  frontAxis: null,
  mirrored: null,
  creaseScale: 1,
  creaseExponent: 1,
  codec: null,
}

export const FBX_WRITE_DEFAULTS: FbxWriteOptions = {
  version: 7400,
  form: 'binary',
  normals: true,
  tangents: false,
  uvs: true,
  uvSetNames: '',
  smoothing: true,
  smoothingForm: 'own',
  creases: true,
  creaseScale: 1,
  creaseExponent: 1,
  colors: true,
  groups: true,
  groupsAs: 'sets',
  materials: 'full',
  maps: true,
  embedMaps: false,
  shapes: true,
  cameras: true,
  lights: true,
  selection: null,
  visibleOnly: false,
  triangulate: false,
  unitMeters: null,
  unitAs: 'points',
  upAxis: null,
  frontAxis: null,
  mirrored: null,
  axesAs: 'points',
  packAll: false,
  scale: 1,
  codec: null,
}
