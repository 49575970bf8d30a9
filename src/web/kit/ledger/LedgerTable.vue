<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import type { LedgerCellDocument, LedgerDocument, LedgerRowDocument } from '../../../contract/ledger.ts'
import { FATES, FATE_WORDS, fateOf, type FateDestination } from '../../../core/trips/fate.ts'
import { forecastText } from '../../../core/trips/forecast-text.ts'
import type { Trait } from '../../../core/compare/traits/registry.ts'
import { isTaken } from '../../../core/compare/ledger.ts'
import { STATE_WORDS, STATES } from '../../../core/compare/traits/trait.ts'
import { useDescriptors } from '../../stores/descriptors.ts'
import { formatChange } from '../format.ts'
import { useListFocus } from '../use-list-focus.ts'
import { useLongList } from '../use-long-list.ts'
import CellMark from './CellMark.vue'
import FateMark from './FateMark.vue'
import StateMark from './StateMark.vue'
import { shownName } from '../../../core/base/messages/names-text.ts'

/** The ledger: parts down, traits across, a mark in each cell and a sentence for the one under the cursor. */
const props = defineProps<{
  ledger: LedgerDocument
  selectedNode: number | null
  /** Traits ticked for taking; without it the ledger is only read. */
  take?: readonly Trait[]
  /** Traits that the hop was for, marked in the heading. */
  purpose?: readonly Trait[]
  shownCell?: { row: number; trait: Trait } | null
  /** The ledger is a forecast for it: cells say what becomes of a trait on the way out. */
  destination?: FateDestination | null
}>()
const emit = defineEmits<{
  'update:take': [traits: Trait[]]
  show: [row: LedgerRowDocument, trait: Trait, cell: LedgerCellDocument]
  select: [node: number]
  /** A part that did not come back and one that is new are one: the name of either was drawn onto the other's. */
  pair: [lost: LedgerRowDocument, gained: LedgerRowDocument]
}>()
/** The row whose name is being drawn. */
const drawn = shallowRef<LedgerRowDocument | null>(null)
function startDrawing(event: DragEvent, row: LedgerRowDocument): void {
  // some browsers begin no drag that carries nothing
  event.dataTransfer?.setData('text/plain', row.name)
  drawn.value = row
}
const isLost = (row: LedgerRowDocument): boolean => row.returnedNode < 0
const isGained = (row: LedgerRowDocument): boolean => row.masterNode < 0
const canBeDrawn = (row: LedgerRowDocument): boolean => Boolean(props.take) && (isLost(row) || isGained(row))
/** Of two rows one has to be lost and the other gained. */
const fitsDrawn = (row: LedgerRowDocument): boolean =>
  drawn.value !== null && ((isLost(drawn.value) && isGained(row)) || (isGained(drawn.value) && isLost(row)))
function dropOn(row: LedgerRowDocument): void {
  const from = drawn.value
  drawn.value = null
  if (from)
    emit('pair', ...((isLost(from) ? [from, row] : [row, from]) as [LedgerRowDocument, LedgerRowDocument]))
}

const { all, kinds, traitLabel, noteText } = useDescriptors()
const COLUMNS = all()
  .traits.filter((entry) => entry.scope === 'part')
  .map((entry) => entry.id)
const hovered = ref<{ row: number; trait: Trait } | null>(null)
const focused = computed(() => hovered.value ?? props.shownCell ?? null)

const sentenceOf = (trait: Trait, cell: LedgerCellDocument): string =>
  props.destination
    ? forecastText(trait, cell, props.destination, kinds())
    : noteText(cell.note, cell.parameters)
const sentence = computed(() => {
  const at = focused.value
  const row = at && props.ledger.rows[at.row]
  const cell = row?.cells[at!.trait]
  if (!row || !cell) return null
  return { part: shownName(row.name), trait: at!.trait, cell, text: sentenceOf(at!.trait, cell) }
})

const isShown = computed(
  () => focused.value?.row === props.shownCell?.row && focused.value?.trait === props.shownCell?.trait,
)

/** Over all parts: the strongest thing that happened to a trait. */
const ORDER = ['lost', 'changed', 'guess', 'incomparable', 'gained', 'without', 'within', 'same'] as const
const summary = computed(() =>
  Object.fromEntries(
    COLUMNS.map((trait) => {
      const cells = props.ledger.rows.map((row) => row.cells[trait]).filter((cell) => cell !== undefined)
      const real = cells.filter((cell) => !cell.empty)
      const state = ORDER.find((candidate) => real.some((cell) => cell.state === candidate)) ?? 'same'
      const fates = real.map((cell) => fateOf(trait, cell, props.destination ?? { purpose: [] }, kinds()))
      const fate = [...FATES].reverse().find((candidate) => fates.includes(candidate)) ?? 'carried'
      return [trait, { state, fate, empty: real.length === 0 }]
    }),
  ),
)
const nodeOf = (row: LedgerRowDocument): number => row.masterNode
const toggle = (trait: Trait, on: boolean): void =>
  emit(
    'update:take',
    on ? [...(props.take ?? []), trait] : (props.take ?? []).filter((known) => known !== trait),
  )

const scroller = ref<HTMLElement>()
const ROW_HEIGHT = 28
const HEADING_AND_FOOT = 190
const { shown, above, below, bring } = useLongList(
  scroller,
  () => props.ledger.rows.length,
  ROW_HEIGHT,
  HEADING_AND_FOOT,
)
const { focusIn } = useListFocus(scroller, { shown, bring })
/** The cell that the keyboard was last moved to: presses that come in before it is drawn go on from there. */
let reached: readonly [row: number, column: number] | null = null
const STEPS: Record<string, readonly [rows: number, columns: number]> = {
  ArrowRight: [0, 1],
  ArrowLeft: [0, -1],
  ArrowDown: [1, 0],
  ArrowUp: [-1, 0],
}
function moveFocus(event: KeyboardEvent): void {
  const step = STEPS[event.key]
  const place = (event.target as HTMLElement).closest<HTMLElement>('[data-cell]')?.dataset.cell
  const from = place ? place.split('-').map(Number) : event.target === scroller.value ? reached : null
  if (!step || !from) return
  event.preventDefault()
  let [row, column] = [from[0]! + step[0], from[1]! + step[1]]
  // a part has no cell where it and the other have nothing of a trait
  while (props.ledger.rows[row] && COLUMNS[column] && !props.ledger.rows[row].cells[COLUMNS[column]]) {
    row += step[0]
    column += step[1]
  }
  if (!props.ledger.rows[row] || !COLUMNS[column]) return
  reached = [row, column]
  focusIn(row, `[data-cell="${row}-${column}"]`)
}
watch(
  () => props.selectedNode,
  (node) => {
    const index = node === null ? -1 : props.ledger.rows.findIndex((row) => nodeOf(row) === node)
    if (index >= 0) bring(index)
  },
)
</script>

<template>
  <div class="ledger">
    <div ref="scroller" class="scroll" tabindex="-1" @keydown="moveFocus">
      <table :aria-rowcount="ledger.rows.length + 2">
        <thead>
          <tr>
            <th scope="col" class="corner">
              <span v-if="take" class="soft">Take from the return</span>
              <span v-else class="soft">{{ formatChange(ledger.rows.length, 'parts') }}</span>
            </th>
            <th v-for="trait in COLUMNS" :key="trait" scope="col" class="trait">
              <span class="turned" :class="{ purpose: purpose?.includes(trait) }">{{
                traitLabel(trait)
              }}</span>
              <el-checkbox
                v-if="take"
                :model-value="take.includes(trait)"
                :disabled="summary[trait]!.empty || !isTaken(summary[trait]!)"
                :aria-label="`Take ${trait} from the returned file`"
                @update:model-value="(on: unknown) => toggle(trait, Boolean(on))"
              />
              <FateMark v-else-if="destination" :fate="summary[trait]!.fate" :empty="summary[trait]!.empty" />
              <StateMark v-else :state="summary[trait]!.state" :empty="summary[trait]!.empty" />
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-if="above" :style="{ height: `${above}px` }"></tr>
          <tr
            v-for="{ row, index } in shown.flatMap((at) =>
              ledger.rows[at] ? [{ row: ledger.rows[at], index: at }] : [],
            )"
            :key="index"
            :aria-rowindex="index + 2"
            :class="{ selected: selectedNode !== null && nodeOf(row) === selectedNode }"
          >
            <th scope="row">
              <button
                class="plain name"
                :class="{ meets: fitsDrawn(row) }"
                :title="
                  canBeDrawn(row) ? `${shownName(row.name)}: draw it onto the part that it is` : row.name
                "
                :draggable="canBeDrawn(row)"
                @dragstart="startDrawing($event, row)"
                @dragend="drawn = null"
                @dragover="fitsDrawn(row) && $event.preventDefault()"
                @drop.stop.prevent="fitsDrawn(row) && dropOn(row)"
                @click="emit('select', nodeOf(row))"
              >
                {{ shownName(row.name) }}
              </button>
            </th>
            <td
              v-for="(trait, column) in COLUMNS"
              :key="trait"
              :class="{
                taken: take?.includes(trait) && row.cells[trait] && isTaken(row.cells[trait]!),
              }"
            >
              <button
                v-if="row.cells[trait]"
                class="plain cell"
                :class="{ shown: shownCell?.row === index && shownCell.trait === trait }"
                :data-cell="`${index}-${column}`"
                :aria-label="`${shownName(row.name)}, ${trait}: ${sentenceOf(trait, row.cells[trait]!)}`"
                @mouseenter="hovered = { row: index, trait }"
                @mouseleave="hovered = null"
                @focus="hovered = { row: index, trait }"
                @blur="hovered = null"
                @click="emit('show', row, trait, row.cells[trait]!)"
              >
                <CellMark :trait="trait" :cell="row.cells[trait]!" :destination="destination" />
              </button>
            </td>
          </tr>
          <tr v-if="below" :style="{ height: `${below}px` }"></tr>
        </tbody>
        <tfoot>
          <tr>
            <th scope="row">the scene</th>
            <td :colspan="COLUMNS.length" data-test="scene-row">
              <CellMark trait="scene" :cell="ledger.scene" :destination="destination" />
              {{ sentenceOf('scene', ledger.scene) }}
            </td>
          </tr>
        </tfoot>
      </table>
    </div>
    <p class="sentence" aria-live="polite">
      <template v-if="sentence">
        <CellMark :trait="sentence.trait" :cell="sentence.cell" :destination="destination" />
        <b>{{ sentence.part }}, {{ traitLabel(sentence.trait) }}:</b> {{ sentence.text }}
        <span v-if="sentence.cell.places && !destination && !isShown" class="soft"
          >Click the mark to see where.</span
        >
      </template>
      <template v-else-if="destination">
        <span v-for="fate in FATES" :key="fate" class="key"
          ><FateMark :fate="fate" /> {{ FATE_WORDS[fate] }}</span
        >
      </template>
      <template v-else>
        <span v-for="state in STATES" :key="state" class="key"
          ><StateMark :state="state" /> {{ STATE_WORDS[state] }}</span
        >
      </template>
    </p>
  </div>
</template>

<style scoped>
.name.meets {
  outline: 2px dashed var(--accent);
  outline-offset: -2px;
}
.ledger {
  display: flex;
  flex-direction: column;
  min-height: 0;
  height: 100%;
}
.scroll {
  overflow: auto;
  outline: none;
  flex: 1;
  min-height: 0;
}
table {
  table-layout: fixed;
}
thead th {
  position: sticky;
  top: 0;
  background: var(--paper);
  z-index: 1;
  border-bottom: 1px solid var(--ink);
}
.corner {
  width: 128px;
  vertical-align: bottom;
  padding: 0 8px 8px 16px;
}
.trait {
  height: 106px;
  vertical-align: bottom;
  text-align: center;
  padding: 0 0 4px;
}
.trait :deep(.el-checkbox) {
  height: 22px;
  margin: 0;
  display: flex;
  justify-content: center;
}
.turned {
  display: block;
  writing-mode: vertical-rl;
  transform: rotate(180deg);
  margin: 0 auto 4px;
  color: var(--ink);
  font-size: 12.5px;
  line-height: 1;
}
.turned.purpose {
  font-weight: 700;
  color: var(--accent);
}
tbody th {
  border-bottom: 1px solid var(--hairline);
  padding: 0 8px 0 16px;
  color: var(--ink);
}
.name {
  width: 100%;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  line-height: 27px;
}
td {
  border-bottom: 1px solid var(--hairline);
  text-align: center;
  padding: 0;
}
tfoot td {
  padding: 5px 8px;
  text-align: left;
  line-height: 1.35;
}
tfoot th {
  padding: 5px 8px 5px 16px;
  vertical-align: top;
  color: var(--ink-soft);
  border-bottom: 1px solid var(--hairline);
}
tfoot th,
tfoot td {
  position: sticky;
  bottom: 0;
  background: var(--paper);
  box-shadow: 0 -1px 0 var(--hairline);
}
tfoot svg {
  margin-right: 4px;
}
td.taken {
  background: var(--accent-wash);
}
tr.selected th,
tr.selected td {
  background: var(--paper-sunk);
}
tr.selected td.taken {
  background: var(--accent-wash);
}
.cell {
  width: 100%;
  height: 27px;
  text-align: center;
}
.cell:hover {
  background: var(--paper-sunk);
}
.cell.shown {
  outline: 2px solid var(--accent);
  outline-offset: -2px;
}
.sentence {
  margin: 0;
  min-height: 53px;
  padding: 7px 16px;
  border-top: 1px solid var(--ink);
  line-height: 1.45;
}
.sentence > svg {
  margin-right: 6px;
}
.key {
  margin-right: 14px;
  color: var(--ink-soft);
  white-space: nowrap;
}
</style>
