import type { Axis } from '../../scene/scene.ts'

export interface StlReadOptions {
  /** Metres in one unit; null: not known. */
  readonly unitMeters: number | null
  readonly upAxis: Axis
  readonly frontAxis: Axis
  readonly mirrored: boolean
  /** Join the corners of triangles that lie at one place. */
  readonly join: boolean
}

export interface StlWriteOptions {
  readonly form: 'binary' | 'text'
  /** Colours of polygons in the two spare bytes of each triangle, as many programs read them. */
  readonly colors: boolean
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
}

export const STL_READ_DEFAULTS: StlReadOptions = {
  unitMeters: null,
  upAxis: 'z',
  frontAxis: '-y',
  mirrored: false,
  join: true,
}

export const STL_WRITE_DEFAULTS: StlWriteOptions = {
  form: 'binary',
  colors: true,
  unitMeters: null,
  upAxis: null,
  frontAxis: null,
  mirrored: null,
  scale: 1,
  selection: null,
  visibleOnly: false,
}
