<script setup lang="ts">
/** A line of a form: a word, and a number; null where there is none. */
const props = defineProps<{
  label: string
  value: number | null
  /** What it is called for those who listen, where the word alone is too short. */
  name?: string
  placeholder?: string
  min?: number
  max?: number
  /** Only whole numbers. */
  whole?: boolean
  /** What it is measured in. */
  unit?: string
}>()
const emit = defineEmits<{ choose: [value: number | null] }>()
const choose = (value: number | undefined | null): void =>
  emit('choose', value === undefined || value === null ? null : props.whole ? Math.round(value) : value)
</script>

<template>
  <label class="form-line number">
    {{ label }}
    <el-input-number
      :model-value="value ?? undefined"
      size="small"
      :controls="false"
      :min="min"
      :max="max"
      :placeholder="placeholder"
      :aria-label="name ?? label"
      @update:model-value="choose"
    >
      <template v-if="unit" #suffix>{{ unit }}</template>
    </el-input-number>
  </label>
</template>

<style scoped>
.number :deep(.el-input-number) {
  width: 100%;
}
/* as tall and as far in as a choice */
.number :deep(.el-input__wrapper) {
  padding: 0 7px;
  height: 24px;
}
.number :deep(.el-input__inner) {
  text-align: left;
}
</style>
