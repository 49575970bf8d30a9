import type { Axis } from '../../scene/scene.ts'

export interface PlyReadOptions {
  /** Metres in one unit; null: not known. */
  readonly unitMeters: number | null
  readonly upAxis: Axis
  readonly frontAxis: Axis
  readonly mirrored: boolean
  /** Join points that the file has split at seams and hard edges. */
  readonly join: boolean
}

export interface PlyWriteOptions {
  readonly form: 'binary' | 'binary-big' | 'text'
  /** Numbers of points in 64 bits where 32 would round them; else always in 32. */
  readonly exact: boolean
  readonly uvs: boolean
  readonly normals: boolean
  readonly smoothing: boolean
  readonly groups: boolean
  readonly colors: boolean
  readonly materials: 'names' | 'none'
  /** Metres in one unit of the file; null: the scene's own. */
  readonly unitMeters: number | null
  /** Null: the scene's own. */
  readonly upAxis: Axis | null
  readonly frontAxis: Axis | null
  readonly mirrored: boolean | null
  readonly scale: number
  /** Node indices to write; null: all. */
  readonly selection: readonly number[] | null
  readonly visibleOnly: boolean
  readonly triangulate: boolean
}

export const PLY_READ_DEFAULTS: PlyReadOptions = {
  unitMeters: null,
  upAxis: 'y',
  frontAxis: 'z',
  mirrored: false,
  join: true,
}

export const PLY_WRITE_DEFAULTS: PlyWriteOptions = {
  form: 'binary',
  exact: true,
  uvs: true,
  normals: true,
  smoothing: true,
  groups: true,
  colors: true,
  materials: 'names',
  unitMeters: null,
  upAxis: null,
  frontAxis: null,
  mirrored: null,
  scale: 1,
  selection: null,
  visibleOnly: false,
  triangulate: false,
}
