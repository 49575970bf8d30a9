/**
 * Everything that grows by kinds, as one plain document: what the page makes its forms and sentences from, and what
 * other programs may ask for. Nothing in it can be run.
 */
import type { OptionDescriptor } from '../core/base/options/option.ts'
import type { CheckArea, CheckProblem } from '../core/checks/check.ts'
import { CHECKS } from '../core/checks/registry.ts'
import { CHECK_SETTINGS_DEFAULTS, type CheckSettings } from '../core/checks/settings.ts'
import { NOTES, TRAIT_DESCRIPTORS, TRAITS, type Trait } from '../core/compare/traits/registry.ts'
import type { NoteDescriptor } from '../core/compare/traits/trait.ts'
import { FORMATS } from '../core/formats/registry.ts'
import { STAND_INS } from '../core/practice/standins/registry.ts'
import { STEPS } from '../core/steps/registry.ts'
import type { StepArea } from '../core/steps/step.ts'
import { IMAGE_OPERATIONS } from '../core/image/operations/registry.ts'
import { SURFACE_MODELS } from '../core/surfaces/registry.ts'

export interface FormatSheet {
  readonly id: string
  readonly name: string
  readonly endings: readonly string[]
  readonly besideEndings: readonly string[]
  readonly carries: readonly string[]
  readonly line: string
  readonly readOptions: readonly OptionDescriptor[]
  readonly writeOptions: readonly OptionDescriptor[]
}

export interface TraitSheet {
  readonly id: Trait
  readonly title: string
  readonly scope: 'part' | 'scene'
  readonly ofThePart: boolean
}

export interface CheckSheet {
  readonly id: string
  readonly area: CheckArea
  readonly title: string
  readonly why: string
  readonly problems: Readonly<Record<string, CheckProblem>>
}

export interface StepSheet {
  readonly id: string
  readonly area: StepArea
  readonly title: string
  readonly description: string
  readonly changes: readonly Trait[]
  readonly parameters: readonly OptionDescriptor[]
}

export interface StandInSheet {
  readonly id: string
  readonly name: string
  readonly description: string
  readonly action: string
  readonly reads: readonly string[]
  readonly parameters: readonly OptionDescriptor[]
}

export interface ImageOperationSheet {
  readonly id: string
  readonly title: string
  readonly description: string
  readonly takes: 'each' | 'all'
  readonly options: readonly OptionDescriptor[]
}

export interface DescriptorsDocument {
  readonly formats: readonly FormatSheet[]
  readonly traits: readonly TraitSheet[]
  readonly notes: Readonly<Record<string, NoteDescriptor>>
  readonly checks: readonly CheckSheet[]
  readonly checkSettings: CheckSettings
  readonly steps: readonly StepSheet[]
  readonly standIns: readonly StandInSheet[]
  readonly surfaceModels: readonly { readonly id: string; readonly title: string }[]
  readonly imageOperations: readonly ImageOperationSheet[]
}

export const describeKinds = (): DescriptorsDocument => ({
  formats: FORMATS.map(({ id, name, endings, besideEndings, carries, line, readOptions, writeOptions }) => ({
    id,
    name,
    endings,
    besideEndings,
    carries,
    line,
    readOptions,
    writeOptions,
  })),
  traits: TRAITS.map((id) => {
    const { title, scope, ofThePart } = TRAIT_DESCRIPTORS[id]
    return { id, title, scope, ofThePart }
  }),
  notes: NOTES,
  checks: CHECKS.map(({ id, area, title, why, problems }) => ({ id, area, title, why, problems })),
  checkSettings: CHECK_SETTINGS_DEFAULTS,
  steps: STEPS.map(({ id, area, title, description, changes, parameters }) => ({
    id,
    area,
    title,
    description,
    changes,
    parameters,
  })),
  standIns: STAND_INS.map(({ id, name, description, action, reads, parameters }) => ({
    id,
    name,
    description,
    action,
    reads,
    parameters,
  })),
  surfaceModels: SURFACE_MODELS.map(({ id, title }) => ({ id, title })),
  imageOperations: IMAGE_OPERATIONS.map(({ id, title, description, takes, options }) => ({
    id,
    title,
    description,
    takes,
    options,
  })),
})
