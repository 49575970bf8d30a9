<script setup lang="ts" generic="Value extends string | number">
/** A line of a form: a word, and a choice among a few. */
defineProps<{
  label: string
  value: Value
  choices: readonly { readonly value: Value; readonly label: string }[]
  /** What it is called for those who listen, where the word alone is too short. */
  name?: string
  disabled?: boolean
}>()
const emit = defineEmits<{ choose: [value: Value] }>()
</script>

<template>
  <label class="form-line">
    {{ label }}
    <el-select
      :model-value="value"
      :persistent="false"
      size="small"
      :aria-label="name ?? label"
      :disabled="disabled || undefined"
      @update:model-value="(chosen: Value) => emit('choose', chosen)"
    >
      <el-option v-for="choice in choices" :key="choice.value" :label="choice.label" :value="choice.value" />
    </el-select>
  </label>
</template>
