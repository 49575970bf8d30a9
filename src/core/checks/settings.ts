import type { Axis } from '../scene/scene.ts'

/** What a model is held against. Lengths are in the file's unit where nothing else is said. */
export interface CheckSettings {
  /** Only quads are welcome. */
  readonly wantQuads: boolean
  /** Points closer than this are one; null: a hundred-thousandth of the part's diagonal. */
  readonly weldDistance: number | null
  /** Triangles the whole model may have; null: any number. */
  readonly triangleBudget: number | null
  /** Longest side by shortest height of a polygon. */
  readonly aspectLimit: number
  /** Times larger or smaller than the polygons around. */
  readonly areaRatioLimit: number
  /** Degrees that a polygon may be bent. */
  readonly bendLimit: number
  /** Pixels along a side of the maps. */
  readonly mapSize: number
  /** Pixels between islands. */
  readonly paddingPixels: number
  /** Tiles to the right and above are used (UDIM numbering, 1001 onwards). */
  readonly tiles: boolean
  /** Highest by lowest texel density. */
  readonly densitySpread: number
  /** Stretch of area or angle from 1, beyond which a polygon is a finding. */
  readonly stretchLimit: number
  /** Names that the receiving tool knows its UV set by; empty: any. */
  readonly uvSetNames: readonly string[]
  /** How smoothing is stored on the way. */
  readonly smoothingForm: 'groups' | 'masks' | 'edges'
  /** Degrees by which authored normals may differ from the smoothing. */
  readonly normalLimit: number
  /** Height the model has in the world, metres; null: unknown. */
  readonly heightMeters: number | null
  /** Unit and axes that are wished for; null: any. */
  readonly unitMeters: number | null
  readonly upAxis: Axis | null
  readonly nameLength: number
  readonly oneMaterial: boolean
  /** Pixels a map needs for the wanted size on screen or in print; 0: any. */
  readonly leastMapSize: number
  /** Several parts hang under one root. */
  readonly wantRoot: boolean
  readonly wantPartsOnFloor: boolean
  /** Face groups are panels that are to be sewn. */
  readonly wantPanels: boolean
  /** Square centimetres below which a panel can't be sewn. */
  readonly leastPanel: number
}

export const CHECK_SETTINGS_DEFAULTS: CheckSettings = {
  wantQuads: true,
  weldDistance: null,
  triangleBudget: null,
  aspectLimit: 16,
  areaRatioLimit: 40,
  bendLimit: 20,
  mapSize: 2048,
  paddingPixels: 4,
  tiles: false,
  densitySpread: 2,
  stretchLimit: 2,
  uvSetNames: [],
  smoothingForm: 'groups',
  normalLimit: 3,
  heightMeters: null,
  unitMeters: null,
  upAxis: null,
  nameLength: 63,
  oneMaterial: false,
  leastMapSize: 0,
  wantRoot: true,
  wantPartsOnFloor: true,
  wantPanels: false,
  leastPanel: 4,
}

/** Room and size that steps pack by, as they are set. */
export const packing = ({ paddingPixels, mapSize }: CheckSettings): { padding: number; mapSize: number } => ({
  padding: paddingPixels,
  mapSize,
})
