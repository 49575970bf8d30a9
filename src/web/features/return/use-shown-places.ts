import { ref, shallowRef } from 'vue'
import type { LedgerCellDocument, LedgerDocument, LedgerRowDocument } from '../../../contract/ledger.ts'
import type { Trait } from '../../../core/compare/traits/registry.ts'
import { api } from '../../api.ts'
import type { HighlightItem } from '../../viewport/viewer-messages.ts'

/** More parts than these are not coloured at once. */
const MOST_COLOURED = 300

/** Points moved by so much, or surfaces of other polygons lie so far apart. */
export type FieldKind = 'moved' | 'surface'
const kindOf = ({ note }: LedgerCellDocument): FieldKind => (note === 'points-surface' ? 'surface' : 'moved')

/** What of a ledger is shown in the views: the places of one cell, or how far the points of all parts moved. */
export function useShownPlaces(ledger: () => LedgerDocument | null, failed: (error: unknown) => void) {
  const selected = ref<number | null>(null)
  const shownCell = ref<{ row: number; trait: Trait } | null>(null)
  const highlights = shallowRef<HighlightItem[]>([])
  /** How far points moved, where that is shown: the farthest of all, and each that moved. */
  const field = shallowRef<{ kind: FieldKind; most: number; unit: string; values: Float64Array } | null>(null)
  /** Counts what is asked to be shown: an answer that comes too late is of none. */
  let ticket = 0

  /** Colours every part by how far its points moved, all on one scale. */
  async function showField(mine: number, kind: FieldKind): Promise<void> {
    const rows = ledger()!.rows.flatMap((row) => {
      const cell = row.cells.points
      return cell?.places?.field && kindOf(cell) === kind ? [{ row, cell, hashes: cell.places.field }] : []
    })
    const shown = rows.length > MOST_COLOURED ? rows.slice(0, MOST_COLOURED) : rows
    const most = Math.max(
      ...rows.map(({ cell }) => cell.deviation ?? 0).filter((far) => far < Number.MAX_VALUE),
      0,
    )
    const parts = await Promise.all(
      shown.map(async ({ row, hashes }) => ({
        row,
        master: await api.field(hashes.master),
        returned: await api.field(hashes.returned),
      })),
    )
    if (mine !== ticket) return
    highlights.value = parts.flatMap(({ row, master, returned }): HighlightItem[] => [
      {
        slot: 'master',
        node: row.masterNode,
        element: 'faces',
        elements: new Uint32Array(0),
        field: { values: master, most },
      },
      {
        slot: 'returned',
        node: row.returnedNode,
        element: 'faces',
        elements: new Uint32Array(0),
        field: { values: returned, most },
      },
    ])
    const unit = String(rows[0]?.cell.parameters.unit ?? '')
    const values = Float64Array.from(
      parts.flatMap(({ master }) => [...master].filter((value) => value > 0 && Number.isFinite(value))),
    )
    field.value = { kind, most, unit, values }
  }

  async function show(row: LedgerRowDocument, trait: Trait, cell: LedgerCellDocument): Promise<void> {
    const mine = ++ticket
    const index = ledger()!.rows.indexOf(row)
    shownCell.value = { row: index, trait }
    if (row.masterNode >= 0) selected.value = row.masterNode
    highlights.value = []
    field.value = null
    if (!cell.places) return
    try {
      if (cell.places.field) return await showField(mine, kindOf(cell))
      const items: HighlightItem[] = []
      const { element, master, returned } = cell.places
      if (master && row.masterNode >= 0)
        items.push({ slot: 'master', node: row.masterNode, element, elements: await api.elements(master) })
      if (returned && row.returnedNode >= 0)
        items.push({
          slot: 'returned',
          node: row.returnedNode,
          element,
          elements: await api.elements(returned),
        })
      if (mine === ticket) highlights.value = items
    } catch (error) {
      failed(error)
    }
  }
  function select(node: number | null): void {
    selected.value = node
    if (shownCell.value && ledger()?.rows[shownCell.value.row]?.masterNode !== node) {
      shownCell.value = null
      highlights.value = []
      field.value = null
    }
  }

  function forget(): void {
    ticket++
    shownCell.value = null
    highlights.value = []
    field.value = null
  }
  return { selected, shownCell, highlights, field, show, select, forget }
}
