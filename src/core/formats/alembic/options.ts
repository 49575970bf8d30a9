import type { Axis } from '../../scene/scene.ts'

export interface AlembicReadOptions {
  /** Metres in one unit; null: the file has no word for it. */
  readonly unitMeters: number | null
  readonly upAxis: Axis
  /** Which sample is read of what moves, from 0 on. */
  readonly sample: number
}

export interface AlembicWriteOptions {
  readonly uvs: boolean
  readonly normals: boolean
  readonly colors: boolean
  /** What the format has no word for, as a note beside each mesh. */
  readonly smoothing: boolean
  readonly creases: boolean
  readonly groups: boolean
  /** Names of materials as sets of polygons. */
  readonly materials: 'names' | 'none'
  /** Node indices to write, with what they hang under; null: all. */
  readonly selection: readonly number[] | null
  readonly visibleOnly: boolean
  readonly triangulate: boolean
  /** Metres in one unit of the file; null: the scene's own. */
  readonly unitMeters: number | null
  readonly unitAs: 'roots' | 'points'
  /** Null: the scene's own where it is Y or Z, else Y. */
  readonly upAxis: 'y' | 'z' | null
  readonly scale: number
}

export const ALEMBIC_READ_DEFAULTS: AlembicReadOptions = { unitMeters: null, upAxis: 'y', sample: 0 }

export const ALEMBIC_WRITE_DEFAULTS: AlembicWriteOptions = {
  uvs: true,
  normals: true,
  colors: true,
  smoothing: true,
  creases: true,
  groups: true,
  materials: 'names',
  selection: null,
  visibleOnly: false,
  triangulate: false,
  unitMeters: null,
  unitAs: 'points',
  upAxis: null,
  scale: 1,
}
