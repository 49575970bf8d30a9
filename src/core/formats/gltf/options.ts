export interface GltfReadOptions {
  /** Join vertices that the file has split at seams and hard edges. */
  readonly join: boolean
  /** Metres in one unit, where it is known better than the format says; null: a metre. */
  readonly unitMeters: number | null
}

export interface GltfWriteOptions {
  /** One binary file; text with numbers and maps beside it; text with all inside; null: as the file's ending says. */
  readonly form: 'binary' | 'beside' | 'inside' | null
  readonly uvs: boolean
  readonly normals: boolean
  /** Tangents by MikkTSpace on the first UV set; else those that came with the model. */
  readonly tangents: boolean
  readonly colors: boolean
  /** Polygons by the public n-gon encoding; else they leave as triangles. */
  readonly polygons: boolean
  /** What the format has no words for, as notes beside each mesh. */
  readonly smoothing: boolean
  readonly creases: boolean
  readonly groups: boolean
  readonly materials: 'full' | 'names' | 'none'
  /** Maps travel too. */
  readonly maps: boolean
  /** Blend shapes and skin weights. */
  readonly shapes: boolean
  readonly cameras: boolean
  readonly lights: boolean
  /** Node indices to write, with what they hang under; null: all. */
  readonly selection: readonly number[] | null
  readonly visibleOnly: boolean
  readonly triangulate: boolean
  /** Metres in what the receiving tool takes for a unit; the format itself means metres. */
  readonly takenFor: number | null
  /** Where a change of unit goes: a scale on the roots, or the points. */
  readonly unitAs: 'roots' | 'points'
  /** Makes everything larger by this. */
  readonly scale: number
}

export const GLTF_READ_DEFAULTS: GltfReadOptions = { join: true, unitMeters: null }

export const GLTF_WRITE_DEFAULTS: GltfWriteOptions = {
  form: null,
  uvs: true,
  normals: true,
  tangents: false,
  colors: true,
  polygons: true,
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
  takenFor: null,
  unitAs: 'points',
  scale: 1,
}
