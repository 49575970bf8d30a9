import type { Axis } from '../../scene/scene.ts'

export type PartsBy = 'object' | 'group' | 'material' | 'one'

/** How OBJ is to be understood where the file itself doesn't say. */
export interface ObjReadOptions {
  /** Metres in one unit of the file; null: unknown. */
  readonly unitMeters: number | null
  readonly upAxis: Axis
  readonly frontAxis: Axis
  /** The file is mirrored (left-handed). */
  readonly mirrored: boolean
  readonly partsBy: PartsBy
  /** 'file': as authored; 'smoothing': made from the smoothing groups; 'angle': made from `normalsAngle`. */
  readonly normals: 'file' | 'smoothing' | 'angle'
  /** Degrees; edges that bend more are hard. */
  readonly normalsAngle: number
  readonly materials: 'full' | 'names' | 'none'
  readonly flipV: boolean
  /** Take `d` and `Tr` the other way round, for programs that write opacity where transparency belongs. */
  readonly invertTransparency: boolean
}

export const OBJ_READ_DEFAULTS: ObjReadOptions = {
  unitMeters: null,
  upAxis: 'y',
  frontAxis: 'z',
  mirrored: false,
  partsBy: 'object',
  normals: 'file',
  normalsAngle: 60,
  materials: 'full',
  flipV: false,
  invertTransparency: false,
}

export interface ObjWriteOptions {
  readonly groups: boolean
  readonly materials: 'full' | 'names' | 'none'
  readonly normals: boolean
  readonly uvs: boolean
  readonly smoothing: boolean
  readonly creases: boolean
  readonly colors: boolean
  /** Node indices to write; null: all that are visible or not. */
  readonly selection: readonly number[] | null
  /** Metres in one unit of the file; null: the scene's own. */
  readonly unitMeters: number | null
  /** Null: the scene's own. */
  readonly upAxis: Axis | null
  readonly frontAxis: Axis | null
  readonly mirrored: boolean | null
  /** Digits after the point; null: the shortest text that reads back to the same number. */
  readonly digits: number | null
  readonly flipV: boolean
  readonly visibleOnly: boolean
  readonly triangulate: boolean
  /** Makes everything larger by this. */
  readonly scale: number
  /** Copy the maps' images beside the MTL. */
  readonly maps: boolean
}

export const OBJ_WRITE_DEFAULTS: ObjWriteOptions = {
  groups: true,
  materials: 'full',
  normals: true,
  uvs: true,
  smoothing: true,
  creases: true,
  colors: true,
  selection: null,
  unitMeters: null,
  upAxis: null,
  frontAxis: null,
  mirrored: null,
  digits: null,
  flipV: false,
  visibleOnly: false,
  triangulate: false,
  scale: 1,
  maps: true,
}
