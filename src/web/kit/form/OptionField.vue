<script setup lang="ts">
import { computed } from 'vue'
import type { OptionValue, ValueOption } from '../../../core/base/options/option.ts'
import ChoiceField from './ChoiceField.vue'
import NumberField from './NumberField.vue'
import SliderField from './SliderField.vue'
import TextField from './TextField.vue'
import { titleOf } from './options.ts'

/** One option's line, made from its descriptor; ticks are drawn by the form itself. */
const props = defineProps<{ option: ValueOption; value: OptionValue; unit?: string; disabled?: boolean }>()
const emit = defineEmits<{ set: [value: OptionValue] }>()

/** What stands for none of the choices in a list, whose entries have to have a value. */
const NO_CHOICE = '(none)'
const choices = computed(() => {
  const { option, value } = props
  if (option.kind === 'choice')
    return [
      ...(option.default === null ? [{ value: NO_CHOICE, label: option.none ?? 'none' }] : []),
      ...option.choices.map((choice) => ({ value: choice.value, label: choice.title })),
    ]
  if (option.kind !== 'number' || !option.usual) return null
  const usual: { value: string | number; label: string }[] = option.usual.map((entry) => ({
    value: entry.value,
    label: entry.title,
  }))
  const isOwn = typeof value === 'number' && !option.usual.some((entry) => entry.value === value)
  return [
    ...(option.default === null ? [{ value: NO_CHOICE, label: option.none ?? 'none' }] : []),
    ...usual,
    ...(isOwn ? [{ value, label: titleOf(option, value) }] : []),
  ]
})
const chosen = computed(() => (typeof props.value === 'boolean' ? NO_CHOICE : (props.value ?? NO_CHOICE)))
const numeric = computed(() => (typeof props.value === 'number' ? props.value : null))
/** A field that is left empty is what the option is without a word. */
const orDefault = (value: OptionValue): OptionValue => value ?? props.option.default
</script>

<template>
  <ChoiceField
    v-if="choices"
    :label="option.title"
    :value="chosen"
    :choices="choices"
    :name="option.spoken"
    :disabled="disabled"
    @choose="(next: string | number) => emit('set', next === NO_CHOICE ? null : next)"
  />
  <SliderField
    v-else-if="option.kind === 'number' && option.step !== undefined"
    :label="option.title"
    :value="Number(value)"
    :min="option.min"
    :max="option.max"
    :step="option.step"
    :percent="option.percent"
    @choose="(chosen: number) => emit('set', chosen)"
  />
  <NumberField
    v-else-if="option.kind === 'number'"
    :label="option.title"
    :value="numeric"
    :min="option.min"
    :max="option.max"
    :whole="option.whole"
    :name="option.spoken"
    :placeholder="option.default === null ? (option.none ?? 'by itself') : String(option.default)"
    :unit="unit ?? option.unit"
    @choose="(chosen: number | null) => emit('set', orDefault(chosen))"
  />
  <TextField
    v-else-if="option.kind === 'text'"
    :label="option.title"
    :value="String(value ?? '')"
    :most="option.most"
    :placeholder="option.none"
    :name="option.spoken"
    @choose="(chosen: string) => emit('set', chosen)"
  />
</template>
