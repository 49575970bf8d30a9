/** How maps are named beside a model. */
export interface MapNaming {
  /** With `{material}`, `{slot}`, `{parameter}`, `{file}` (its name without ending); the ending is added. */
  readonly pattern: string | null
  /** Folder beside the model. */
  readonly folder: string
}

export const MAP_NAMING_STANDARD: MapNaming = { pattern: null, folder: 'maps' }
