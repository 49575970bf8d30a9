/** Ledgers as the command line prints them. */
import { isTaken, type Ledger } from '../core/compare/ledger.ts'
import { noteText } from '../core/compare/traits/registry.ts'
import type { TraitComparison } from '../core/compare/traits/trait.ts'

const cellDocument = (cell: TraitComparison) => ({
  state: cell.state,
  empty: cell.empty,
  deviation: cell.deviation,
  changed: cell.changedCount,
  total: cell.totalCount,
  note: noteText(cell.note, cell.parameters),
  places: cell.places && {
    element: cell.places.element,
    master: cell.places.master.length,
    returned: cell.places.returned.length,
  },
})

export const ledgerDocument = (ledger: Ledger) => ({
  parts: ledger.rows.map((row) => ({
    name: row.name,
    matchedBy: row.match.by,
    correspondence: row.correspondenceKind,
    traits: Object.fromEntries(Object.entries(row.cells).map(([trait, cell]) => [trait, cellDocument(cell)])),
  })),
  scene: cellDocument(ledger.scene),
  whole: ledger.whole,
})

export const hasDifferences = (ledger: Ledger): boolean =>
  isTaken(ledger.scene) || ledger.rows.some((row) => Object.values(row.cells).some(isTaken))

export function ledgerText(ledger: Ledger): string {
  const lines: string[] = []
  for (const row of ledger.rows) {
    const cells = Object.entries(row.cells).filter(([, cell]) => isTaken(cell))
    lines.push(`${row.name}: ${cells.length ? '' : 'everything the same'}`)
    for (const [trait, cell] of cells)
      lines.push(`  ${trait.padEnd(11)} ${cell.state.padEnd(12)} ${noteText(cell.note, cell.parameters)}`)
  }
  if (isTaken(ledger.scene)) lines.push(`scene: ${noteText(ledger.scene.note, ledger.scene.parameters)}`)
  return lines.join('\n')
}
