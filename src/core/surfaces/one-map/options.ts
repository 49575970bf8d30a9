/** One map for all: several materials drawn into the UVs of one set. */

export interface OneMapOptions {
  /** Name of the UV set that the maps are drawn into; null: the one in which the least lies over each other. */
  readonly set: string | null
  /** Pixels on a side. */
  readonly size: number
  /** Pixels past the borders of islands. */
  readonly padding: number
  /** Names of the materials that become one, with `*`. */
  readonly materials: string
  /** Name of the one material; null: `all` or the name of the only one. */
  readonly name: string | null
}

export const ONE_MAP_DEFAULTS: OneMapOptions = {
  set: null,
  size: 2048,
  padding: 8,
  materials: '*',
  name: null,
}

/** Pixels on a side at most: what is held at once grows with its square. */
export const ONE_MAP_MOST = 8192
export const ONE_MAP_LEAST = 16
