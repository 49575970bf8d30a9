<script setup lang="ts">
import { computed, ref } from 'vue'
import {
  applies,
  hasValue,
  presetOf,
  type OptionDescriptor,
  type OptionPlace,
  type OptionValue,
  type OptionValues,
  type ValueOption,
} from '../../../core/base/options/option.ts'
import ChoiceField from './ChoiceField.vue'
import OptionField from './OptionField.vue'
import { setBy, summaryOf } from './options.ts'

/**
 * The form of any list of options, from their descriptors alone: of reading and writing a format, of steps, of
 * stand-ins. What travels comes first as ticks; how it is done below; what is seldom asked for is folded away.
 */
const props = defineProps<{
  options: readonly OptionDescriptor[]
  /** A value for each option. */
  values: OptionValues
  /** How it is done is said in a line, and unfolded to be changed. */
  folded?: boolean
  /** What null stands for, where that is known. */
  own?: OptionValues
  /** Lines stand side by side, two a row. */
  two?: boolean
  /** Every option in the order in which it is described, none folded away. */
  plain?: boolean
  /** What measures in the file's own unit are measured in. */
  fileUnit?: string
}>()
const emit = defineEmits<{ set: [change: OptionValues] }>()

/** Presets whose options the artist sets one by one, though they may happen to be a usual choice. */
const ownPresets = ref<ReadonlySet<string>>(new Set())
const choiceOf = (preset: OptionDescriptor & { kind: 'preset' }): number =>
  ownPresets.value.has(preset.id) ? -1 : (presetOf(preset, props.values) ?? -1)
const hiddenByPreset = computed(
  () =>
    new Set(
      props.options.flatMap((option) =>
        option.kind === 'preset' && choiceOf(option) >= 0 ? setBy(option) : [],
      ),
    ),
)
const shown = computed(() =>
  props.options.filter((option) => applies(option, props.values) && !hiddenByPreset.value.has(option.id)),
)
const isTick = (option: OptionDescriptor): option is ValueOption & { kind: 'boolean' } =>
  option.kind === 'boolean'
const at = (
  place: OptionPlace,
): { lines: OptionDescriptor[]; ticks: (ValueOption & { kind: 'boolean' })[] } => {
  const here = shown.value.filter((option) => props.plain || (option.place ?? 'how') === place)
  return { lines: here.filter((option) => !isTick(option)), ticks: here.filter(isTick) }
}
const what = computed(() => (props.plain ? { lines: [], ticks: [] } : at('what')))
const how = computed(() => at('how'))
const seldom = computed(() => (props.plain ? { lines: [], ticks: [] } : at('seldom')))
const summary = computed(() => summaryOf(props.options, props.values, props.own))
/** Where something seldom has been set, it is not hidden. */
const seldomSet = computed(() =>
  props.options.some(
    (option) =>
      hasValue(option) &&
      option.place === 'seldom' &&
      (props.values[option.id] ?? null) !== (option.suggested ?? option.default),
  ),
)

const set = (id: string, value: OptionValue): void => emit('set', { [id]: value })
/** A tick that says nothing of its own is null when it is off. */
const setTick = (option: ValueOption, on: boolean): void =>
  set(option.id, option.default === null && !on ? null : on)
function choosePreset(preset: OptionDescriptor & { kind: 'preset' }, choice: number): void {
  const own = new Set(ownPresets.value)
  if (choice < 0) own.add(preset.id)
  else own.delete(preset.id)
  ownPresets.value = own
  if (choice >= 0) emit('set', preset.choices[choice]!.sets)
}
const presetChoices = (preset: OptionDescriptor & { kind: 'preset' }): { value: number; label: string }[] => [
  ...preset.choices.map(({ title }, index) => ({ value: index, label: title })),
  { value: -1, label: preset.otherwise },
]
const unitOf = (option: OptionDescriptor): string | undefined =>
  option.unit === 'file unit' ? props.fileUnit : option.unit
</script>

<template>
  <div class="options" :class="{ two }">
    <div v-if="what.ticks.length" class="ticks">
      <el-checkbox
        v-for="option in what.ticks"
        :key="option.id"
        :model-value="Boolean(values[option.id])"
        size="small"
        @update:model-value="(on: unknown) => setTick(option, Boolean(on))"
        >{{ option.title }}</el-checkbox
      >
    </div>
    <slot name="beside"></slot>
    <component :is="folded ? 'details' : 'div'" class="how">
      <summary v-if="folded" class="fold">
        <span>{{ summary }}</span>
      </summary>
      <div class="lines">
        <template v-for="option in how.lines" :key="option.id">
          <ChoiceField
            v-if="option.kind === 'preset'"
            :label="option.title"
            :value="choiceOf(option)"
            :choices="presetChoices(option)"
            :name="option.spoken"
            @choose="(choice: number) => choosePreset(option, choice)"
          />
          <OptionField
            v-else
            :option="option"
            :value="values[option.id] ?? null"
            :unit="unitOf(option)"
            @set="(value: OptionValue) => set(option.id, value)"
          />
        </template>
        <div v-if="how.ticks.length" class="ticks">
          <el-checkbox
            v-for="option in how.ticks"
            :key="option.id"
            :model-value="Boolean(values[option.id])"
            size="small"
            @update:model-value="(on: unknown) => setTick(option, Boolean(on))"
            >{{ option.title }}</el-checkbox
          >
        </div>
      </div>
      <details
        v-if="seldom.lines.length || seldom.ticks.length"
        :key="String(seldomSet)"
        class="seldom"
        :open="seldomSet || undefined"
      >
        <summary class="fold"><span>Seldom needed</span></summary>
        <div class="lines">
          <template v-for="option in seldom.lines" :key="option.id">
            <OptionField
              v-if="option.kind !== 'preset'"
              :option="option"
              :value="values[option.id] ?? null"
              :unit="unitOf(option)"
              @set="(value: OptionValue) => set(option.id, value)"
            />
          </template>
          <div v-if="seldom.ticks.length" class="ticks">
            <el-checkbox
              v-for="option in seldom.ticks"
              :key="option.id"
              :model-value="Boolean(values[option.id])"
              size="small"
              @update:model-value="(on: unknown) => setTick(option, Boolean(on))"
              >{{ option.title }}</el-checkbox
            >
          </div>
        </div>
      </details>
    </component>
  </div>
</template>

<style scoped>
.options,
.lines {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 5px;
  align-items: start;
}
.two .lines {
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 8px 18px;
}
.two .lines > .ticks {
  grid-column: 1 / -1;
}
.fold {
  display: flex;
  gap: 8px;
  margin-top: 6px;
  cursor: pointer;
  color: var(--ink-soft);
  line-height: 1.45;
}
.fold::before {
  content: '+';
  font-weight: 600;
  color: var(--accent);
  width: 10px;
  flex: none;
}
details[open] > .fold::before {
  content: '−';
}
details[open] > .fold {
  margin-bottom: 6px;
}
.ticks {
  display: grid;
  grid-template-columns: minmax(0, 1.15fr) minmax(0, 1fr);
}
.ticks :deep(.el-checkbox) {
  margin: 0;
}
.ticks :deep(.el-checkbox__label) {
  padding-left: 6px;
}
</style>
