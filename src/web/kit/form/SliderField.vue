<script setup lang="ts">
/** A line of a form: a word, and a number on a slider. */
const props = defineProps<{
  label: string
  value: number
  min: number
  max: number
  step: number
  /** Shown as a share of a hundred. */
  percent?: boolean
}>()
const emit = defineEmits<{ choose: [value: number] }>()
const shown = (value: number): string => (props.percent ? `${(value * 100).toFixed(1)} %` : String(value))
</script>

<template>
  <label class="form-line slider">
    {{ label }}
    <span class="both">
      <el-slider
        :model-value="value"
        :min="min"
        :max="max"
        :step="step"
        :format-tooltip="shown"
        :aria-label="label"
        @update:model-value="(chosen: unknown) => emit('choose', Number(chosen))"
      />
      <span class="figure">{{ shown(value) }}</span>
    </span>
  </label>
</template>

<style scoped>
.both {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 60px;
  gap: 16px;
  align-items: center;
}
</style>
