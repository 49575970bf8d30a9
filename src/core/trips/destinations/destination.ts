import type { CheckSettings } from '../../checks/settings.ts'
import type { FormatOptions } from '../../formats/descriptor.ts'
import type { RemapRules } from '../../surfaces/remap/rules.ts'
import type { Recipe } from '../../steps/recipe.ts'
import type { Trait } from '../../compare/traits/registry.ts'

export const DESTINATION_KINDS = [
  'modelling',
  'sculpting',
  'texture-painting',
  'engine',
  'renderer',
  'sewing-pattern',
  'freehand',
  'posing',
  'tablet',
  'scene-assembly',
] as const
export type DestinationKind = (typeof DESTINATION_KINDS)[number]

export const KIND_NAMES: Readonly<Record<DestinationKind, string>> = {
  modelling: 'modelling',
  sculpting: 'sculpting',
  'texture-painting': 'texture painting',
  engine: 'real-time engine',
  renderer: 'renderer',
  'sewing-pattern': 'sewing pattern',
  freehand: 'freehand in VR',
  posing: 'posing',
  tablet: 'sculpting on a tablet',
  'scene-assembly': 'scene assembly',
}

/** What a tool makes of the size that a file states. */
export interface SizeReading {
  /** 'stated': it converts from the unit in the file to its own; 'numbers': it takes the numbers as its own unit. */
  readonly unit: 'stated' | 'numbers'
  /** Metres in one unit of the tool. */
  readonly unitMeters: number
}

/** What names a tool takes. */
export interface NamingRules {
  /** 'plain': letters a to z, digits and underscores. */
  readonly letters: 'any' | 'plain'
  readonly longest: number | null
  readonly prefix: string
  readonly suffix: string
}

/** The description of one tool that files go to. */
export interface Destination {
  readonly id: string
  readonly name: string
  readonly kind: DestinationKind
  readonly description: string
  /** By its id. */
  readonly format: string
  readonly writeOptions: FormatOptions
  /** How its files are understood when they come back. */
  readonly readOptions: FormatOptions
  readonly size: SizeReading
  readonly polygons: 'any' | 'quads' | 'triangles'
  /** Triangles that it takes; null: any number. */
  readonly polygonBudget: number | null
  /** Where green points in its normal maps. */
  readonly normalMapGreen: 'up' | 'down'
  /** Traits that it has no room for, whatever the file holds. */
  readonly neverTravels: readonly Trait[]
  readonly naming: NamingRules
  readonly split: 'one' | 'parts' | 'materials'
  /** What a model is held against before it leaves. */
  readonly checkSettings: Partial<CheckSettings>
  /** Checks, by id, that have to be without findings. */
  readonly mustBeClean: readonly string[]
  /** Steps that run on what leaves; the master stays as it is. */
  readonly recipe: Recipe | null
  /** The surface model that materials leave in, and rules for it; null: as they are. */
  readonly surfaces: {
    readonly name: string
    /** By its id. */
    readonly surface: string
    readonly rules: RemapRules
  } | null
  /** What the hop is for: the traits offered for taking when the model comes back. */
  readonly purpose: readonly Trait[]
  /** Traits that it is known to change on the way, beside those. */
  readonly changesOnReturn: readonly Trait[]
  /** The stand-in to practise this destination with, by id. */
  readonly standIn: string | null
}

export const DESTINATION_DEFAULTS: Omit<Destination, 'id' | 'name' | 'kind' | 'description' | 'format'> = {
  writeOptions: {},
  readOptions: {},
  size: { unit: 'stated', unitMeters: 0.01 },
  polygons: 'any',
  polygonBudget: null,
  normalMapGreen: 'up',
  neverTravels: [],
  naming: { letters: 'any', longest: null, prefix: '', suffix: '' },
  split: 'one',
  checkSettings: {},
  mustBeClean: [],
  recipe: null,
  surfaces: null,
  purpose: [],
  changesOnReturn: [],
  standIn: null,
}

/** What a model is held against for a destination: its settings, with what the rest of it says anyway. */
export const checkSettingsOf = (destination: Destination): Partial<CheckSettings> => ({
  wantQuads: destination.polygons === 'quads',
  ...(destination.polygonBudget === null ? {} : { triangleBudget: destination.polygonBudget }),
  ...(destination.naming.longest === null ? {} : { nameLength: destination.naming.longest }),
  ...destination.checkSettings,
})
