import type { LedgerCellDocument, LedgerDocument } from '../../contract/ledger.ts'
import type { Ledger } from '../../core/compare/ledger.ts'
import type { Trait } from '../../core/compare/traits/registry.ts'
import type { TraitComparison } from '../../core/compare/traits/trait.ts'
import { putBlob } from '../db/blob-store.ts'
import type { Tx } from '../db/database.ts'

/** Stores the places of a ledger as content and gives its document, which names them by hash. */
export async function storeLedger(
  tx: Tx,
  ledger: Ledger,
): Promise<{ document: LedgerDocument; hashes: string[] }> {
  const hashes: string[] = []
  const store = async (elements: Uint32Array): Promise<string | null> => {
    if (elements.length === 0) return null
    const hash = await putBlob(tx, new Uint8Array(elements.buffer, elements.byteOffset, elements.byteLength))
    hashes.push(hash)
    return hash
  }
  const cell = async (comparison: TraitComparison): Promise<LedgerCellDocument> => ({
    ...comparison,
    parameters: { ...comparison.parameters },
    places: comparison.places && {
      element: comparison.places.element,
      master: await store(comparison.places.master),
      returned: await store(comparison.places.returned),
    },
  })
  const rows: LedgerDocument['rows'] = []
  for (const row of ledger.rows) {
    const cells: Partial<Record<Trait, LedgerCellDocument>> = {}
    for (const [trait, comparison] of Object.entries(row.cells))
      cells[trait as Trait] = await cell(comparison)
    rows.push({
      name: row.name,
      masterNode: row.match.masterNode,
      returnedNode: row.match.returnedNode,
      matchedBy: row.match.by,
      correspondence: row.correspondenceKind,
      faceCount: row.faceCount,
      cells,
    })
  }
  return { document: { rows, scene: await cell(ledger.scene), whole: ledger.whole }, hashes }
}
