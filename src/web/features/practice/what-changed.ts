import type { LedgerDocument } from '../../../contract/ledger.ts'
import type { Trait } from '../../../core/compare/traits/registry.ts'
import { STATE_WORDS, type TraitState } from '../../../core/compare/traits/trait.ts'

/** States in which something is another than it was, the heaviest first. */
const TOLD: readonly TraitState[] = ['lost', 'changed', 'guess', 'gained']

export interface Change {
  readonly state: TraitState
  /** The state's word. */
  readonly word: string
  readonly traits: readonly { readonly trait: Trait; readonly partCount: number }[]
}

/** What became of a model on a trip, as the ledger measured it: traits by states, with on how many parts. */
export function whatChanged({ rows }: LedgerDocument): Change[] {
  return TOLD.flatMap((state) => {
    const parts = new Map<Trait, number>()
    for (const { cells } of rows)
      for (const [trait, cell] of Object.entries(cells))
        if (cell.state === state) parts.set(trait as Trait, (parts.get(trait as Trait) ?? 0) + 1)
    return parts.size
      ? [
          {
            state,
            word: STATE_WORDS[state],
            traits: [...parts].map(([trait, partCount]) => ({ trait, partCount })),
          },
        ]
      : []
  })
}
