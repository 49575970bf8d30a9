import type { Correspondence } from './match/correspondence.ts'
import { type PartMatch } from './match/match-parts.ts'
import { type Trait } from './traits/registry.ts'
import { type TraitComparison, type TraitState } from './traits/trait.ts'
import { type WholeTold, type WholeUndo } from './whole/whole-change.ts'

/** One row of a ledger: a part, and what became of each trait. */
export interface LedgerRow {
  readonly name: string
  readonly match: PartMatch
  readonly correspondenceKind: Correspondence['kind']
  readonly faceCount: number
  readonly cells: Readonly<Partial<Record<Trait, TraitComparison>>>
}

export interface Ledger {
  readonly rows: readonly LedgerRow[]
  /** Unit, axes, cameras, lights: compared once for the whole file. */
  readonly scene: TraitComparison
  /** What all parts came back with; `undo` where it is undone from here. */
  readonly whole: (WholeTold & { readonly undo?: WholeUndo }) | null
  /** What was done to the layout of UVs of all of it, as the rest of a sentence; null where nothing was. */
  readonly layout: { readonly text: string } | null
  /** What all parts came back with and was undone before they were compared. */
  readonly undone?: WholeTold | null
  readonly layoutUndone?: { readonly text: string } | null
}

/** The ledger of some of the master's parts, and of what is new: of others, that never left, there is nothing to say. */
export const rowsOf = (ledger: Ledger, nodes: ReadonlySet<number>): Ledger => ({
  ...ledger,
  rows: ledger.rows.filter(
    ({ match }) => match.masterNode < 0 || match.returnedNode >= 0 || nodes.has(match.masterNode),
  ),
})

const NOTHING_TO_TAKE: readonly TraitState[] = ['same', 'within', 'without']

/** Whether there is something to take: what has a counterpart is neither the same nor the same within tolerance. */
export const isTaken = (cell: { readonly state: TraitState }): boolean =>
  !NOTHING_TO_TAKE.includes(cell.state)
