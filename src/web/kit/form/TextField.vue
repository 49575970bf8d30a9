<script setup lang="ts">
/** A line of a form: a word, and a text; told at each letter. */
defineProps<{
  label: string
  value: string
  most: number
  placeholder?: string
  /** What it is called for those who listen, where the word alone is too short. */
  name?: string
}>()
const emit = defineEmits<{ choose: [value: string] }>()
</script>

<template>
  <label class="form-line">
    {{ label }}
    <el-input
      :model-value="value"
      size="small"
      :maxlength="most"
      :placeholder="placeholder"
      :aria-label="name ?? label"
      @update:model-value="(text: string) => emit('choose', text)"
    />
  </label>
</template>
