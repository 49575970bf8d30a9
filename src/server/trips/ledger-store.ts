/** Ledgers on their way to the store: a document, and the places it names as content. */
import type { LedgerCellDocument, LedgerDocument } from '../../contract/ledger.ts'
import type { Ledger } from '../../core/compare/ledger.ts'
import type { Trait } from '../../core/compare/traits/registry.ts'
import type { WholeTold } from '../../core/compare/whole/whole-change.ts'
import type { TraitComparison } from '../../core/compare/traits/trait.ts'
import { bytesOf, hashOf } from '../content/pack-content.ts'
import { prepareArrays, type PreparedArrays } from '../content/scene-store.ts'
import type { Db } from '../db/connection.ts'

export interface PreparedLedger {
  readonly document: LedgerDocument
  /** Null where the ledger names no places. */
  readonly arrays: PreparedArrays | null
}

const bitsOf = (field: Float32Array): Uint32Array =>
  new Uint32Array(field.buffer, field.byteOffset, field.length)

/** The ledger's document, which names its places by hash, and the places made ready for the store. */
export async function prepareLedger(db: Db, ledger: Ledger): Promise<PreparedLedger> {
  const arrays = new Map<string, Uint32Array>()
  const named = (elements: Uint32Array): string | null => {
    if (elements.length === 0) return null
    const hash = hashOf(bytesOf(elements))
    arrays.set(hash, elements)
    return hash
  }
  const cell = (comparison: TraitComparison): LedgerCellDocument => ({
    ...comparison,
    parameters: { ...comparison.parameters },
    places: comparison.places && {
      element: comparison.places.element,
      master: named(comparison.places.master),
      returned: named(comparison.places.returned),
      field: comparison.places.field
        ? {
            master: named(bitsOf(comparison.places.field.master))!,
            returned: named(bitsOf(comparison.places.field.returned))!,
          }
        : null,
    },
  })
  const document: LedgerDocument = {
    rows: ledger.rows.map((row) => ({
      name: row.name,
      masterNode: row.match.masterNode,
      returnedNode: row.match.returnedNode,
      matchedBy: row.match.by,
      correspondence: row.correspondenceKind,
      faceCount: row.faceCount,
      cells: Object.fromEntries(
        Object.entries(row.cells).map(([trait, comparison]) => [trait, cell(comparison)]),
      ) as Partial<Record<Trait, LedgerCellDocument>>,
    })),
    scene: cell(ledger.scene),
    whole: told(ledger.whole),
    layout: ledger.layout,
    undone: told(ledger.undone ?? null),
    layoutUndone: ledger.layoutUndone ?? null,
  }
  return { document, arrays: arrays.size ? await prepareArrays(db, [...arrays.values()]) : null }
}

const told = (whole: WholeTold | null): LedgerDocument['whole'] =>
  whole && { factor: whole.factor, turn: whole.turn, mirror: whole.mirror, move: whole.move, by: whole.by }

/** The ledger without its places: of a forecast that is looked at and forgotten. */
export const withoutPlaces = (ledger: Ledger): Ledger => {
  const bare = (comparison: TraitComparison): TraitComparison => ({ ...comparison, places: null })
  return {
    ...ledger,
    scene: bare(ledger.scene),
    rows: ledger.rows.map((row) => ({
      ...row,
      cells: Object.fromEntries(
        Object.entries(row.cells).map(([trait, comparison]) => [trait, bare(comparison)]),
      ),
    })),
  }
}
