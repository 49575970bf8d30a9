/** A surface model: a published set of material parameters, and what files call them. */
import type { Slot } from '../scene/material.ts'

export interface SurfaceParameter {
  /** What it is, whatever a model calls it. */
  readonly slot: Slot
  /** The file's word for its value; null where only a map can be given. */
  readonly name: string | null
  /** Numbers that its value has; 0 where it has none. */
  readonly width: 0 | 1 | 3
  /** The file's word for its map; null where it takes none. */
  readonly mapName: string | null
  /** Other words that files of this model have for the value. */
  readonly synonyms?: readonly string[]
}

export interface SurfaceModelDescriptor {
  /** The file's name. */
  readonly id: string
  readonly title: string
  /** Where its words are published. */
  readonly source: string
  /** The value of `model` that a material of it carries. */
  readonly materialModel: string
  readonly parameters: readonly SurfaceParameter[]
  /** Words that no other model shares: they travel through other files under their own name and are known again. */
  readonly ownWords?: readonly string[]
}
