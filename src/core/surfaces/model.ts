/**
 * A surface model: a published set of material parameters, what files call them, and how each of them stands to the
 * hub that all models are converted through (see hub.ts).
 */
import type { Slot } from '../scene/material.ts'
import type { Hub } from './hub.ts'

/** A number, three or four numbers of a colour (linear), a switch, or one of a list of words. */
export type SurfaceValue = number | boolean | string | readonly number[]
export type SurfaceValues = Readonly<Record<string, SurfaceValue>>

export type ParameterKind = 'color' | 'number' | 'boolean' | 'choice' | 'map'

export interface SurfaceParameter {
  /** What its map is for, whatever a model calls it; null where it is a value alone that no other file has a word for. */
  readonly slot: Slot | null
  /** The model's word for its value; null where only a map can be given. */
  readonly name: string | null
  readonly kind: ParameterKind
  /** Numbers that its value has; 0 where it has none. */
  readonly width: 0 | 1 | 3 | 4
  /** What it is where nothing is said; null where the model has no such value (infinite, or none). */
  readonly standard: SurfaceValue | null
  /** Least and largest sensible value of each number; null where there is no bound. */
  readonly range: readonly [number, number | null] | null
  /** `turns`, `radians`, `nm`, `µm`, `scene units`, `nit`, ...; null for a plain number. */
  readonly unit: string | null
  readonly choices?: readonly string[]
  /** The model's word for its map; null where it takes none. */
  readonly mapName: string | null
  /** Whether a map of it is a colour for the eye (written in sRGB as a habit), or plain numbers. */
  readonly mapIsColor: boolean
  /** The map shows the opposite of its slot: glossiness for roughness. */
  readonly inverted?: boolean
  /** Where several maps share an image: which channel is this one's. */
  readonly channel?: 'r' | 'g' | 'b' | 'a'
  /** Other words that files of this model have for the value. */
  readonly synonyms?: readonly string[]
}

/** Why a parameter is not quite what the hub has in its place, in words; `when`: the surfaces that it makes a difference for. */
export interface Caveat {
  readonly text: string
  readonly when?: (hub: Hub) => boolean
}

export interface SurfaceModel {
  /** The file's name. */
  readonly id: string
  readonly title: string
  /** Where its words are published. */
  readonly source: string
  /** The value of `model` that a material of it carries. */
  readonly materialModel: string
  readonly parameters: readonly SurfaceParameter[]
  /**
   * Parameters by name whose maps are multiplied by the value beside them; a map of any other takes the value's place.
   * Absent: none.
   */
  readonly timesMap?: readonly string[] | 'all'
  /** Words that no other model shares: they travel through other files under their own name and are known again. */
  readonly ownWords?: readonly string[]
  /**
   * What the given values mean. What is left out takes the model's standard; a key that is there was said.
   * Never fails: a value of another shape than its parameter's is taken as its standard.
   */
  readonly toHub: (values: SurfaceValues) => Hub
  /** The same surface in this model's parameters, each with a value. */
  readonly fromHub: (hub: Hub) => SurfaceValues
  /** Parameters that count only where none of the others is said: an exponent where a roughness is. */
  readonly yieldsTo?: Readonly<Record<string, readonly string[]>>
  /** Weights, by how the names of those begin that are seen only where the weight isn't 0. */
  readonly shownBy?: Readonly<Record<string, string>>
  /** How a MaterialX document names it; absent: the standard has no node for it. */
  readonly materialX?: {
    readonly category: string
    /** Parameters that its node doesn't have. */
    readonly without?: readonly string[]
    /** Words that its node has numbers for: the place in the list of choices. */
    readonly integers?: readonly string[]
    /** The node's input of normals takes a vector, not a node of normals. */
    readonly normalIsVector?: boolean
  }
  /** Parameters that stand for nearly, but not quite, what the hub has in their place. */
  readonly caveats?: Readonly<Record<string, Caveat>>
}
