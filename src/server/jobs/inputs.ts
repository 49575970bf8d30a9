/** What each kind of job is told; documents in the jobs' table. */
import type { HandPair } from '../../core/compare/recognise/recognise-return.ts'
import type { OptionValues } from '../../core/base/options/option.ts'
import type { Trait } from '../../core/compare/traits/registry.ts'
import type { ReadOptions } from '../../core/formats/descriptor.ts'
import type { RemapRules } from '../../core/surfaces/remap/rules.ts'
import type { Recipe } from '../../core/steps/recipe.ts'
import type { Destination } from '../../core/trips/destinations/destination.ts'

export interface SendInput {
  versionId: string
  /** As it is when the job is made: a later change doesn't reach what was asked for. */
  destination: Destination
  options: Readonly<Record<string, unknown>>
  selection: readonly string[] | null
  withRecipe: boolean
}

export interface JobInputs {
  /** each: an asset for each model among the files, called as its file is. */
  import: { fileIds: string[]; name: string; options: ReadOptions; each?: boolean }
  forecast: SendInput
  send: SendInput
  /** from: the scene that had come back when it was asked for, which this one takes the place of. */
  receive: {
    tripId: string
    fileIds: string[]
    options: ReadOptions
    log?: string[]
    from?: string | null
    undoWhole?: boolean
    pairs?: readonly HandPair[]
  }
  reconcile: {
    tripId: string
    take: Trait[]
    takeByPart?: Record<string, Trait[]>
    /** Whose side stands where both changed a trait, by part and trait. */
    choices?: Record<string, Record<string, 'there' | 'here'>>
    /** The newest version, where the result stands on it and not on the one that left. */
    onto?: string | null
    note?: string
    /** Nothing is made where the result would have something wrong that the master has not. */
    checkFirst?: boolean
    beside?: string | null
    from?: string | null
  }
  practise: { tripId: string; standIn: string; options: OptionValues; from?: string | null }
  'random-trips': { tripId: string; count: number; seed: number }
  /** Files that landed in a hand-off folder. */
  land: { landingId: string; fileIds: string[] }
  prepare: { versionId: string; recipe: Recipe; beside?: string | null }
  /** An operation on images. */
  images: { fileIds: string[]; operation: string; options: OptionValues; versionId?: string | null }
  /** What becomes of materials, to be looked at: it is gone after a day. */
  look: JobInputs['remap']
  /** surface: id of a model that ships; mode: only look, make scenes to draw, a version, or files. */
  remap: {
    versionId: string
    fileIds: string[]
    surface: string
    rules: RemapRules
    mode: 'look' | 'show' | 'keep' | 'files'
    format: string | null
    beside?: string | null
  }
}
