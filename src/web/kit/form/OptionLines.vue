<script setup lang="ts">
import type {
  OptionDescriptor,
  OptionValue,
  OptionValues,
  ValueOption,
} from '../../../core/base/options/option.ts'
import ChoiceField from './ChoiceField.vue'
import OptionField from './OptionField.vue'
import OptionTicks from './OptionTicks.vue'
import type { Preset } from './options.ts'

/** Options of one place of a form: a line each, and the ticks below. */
const props = defineProps<{
  lines: readonly OptionDescriptor[]
  ticks: readonly ValueOption[]
  values: OptionValues
  /** Which choice a preset shows; -1 for none of its own. */
  choiceOf: (preset: Preset) => number
  /** What measures in the file's own unit are measured in. */
  fileUnit?: string
}>()
const emit = defineEmits<{
  set: [id: string, value: OptionValue]
  preset: [preset: Preset, choice: number]
}>()
const presetChoices = ({ choices, otherwise }: Preset): { value: number; label: string }[] => [
  ...choices.map(({ title }, index) => ({ value: index, label: title })),
  { value: -1, label: otherwise },
]
const unitOf = (option: OptionDescriptor): string | undefined =>
  option.unit === 'file unit' ? props.fileUnit : option.unit
</script>

<template>
  <div class="lines">
    <template v-for="option in lines" :key="option.id">
      <ChoiceField
        v-if="option.kind === 'preset'"
        :label="option.title"
        :value="choiceOf(option)"
        :choices="presetChoices(option)"
        :name="option.spoken"
        @choose="(choice: number) => emit('preset', option, choice)"
      />
      <OptionField
        v-else
        :option="option"
        :value="values[option.id] ?? null"
        :unit="unitOf(option)"
        @set="(value: OptionValue) => emit('set', option.id, value)"
      />
    </template>
    <OptionTicks :options="ticks" :values="values" @set="(id, value) => emit('set', id, value)" />
  </div>
</template>

<style scoped>
.lines {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 5px;
  align-items: start;
}
</style>
