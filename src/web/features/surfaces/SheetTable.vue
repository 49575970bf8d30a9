<script setup lang="ts">
import { computed, ref } from 'vue'
import type { MaterialSheetDocument, SheetRowDocument } from '../../../contract/surfaces.ts'
import type { RemapRule } from '../../../core/surfaces/remap/rules.ts'
import { fileNameOf } from '../../../core/image/map-sets/path-names.ts'
import { encodeSrgb } from '../../../core/image/transfer.ts'
import type { RuleScope } from './use-remap.ts'
import CellForm from './CellForm.vue'
import FateMark from './FateMark.vue'

/** One material in the target's slots, in wiring order: what is there, what it becomes, where it comes from. */
const props = defineProps<{
  sheet: MaterialSheetDocument
  /** Names of all maps that lie here. */
  files: readonly string[]
  isRuled: (material: string, parameter: string) => boolean
  /** How many materials are chosen in the list. */
  chosenCount: number
}>()
const emit = defineEmits<{
  change: [parameter: string, change: Omit<RemapRule, 'material' | 'parameter'> | null, scope: RuleScope]
  drop: [parameter: string, file: File]
}>()

const all = ref(false)
const isSaid = (row: SheetRowDocument): boolean => row.from !== 'standard' || row.map !== null
const rows = computed(() => (all.value ? props.sheet.parameters : props.sheet.parameters.filter(isSaid)))
const silent = computed(() => props.sheet.parameters.filter((row) => !isSaid(row)).length)
const open = ref<string | null>(null)

const FROM = {
  material: 'the material',
  folder: 'the folder',
  rule: 'by hand',
  standard: 'standard',
} as const
const numbers = (row: SheetRowDocument): readonly number[] =>
  Array.isArray(row.value) ? row.value : typeof row.value === 'number' ? [row.value] : []
const short = (value: number): string => String(Number(value.toPrecision(4)))
const valueText = (row: SheetRowDocument): string =>
  row.value === null
    ? ''
    : numbers(row).length
      ? numbers(row).map(short).join('  ')
      : row.value === true
        ? 'yes'
        : row.value === false
          ? 'no'
          : String(row.value)
/** A linear colour as a screen shows it. */
const encode = (value: number): number => Math.round(255 * encodeSrgb(Math.min(1, Math.max(0, value))))
const swatch = (row: SheetRowDocument): string | null =>
  numbers(row).length === 3 ? `rgb(${numbers(row).map(encode).join(' ')})` : null
/** Its value is one: the map says all. */
const isMapAlone = (row: SheetRowDocument): boolean =>
  row.map !== null && numbers(row).every((one) => one === 1)
const mapText = (row: SheetRowDocument): string =>
  [
    row.channel && row.channel !== 'rgb' ? row.channel.toUpperCase() : '',
    row.colorSpace === 'sRGB' ? 'sRGB' : 'plain',
    row.amount === 1 ? '' : `${Math.round(row.amount * 100)} %`,
    row.direction ? `green ${row.direction}` : '',
  ]
    .filter(Boolean)
    .join(', ')

/** An image on a row is for that parameter, whatever its name says. */
function onDrop(row: SheetRowDocument, event: DragEvent): void {
  over.value = null
  const [file] = event.dataTransfer?.files ?? []
  if (!file || row.slot === null || props.sheet.drawnFrom) return
  emit('drop', row.parameter, file)
}
const over = ref<string | null>(null)
</script>

<template>
  <table class="sheet">
    <thead>
      <tr>
        <th>Parameter</th>
        <th>Value</th>
        <th>Map</th>
        <th>From</th>
        <th>Carried</th>
      </tr>
    </thead>
    <tbody>
      <template v-for="row in rows" :key="row.parameter">
        <tr
          :class="{ open: open === row.parameter, quiet: !isSaid(row), over: over === row.parameter }"
          @dragover="over = row.slot && !sheet.drawnFrom ? row.parameter : null"
          @dragleave="over = null"
          :data-takes-drop="(row.slot && !sheet.drawnFrom) || undefined"
          @drop="onDrop(row, $event)"
        >
          <th scope="row">
            <button
              type="button"
              :aria-expanded="open === row.parameter"
              @click="open = open === row.parameter ? null : row.parameter"
            >
              {{ row.parameter }}
            </button>
          </th>
          <td class="value">
            <span v-if="isMapAlone(row)" class="soft">the map alone</span>
            <template v-else>
              <i v-if="swatch(row)" class="swatch" :style="{ background: swatch(row)! }" />
              {{ valueText(row) }}
              <span v-if="row.unit" class="soft">{{ row.unit }}</span>
            </template>
          </td>
          <td class="map">
            <template v-if="row.map">
              <span :title="row.map"
                ><template v-for="(piece, at) in fileNameOf(row.map).split(/(?=[_.-])/)" :key="at"
                  ><wbr />{{ piece }}</template
                ></span
              >
              <small class="soft">{{ mapText(row) }}</small>
            </template>
          </td>
          <td class="soft">{{ FROM[row.from] }}</td>
          <td><FateMark :how="row.how" /></td>
        </tr>
        <tr v-if="open === row.parameter" class="detail">
          <td colspan="5">
            <p v-if="row.note" class="note">{{ row.note }}</p>
            <p v-if="sheet.drawnFrom" class="note soft">
              Its materials decide: they can be changed while each has its own maps.
            </p>
            <CellForm
              v-else
              :key="sheet.material"
              :row="row"
              :files="files"
              :is-ruled="isRuled(sheet.material, row.parameter)"
              :chosen-count="chosenCount"
              @change="(change, scope) => emit('change', row.parameter, change, scope)"
            />
          </td>
        </tr>
      </template>
    </tbody>
  </table>
  <el-button v-if="silent" link type="primary" size="small" class="more" @click="all = !all">
    {{ all ? 'Only what was said' : `${silent} more at their standard` }}
  </el-button>
  <p class="legend soft">
    <span><FateMark how="exact" /> exact</span>
    <span><FateMark how="approximate" /> nearly: the row says why</span>
  </p>
  <div v-if="sheet.lost.length" class="lost">
    <h3>Without a place</h3>
    <ul>
      <li v-for="{ what, note } in sheet.lost" :key="what">
        <b>{{ what }}</b> <span class="soft">{{ note }}</span>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.sheet th,
.sheet td {
  padding: 5px 10px 5px 0;
  border-bottom: 1px solid var(--hairline);
  vertical-align: baseline;
  text-align: left;
}
.sheet thead th {
  position: sticky;
  top: -14px;
  background: var(--paper);
  z-index: 1;
  font-size: 12px;
}
tbody th button {
  border: 0;
  background: none;
  padding: 0;
  font: inherit;
  font-weight: 500;
  color: var(--ink);
  cursor: pointer;
  text-align: left;
}
tbody th button:hover {
  color: var(--accent);
}
tr.open > * {
  border-bottom-color: transparent;
}
tr.quiet > * {
  color: var(--ink-soft);
}
.value {
  white-space: nowrap;
}
.swatch {
  display: inline-block;
  width: 26px;
  height: 13px;
  margin-right: 8px;
  border: 1px solid var(--hairline);
  vertical-align: -2px;
}
.map span {
  overflow-wrap: anywhere;
}
.map small {
  display: block;
  font-size: 11.5px;
}
.detail td {
  padding: 0 0 10px;
}
.note {
  margin: 0 0 8px;
  color: var(--changed);
}
.over > * {
  background: var(--accent-wash);
}
.legend {
  display: flex;
  gap: 18px;
  margin: 10px 0 0;
  font-size: 12px;
}
.legend span {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.more {
  margin: 8px 0;
}
.lost {
  margin-top: 10px;
}
.lost ul {
  margin: 4px 0 0;
  padding: 0 0 0 16px;
}
</style>
