<script setup lang="ts">
import { computed, ref } from 'vue'
import type { MaterialSheetDocument, SheetRowDocument } from '../../../contract/surfaces.ts'
import type { RemapRule } from '../../../core/surfaces/remap/rules.ts'
import { fileNameOf } from '../../../core/image/map-sets/path-names.ts'
import { encodeSrgb } from '../../../core/image/transfer.ts'
import FateMark from './FateMark.vue'

/** One material in the target's slots, in wiring order: what is there, what it becomes, where it comes from. */
const props = defineProps<{
  sheet: MaterialSheetDocument
  /** Names of all maps that lie here. */
  files: readonly string[]
  isRuled: (material: string, parameter: string) => boolean
}>()
const emit = defineEmits<{
  change: [parameter: string, change: Omit<RemapRule, 'material' | 'parameter'> | null]
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

/** The file that a row's map was found as, tiles under the name of the first; empty for none of those that lie here. */
function sourceOf({ source }: SheetRowDocument): string {
  if (!source) return ''
  const [before, after] = source.file.split(/<(?:UDIM|UVTILE)>/)
  return (
    props.files.find((file) =>
      after === undefined ? file === before : file.startsWith(before!) && file.endsWith(after),
    ) ?? ''
  )
}

function setNumber(row: SheetRowDocument, at: number, text: string): void {
  const value = Number(text)
  if (text.trim() === '' || !Number.isFinite(value)) return
  emit('change', row.parameter, {
    value: Array.isArray(row.value) ? row.value.map((one, index) => (index === at ? value : one)) : value,
  })
}
function setMap(row: SheetRowDocument, file: string): void {
  emit('change', row.parameter, { map: file === '' ? null : { file } })
}
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
        <tr :class="{ open: open === row.parameter, quiet: !isSaid(row) }">
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
              <span :title="row.map">{{ fileNameOf(row.map) }}</span>
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
            <div v-else class="edit">
              <label v-for="(one, at) in numbers(row)" :key="at">
                {{ numbers(row).length === 3 ? ['red', 'green', 'blue'][at] : 'value' }}
                <input
                  type="number"
                  step="0.01"
                  :value="one"
                  @change="setNumber(row, at, ($event.target as HTMLInputElement).value)"
                />
              </label>
              <label v-if="row.slot" class="wide">
                map
                <select
                  :value="sourceOf(row)"
                  @change="setMap(row, ($event.target as HTMLSelectElement).value)"
                >
                  <option value="">none</option>
                  <option v-for="file in files" :key="file" :value="file">{{ file }}</option>
                </select>
              </label>
              <el-button
                v-if="isRuled(sheet.material, row.parameter)"
                link
                type="primary"
                size="small"
                @click="emit('change', row.parameter, null)"
                >As it was found</el-button
              >
            </div>
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
.edit {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: end;
}
.edit label {
  display: grid;
  font-size: 11.5px;
  color: var(--ink-soft);
}
.edit input,
.edit select {
  font: inherit;
  font-size: 13px;
  color: var(--ink);
  background: var(--paper-raised);
  border: 1px solid var(--hairline);
  border-radius: 3px;
  padding: 3px 6px;
  width: 78px;
}
.edit .wide select {
  width: 250px;
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
