/** What becomes of a trait on its way out: the words of a forecast. */
import type { Trait } from '../compare/traits/registry.ts'
import type { NoteDescriptor, TraitState } from '../compare/traits/trait.ts'
import type { Destination } from './destinations/destination.ts'

export const FATES = ['carried', 'otherwise', 'kept', 'lost'] as const
/** carried; carried in another form; not carried, but kept for the return; not carried. */
export type Fate = (typeof FATES)[number]

export const FATE_WORDS: Readonly<Record<Fate, string>> = {
  carried: 'carried',
  otherwise: 'carried in another form',
  kept: 'not carried, kept for the return',
  lost: 'not carried',
}

export type FateDestination = Pick<Destination, 'purpose'> & Partial<Pick<Destination, 'neverTravels'>>

/** What is known of traits and their sentences; the page has it from the server, everything else from the registry. */
export interface TraitKinds {
  readonly notes: Readonly<Record<string, NoteDescriptor>>
  /** The trait is of the part as a whole, so that it can be put back whatever becomes of the polygons. */
  readonly isOfThePart: (trait: Trait) => boolean
}

export interface CellOfTrait {
  readonly state: TraitState
  readonly empty: boolean
  readonly note: string
}

/**
 * What Kelbo can put back rests on knowing each polygon again: it can't for what lies on polygons where the
 * destination is there to make others.
 */
export function fateOf(
  trait: Trait,
  cell: CellOfTrait,
  destination: FateDestination,
  kinds: TraitKinds,
): Fate {
  if (cell.empty) return 'carried'
  if (!destination.neverTravels?.includes(trait)) {
    if (isOtherForm(cell, kinds)) return 'otherwise'
    // what the file has beyond the version is no loss
    // and of the scene as a whole nothing is without counterpart but nodes that the file has not
    const isGone = trait === 'scene' && cell.state === 'without'
    if (cell.state === 'gained' || (isAsItWas(cell) && !isGone)) return 'carried'
  }
  return destination.purpose.includes('topology') && !kinds.isOfThePart(trait) ? 'lost' : 'kept'
}

/** The file has it and the tool has no room for it. */
export const isRefused = (
  trait: Trait,
  cell: CellOfTrait,
  destination: FateDestination,
  kinds: TraitKinds,
): boolean =>
  !cell.empty &&
  cell.state !== 'incomparable' &&
  (destination.neverTravels?.includes(trait) ?? false) &&
  (isAsItWas(cell) || isOtherForm(cell, kinds))

const isAsItWas = ({ state }: CellOfTrait): boolean =>
  state === 'same' || state === 'within' || state === 'without'

const isOtherForm = (cell: CellOfTrait, kinds: TraitKinds): boolean => costOf(cell.note, kinds) !== null

/** What another form costs; null for a change that is none. */
export const costOf = (note: string, kinds: TraitKinds): string | null => kinds.notes[note]?.otherForm ?? null
