<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import {
  applies,
  hasValue,
  presetOf,
  type OptionDescriptor,
  type OptionPlace,
  type OptionValue,
  type OptionValues,
} from '../../../core/base/options/option.ts'
import OptionLines from './OptionLines.vue'
import OptionTicks from './OptionTicks.vue'
import { isTick, setBy, summaryOf, type Preset } from './options.ts'

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
const set = (id: string, value: OptionValue): void => emit('set', { [id]: value })

/** Presets whose options the artist sets one by one, though they may happen to be a usual choice. */
const ownPresets = ref<ReadonlySet<string>>(new Set())
const choiceOf = (preset: Preset): number =>
  ownPresets.value.has(preset.id) ? -1 : (presetOf(preset, props.values) ?? -1)
function choosePreset(preset: Preset, choice: number): void {
  const own = new Set(ownPresets.value)
  if (choice < 0) own.add(preset.id)
  else own.delete(preset.id)
  ownPresets.value = own
  if (choice >= 0) emit('set', preset.choices[choice]!.sets)
}
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
const at = (place: OptionPlace) => {
  const here = shown.value.filter((option) => (props.plain ? 'how' : (option.place ?? 'how')) === place)
  return { lines: here.filter((option) => !isTick(option)), ticks: here.filter(isTick) }
}
const what = computed(() => at('what'))
const how = computed(() => at('how'))
const seldom = computed(() => at('seldom'))
const summary = computed(() => summaryOf(props.options, props.values, props.own))

/** Where something seldom has been set, it is not hidden; once it is open, only the artist closes it. */
const seldomOpen = ref(false)
const seldomSet = computed(() =>
  props.options.some(
    (option) =>
      hasValue(option) &&
      option.place === 'seldom' &&
      (props.values[option.id] ?? null) !== (option.suggested ?? option.default),
  ),
)
watch(seldomSet, (isSet) => isSet && (seldomOpen.value = true), { immediate: true })
</script>

<template>
  <div class="options" :class="{ two }">
    <OptionTicks :options="what.ticks" :values="values" @set="set" />
    <slot name="beside"></slot>
    <component :is="folded ? 'details' : 'div'">
      <summary v-if="folded" class="fold">
        <span>{{ summary }}</span>
      </summary>
      <OptionLines
        v-bind="how"
        :values="values"
        :choice-of="choiceOf"
        :file-unit="fileUnit"
        @set="set"
        @preset="choosePreset"
      />
      <details
        v-if="seldom.lines.length || seldom.ticks.length"
        :open="seldomOpen || undefined"
        @toggle="seldomOpen = ($event.target as HTMLDetailsElement).open"
      >
        <summary class="fold"><span>Seldom needed</span></summary>
        <OptionLines
          v-bind="seldom"
          :values="values"
          :choice-of="choiceOf"
          :file-unit="fileUnit"
          @set="set"
          @preset="choosePreset"
        />
      </details>
    </component>
  </div>
</template>

<style scoped>
.options {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 5px;
  align-items: start;
}
.two :deep(.lines) {
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 8px 18px;
}
.two :deep(.lines > .ticks) {
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
</style>
