/** What becomes of a trait on its way out: the words of a forecast. */
import type { NoteCode, Trait, TraitState } from '../compare/traits/trait.ts'
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

/** Differences that say the same in other words, and what that costs. */
export const OTHER_FORMS: Readonly<Partial<Record<NoteCode, string>>> = {
  'smoothing-renumbered':
    'The edges stay hard and soft as they are; the groups’ own numbers are not in the file.',
  renumbered: 'What goes by the vertices’ numbers, such as shapes made elsewhere, does not fit the file.',
  'uv-set-renamed': 'The tool knows the set by its other name; Kelbo pairs them again on return.',
  'surfaces-reworded': 'A tool that knows the one wording only has to be told the other.',
  'surfaces-partly': 'What only the master’s format has a name for stays in the master.',
  'placed-otherwise': 'The part stands where it stood; its own numbers for place and size are others.',
  'pivots-changed': 'The part stands where it stood; it turns about another point.',
  'transforms-baked': 'The part stands where it stood; the tool can’t tell its place from its points.',
  'polygons-cut': 'The tool gets triangles; the polygons are put together again from the master.',
  'points-split': 'The tool sees a border where the points were split; they are joined again on return.',
  renamed: 'The part goes under a name that the tool takes; Kelbo knows it again on return.',
  'size-changed': 'Kelbo offers to bring it back to its size when it comes home.',
  'turned-whole': 'Kelbo offers to turn it back when it comes home.',
  'unit-unknown': 'The unit it is meant in is kept for the return.',
  'scene-respaced': 'A tool that reads the numbers alone sees it otherwise.',
}

/** Traits of a part as a whole, which come back whatever became of its polygons. */
const OF_THE_PART: ReadonlySet<Trait> = new Set(['transforms', 'names', 'surfaces', 'scene'])

export type FateDestination = Pick<Destination, 'purpose'> & Partial<Pick<Destination, 'neverTravels'>>

export interface CellOfTrait {
  readonly state: TraitState
  readonly empty: boolean
  readonly note: string
}

/**
 * What Kelbo can put back rests on knowing each polygon again: it can't for what lies on polygons where the
 * destination is there to make others.
 */
export function fateOf(trait: Trait, cell: CellOfTrait, destination: FateDestination): Fate {
  if (cell.empty) return 'carried'
  if (!destination.neverTravels?.includes(trait)) {
    if (isOtherForm(cell)) return 'otherwise'
    // what the file has beyond the version is no loss
    if (cell.state === 'same' || cell.state === 'within' || cell.state === 'gained') return 'carried'
  }
  return destination.purpose.includes('topology') && !OF_THE_PART.has(trait) ? 'lost' : 'kept'
}

/** The file has it and the tool has no room for it. */
export const isRefused = (trait: Trait, cell: CellOfTrait, destination: FateDestination): boolean =>
  !cell.empty &&
  cell.state !== 'incomparable' &&
  (destination.neverTravels?.includes(trait) ?? false) &&
  (cell.state === 'same' || cell.state === 'within' || isOtherForm(cell))

const isOtherForm = (cell: CellOfTrait): boolean => OTHER_FORMS[cell.note as NoteCode] !== undefined

/** What another form costs; null for a change that is none. */
export const costOf = (note: string): string | null => OTHER_FORMS[note as NoteCode] ?? null
