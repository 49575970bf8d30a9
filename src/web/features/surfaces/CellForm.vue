<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { SheetRowDocument } from '../../../contract/surfaces.ts'
import type { RuleScope } from './use-remap.ts'
import type { MapRule, RemapRule } from '../../../core/surfaces/remap/rules.ts'

/** One parameter by hand: its value, its map, what of the map and how much of it; for this material or for all. */
const props = defineProps<{
  row: SheetRowDocument
  /** Paths of all maps that lie here. */
  files: readonly string[]
  isRuled: boolean
  /** How many materials are chosen in the list. */
  chosenCount: number
}>()
const emit = defineEmits<{
  change: [change: Omit<RemapRule, 'material' | 'parameter'> | null, scope: RuleScope]
}>()
const wish = ref<RuleScope | null>(null)
// who chooses others means those
watch(
  () => props.chosenCount,
  () => (wish.value = null),
)
const scope = computed(() => wish.value ?? (props.chosenCount > 1 ? 'chosen' : 'one'))
const set = (change: Omit<RemapRule, 'material' | 'parameter'>): void => emit('change', change, scope.value)

/** What is drawn into the pixels stands for the value. */
const shownValue = computed(() => props.row.drawnTimes ?? props.row.drawnOver ?? props.row.value)
const numbers = computed((): readonly number[] =>
  Array.isArray(shownValue.value)
    ? shownValue.value
    : typeof shownValue.value === 'number'
      ? [shownValue.value]
      : [],
)
function setNumber(at: number, text: string): void {
  const number = Number(text)
  if (text.trim() === '' || !Number.isFinite(number)) return
  set({
    value: Array.isArray(shownValue.value)
      ? shownValue.value.map((one, index) => (index === at ? number : one))
      : number,
  })
}

/** The file that the map was found as, tiles under the name of the first of them that lies here. */
const file = computed((): string => {
  const { source } = props.row
  if (!source || !props.row.map) return ''
  const [before, after] = source.file.split(/<(?:UDIM|UVTILE)>/)
  return (
    props.files.find((one) =>
      after === undefined ? one === before : one.startsWith(before!) && one.endsWith(after),
    ) ?? source.file
  )
})
/** What it has goes on being offered where it came with the model. */
const choices = computed(() =>
  file.value && !props.files.includes(file.value) ? [file.value, ...props.files] : props.files,
)
/** Whether the value counts beside the map, of itself or by a rule. */
const isTimes = computed(() => props.row.times === true || (props.row.drawnTimes ?? null) !== null)
const mapNow = computed((): MapRule => ({
  file: file.value,
  channel: (props.row.source?.channel ?? 'rgb') as 'rgb',
  inverted: props.row.source?.inverted ?? false,
  amount: props.row.amount,
  ...(isTimes.value ? { times: true } : {}),
}))
const setMap = (change: Partial<MapRule>): void => set({ map: { ...mapNow.value, ...change } })
function setFile(chosen: string): void {
  set({ map: chosen === '' ? null : { file: chosen } })
}
function setShare(text: string): void {
  const share = Number(text)
  if (text.trim() !== '' && share >= 0 && share <= 100) setMap({ amount: share / 100 })
}
const CHANNELS = [
  ['rgb', 'all'],
  ['r', 'red'],
  ['g', 'green'],
  ['b', 'blue'],
  ['a', 'opacity'],
] as const
const textOf = (event: Event): string => (event.target as HTMLInputElement | HTMLSelectElement).value
</script>

<template>
  <div class="edit">
    <label v-for="(one, at) in numbers" :key="at">
      {{ numbers.length === 3 ? ['red', 'green', 'blue'][at] : 'value' }}
      <input type="number" step="0.01" :value="one" @change="setNumber(at, textOf($event))" />
    </label>
    <template v-if="row.slot">
      <label class="wide">
        map
        <select :value="file" @change="setFile(textOf($event))">
          <option value="">none</option>
          <option v-for="choice in choices" :key="choice" :value="choice">{{ choice }}</option>
        </select>
      </label>
      <template v-if="row.map && file">
        <label>
          of it
          <select :value="mapNow.channel" @change="setMap({ channel: textOf($event) as 'rgb' })">
            <option v-for="[value, word] in CHANNELS" :key="value" :value="value">{{ word }}</option>
          </select>
        </label>
        <label>
          share, %
          <input
            type="number"
            min="0"
            max="100"
            step="5"
            :value="Math.round(row.amount * 100)"
            @change="setShare(textOf($event))"
          />
        </label>
        <label class="tick">
          <input
            type="checkbox"
            :checked="mapNow.inverted"
            @change="setMap({ inverted: ($event.target as HTMLInputElement).checked })"
          />
          turned round
        </label>
        <label class="tick">
          <input
            type="checkbox"
            :checked="isTimes"
            @change="setMap({ times: ($event.target as HTMLInputElement).checked })"
          />
          times the value
        </label>
      </template>
    </template>
    <label>
      for
      <select
        aria-label="Materials that it is for"
        :value="scope"
        @change="wish = textOf($event) as RuleScope"
      >
        <option value="one">this material</option>
        <option v-if="chosenCount > 1" value="chosen">the {{ chosenCount }} chosen</option>
        <option value="all">all materials</option>
      </select>
    </label>
    <el-button v-if="isRuled" link type="primary" size="small" @click="emit('change', null, scope)"
      >As it was found</el-button
    >
  </div>
</template>

<style scoped>
.edit {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: end;
}
label {
  display: grid;
  gap: 2px;
  font-size: 12px;
  color: var(--ink-soft);
}
.tick {
  display: flex;
  gap: 5px;
  align-items: center;
  padding-bottom: 3px;
}
input[type='number'] {
  width: 76px;
}
input[type='number'],
select {
  font: inherit;
  font-size: 13px;
  color: var(--ink);
  background: var(--paper);
  border: 1px solid var(--hairline);
  border-radius: 3px;
  padding: 2px 5px;
}
.wide select {
  max-width: 250px;
}
</style>
