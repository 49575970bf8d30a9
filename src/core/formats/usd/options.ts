import type { Axis } from '../../scene/scene.ts'

export interface UsdReadOptions {
  /** Metres in one unit, where it is known better than the file says; null: as the file says. */
  readonly unitMeters: number | null
  readonly upAxis: Axis | null
}

export interface UsdWriteOptions {
  /** Null: as the file's ending says. */
  readonly form: 'text' | 'package' | null
  readonly uvs: boolean
  readonly normals: boolean
  readonly colors: boolean
  /** What the format has no word for, as a note beside each mesh. */
  readonly smoothing: boolean
  readonly creases: boolean
  readonly groups: boolean
  readonly materials: 'full' | 'names' | 'none'
  readonly maps: boolean
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
  /** Null: the scene's own where the format has it, else Y. */
  readonly upAxis: 'y' | 'z' | null
  readonly scale: number
}

export const USD_READ_DEFAULTS: UsdReadOptions = { unitMeters: null, upAxis: null }

export const USD_WRITE_DEFAULTS: UsdWriteOptions = {
  form: null,
  uvs: true,
  normals: true,
  colors: true,
  smoothing: true,
  creases: true,
  groups: true,
  materials: 'full',
  maps: true,
  shapes: true,
  cameras: true,
  lights: true,
  selection: null,
  visibleOnly: false,
  triangulate: false,
  unitMeters: null,
  unitAs: 'points',
  upAxis: null,
  scale: 1,
}
